"""A vehicle by itself: what it does on a level road, and how it is found from what is known."""
