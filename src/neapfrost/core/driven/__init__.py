"""Laps as they were driven: found in a log, laid along the path, measured, held against a plan."""
