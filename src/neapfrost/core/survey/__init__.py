"""A circuit as it is measured: radii from what can be seen, and rings that are made to close."""
