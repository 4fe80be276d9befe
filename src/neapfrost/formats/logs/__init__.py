"""Loggers' files in the formats that are open: each read into one table of channels."""
