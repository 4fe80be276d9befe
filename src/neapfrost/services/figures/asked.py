"""Figures of what is asked for at a corner, and of what is uncertain."""

from neapfrost.services.figures.figure import Figure, of_part

ORDER_FIGURES: tuple[Figure, ...] = (
    of_part("order", "gear", "Gear", "", (0, 1, 1), "The gear the corner is left in"),
    of_part(
        "order",
        "braking",
        "Braking effort",
        "%",
        (0, 5, 1),
        "Share of the possible braking on the way to the corner",
        quantity="percent",
    ),
    of_part(
        "order",
        "entry_exponent",
        "Braking into the corner",
        "exponent",
        (2, 0.1, 0.02),
        "How braking and turning share the grip here",
    ),
    of_part(
        "order",
        "grip_factor",
        "Grip here",
        "%",
        (0, 5, 1),
        "Multiplies the surface's grip",
        quantity="percent",
    ),
    of_part(
        "order",
        "driven_radius_m",
        "Driven radius",
        "m",
        (1, 1, 0.1),
        "Another radius than the sheet has",
        quantity="length",
    ),
)

UNCERTAIN_FIGURES: tuple[Figure, ...] = (
    of_part(
        "uncertainty", "grip_pct", "Grip, the whole lap", "%", (1, 1, 0.1), "Common to the lap"
    ),
    of_part(
        "uncertainty",
        "downforce_pct",
        "Downforce, the whole lap",
        "%",
        (1, 1, 0.1),
        "Common to the lap",
    ),
    of_part(
        "uncertainty", "power_pct", "Power, the whole lap", "%", (1, 1, 0.1), "Common to the lap"
    ),
    of_part(
        "uncertainty",
        "wind_ms",
        "Wind, from any side",
        "m/s",
        (1, 0.5, 0.1),
        "Common to the lap",
        quantity="wind",
    ),
    of_part(
        "uncertainty",
        "radius_pct",
        "Driven radius, each corner",
        "%",
        (1, 1, 0.1),
        "Each corner's its own",
    ),
    of_part(
        "uncertainty", "laps", "Laps in the batch", "", (0, 50, 1), "More know the band better"
    ),
    of_part(
        "uncertainty", "seed", "Seed of the draw", "", (0, 1, 1), "The same draws the same laps"
    ),
)
