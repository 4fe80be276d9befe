"""A plan's lap learned by heart: asked, answered, driven in real time, and what is still unsure."""
