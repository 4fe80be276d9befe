"""Conditions along the road and along a session."""
