"""A lap learned by heart: what is asked of a corner, how answers are held against it, and when."""
