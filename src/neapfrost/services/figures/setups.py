"""Figures of a car's setups and of what they choose from: wing steps, gear sets, compounds."""

from neapfrost.services.figures.figure import Figure, Unstated, of_part

SETUP_FIGURES: tuple[Figure, ...] = (
    of_part(
        "setup",
        "brake_front_fraction",
        "Brake bias (front)",
        "of 1",
        (3, 0.005, 0.001),
        "Overrides the share on the sheet",
        unstated=Unstated("as on the sheet", 0.6),
    ),
    of_part(
        "setup",
        "fuel_kg",
        "Fuel",
        "kg",
        (1, 1, 0.2),
        "Overrides the fuel of the plan",
        unstated=Unstated("as the plan", 30.0),
    ),
    of_part("setup", "ballast_kg", "Ballast", "kg", (1, 1, 0.2), "Counts like any other mass"),
    of_part(
        "setup",
        "ballast_front_fraction",
        "Ballast on the front",
        "of 1",
        (2, 0.05, 0.01),
        "Moves the weight distribution",
    ),
)

WING_FIGURES: tuple[Figure, ...] = (
    of_part("wing", "lift_area_m2", "Downforce", "m² ClA", (3, 0.05, 0.01), "Of the whole vehicle"),
    of_part("wing", "drag_area_m2", "Drag", "m² CdA", (3, 0.01, 0.002), "Of the whole vehicle"),
    of_part(
        "wing", "front_fraction", "Aero balance (front)", "of 1", (3, 0.005, 0.001), "Its balance"
    ),
)

GEAR_SET_FIGURES: tuple[Figure, ...] = (
    of_part("gear_set", "final_drive", "Final drive", "to 1", (3, 0.05, 0.01), "Of all its gears"),
)

COMPOUND_FIGURES: tuple[Figure, ...] = (
    of_part(
        "compound",
        "grip_factor",
        "Grip",
        "times μ",
        (3, 0.01, 0.002),
        "Relative to the stated grip",
    ),
    of_part(
        "compound",
        "fade_pct",
        "Degradation",
        "% a lap",
        (2, 0.05, 0.01),
        "Grip lost per lap once warm",
    ),
    of_part(
        "compound",
        "window_low_c",
        "Window from",
        "°C",
        (0, 1, 1),
        "Coldest track with full grip",
        quantity="temperature",
    ),
    of_part(
        "compound",
        "window_high_c",
        "Window to",
        "°C",
        (0, 1, 1),
        "Warmest track with full grip",
        quantity="temperature",
    ),
    of_part(
        "compound",
        "off_window_pct",
        "Loses outside the window",
        "% for 10 °C",
        (1, 0.5, 0.1),
        "Grip lost outside the window",
    ),
    of_part(
        "compound",
        "fade_pct_per_mj",
        "Degradation by work",
        "% a MJ",
        (3, 0.05, 0.01),
        "Grip lost per MJ of sliding energy, on top of the loss per lap",
    ),
    of_part(
        "compound",
        "life_laps",
        "Life",
        "laps",
        (0, 1, 1),
        "Maximum laps on a set",
        unstated=Unstated("until worn out", 40.0),
    ),
)
