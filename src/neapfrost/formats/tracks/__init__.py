"""Tracks and centrelines as files: read to local metres, and written from a road."""
