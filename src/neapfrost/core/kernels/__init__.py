"""Compiled kernels of the lap solver: plain functions on records and arrays, nothing allocated."""
