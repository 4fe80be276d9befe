"""Figures of what is asked for at a corner, and of what is uncertain."""

from neapfrost.services.figures.figure import Figure, of_part

ORDER_FIGURES: tuple[Figure, ...] = (
    of_part("order", "gear", "Gear", "", (0, 1, 1), "Gear at the corner exit"),
    of_part(
        "order",
        "braking",
        "Braking effort",
        "%",
        (0, 5, 1),
        "Share of the possible braking into the corner",
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
        "Overrides the radius on the sheet",
        quantity="length",
    ),
)

UNCERTAIN_FIGURES: tuple[Figure, ...] = (
    of_part(
        "uncertainty",
        "grip_pct",
        "Grip, the whole lap",
        "%",
        (1, 1, 0.1),
        "The same for the whole lap",
    ),
    of_part(
        "uncertainty",
        "downforce_pct",
        "Downforce, the whole lap",
        "%",
        (1, 1, 0.1),
        "The same for the whole lap",
    ),
    of_part(
        "uncertainty",
        "power_pct",
        "Power, the whole lap",
        "%",
        (1, 1, 0.1),
        "The same for the whole lap",
    ),
    of_part(
        "uncertainty",
        "wind_ms",
        "Wind, any direction",
        "m/s",
        (1, 0.5, 0.1),
        "The same for the whole lap",
        quantity="wind",
    ),
    of_part(
        "uncertainty",
        "radius_pct",
        "Driven radius, each corner",
        "%",
        (1, 1, 0.1),
        "Independent for each corner",
    ),
    of_part(
        "uncertainty", "laps", "Number of laps", "", (0, 50, 1), "More laps give a steadier band"
    ),
    of_part(
        "uncertainty", "seed", "Random seed", "", (0, 1, 1), "The same seed gives the same laps"
    ),
)

FIRST_LAPS_FIGURES: tuple[Figure, ...] = tuple(
    of_part(
        "first_laps",
        field,
        label,
        "m",
        (0, 1, 1),
        "Braking earlier than planned, at least",
        quantity="length",
    )
    for field, label in (
        ("first_m", "Margin, first lap"),
        ("second_m", "Margin, second lap"),
        ("later_m", "Margin, later laps"),
    )
)
