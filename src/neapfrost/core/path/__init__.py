"""From a circuit's segments or stations to the path that the solver drives."""
