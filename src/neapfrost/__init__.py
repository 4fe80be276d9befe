"""Neapfrost predicts a lap before anyone drives it."""

import os

from neapfrost import kernel_cache

__version__ = "0.1.0"

kernel_cache.choose_folder()

# Before numpy is first imported. The matrices here are small: sharing one among threads costs twice
# the processor time and gains nothing. What is many is parted among processes and kernels instead.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
