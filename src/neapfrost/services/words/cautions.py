"""What stands on every sheet that may be taken to a vehicle."""

CAUTIONS = (
    "These are computed figures: the best a model can do, not a promise. Begin with the first-lap "
    "points and go on only when the lap before was easy.",
    "The circuit's rules, its marshals and flags, scrutineers, licensed instructors and the "
    "maker's limits come first. On public roads none of this applies.",
)
