"""The calls at a corner: every alternative driven as a lap of its own, and priced."""
