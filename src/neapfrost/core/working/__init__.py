"""The arithmetic behind each figure, from the solver's own intermediate results."""
