"""Circuits from files."""
