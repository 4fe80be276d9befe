"""A simulated weather station: its days, its clock, and what it serves."""
