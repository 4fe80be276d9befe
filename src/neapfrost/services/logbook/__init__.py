"""Runs as they were driven: kept, and held against what was predicted."""
