"""Studies of many laps: under way, as tables, as pictures, and driven alone."""
