"""What all tests share."""

from hypothesis import settings

# Before anything imports numpy: the package says how many threads linear algebra may take.
import neapfrost  # noqa: F401

# The first example of a test may load compiled kernels from disk; nothing here is timed.
settings.register_profile("neapfrost", deadline=None, derandomize=True, max_examples=25)
settings.load_profile("neapfrost")
