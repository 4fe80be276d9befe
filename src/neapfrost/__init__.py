"""Neapfrost predicts a lap before anyone drives it."""

from neapfrost import kernel_cache

__version__ = "0.1.0"

kernel_cache.choose_folder()
