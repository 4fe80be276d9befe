"""What to trade for what: many laps that differ in a figure or two, weighed against each other."""
