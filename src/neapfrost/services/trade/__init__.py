"""What to trade for what: figures swept, two at once, and ranked by what a step is worth."""
