"""What all tests share."""

from hypothesis import settings

# The first example of a test may load compiled kernels from disk; nothing here is timed.
settings.register_profile("neapfrost", deadline=None, derandomize=True, max_examples=25)
settings.load_profile("neapfrost")
