"""A road with its edges, and the line that a plan drives on it."""
