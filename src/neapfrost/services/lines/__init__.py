"""Lines searched for and drawn."""
