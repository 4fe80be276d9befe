"""From a plan to its lap, and the same with figures changed."""
