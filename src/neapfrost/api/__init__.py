"""HTTP on this machine alone: typed routes over the use cases, and the built page."""
