"""Runs of the demo world: which plans were driven, by which seed of the simulated driver."""

#: The name of the plan, the name of the run, its seed, and whether positions were logged.
DEMO_RUNS: tuple[tuple[str, str, int, bool], ...] = (
    ("Kittiwake K4, Samphire Ring, fastest line", "Samphire, first session", 2, True),
    ("Kittiwake K4, dry, qualifying fuel", "Fen, morning", 4, True),
    ("Kittiwake K4, dry, qualifying fuel", "Fen, afternoon, without positions", 11, False),
)
