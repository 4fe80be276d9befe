"""A simulated driver in a simulated car, and what a logger's instruments make of it."""
