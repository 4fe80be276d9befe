"""Figures of a circuit: of the whole, and of its straights and corners."""

from typing import Any

from neapfrost.core.units import KMH_PER_MS
from neapfrost.services.figures.figure import Figure, Unstated, of_part

TENTHS = (1, 1, 0.1)
LENGTH: dict[str, Any] = {"quantity": "length"}

SEGMENT_FIGURES: tuple[Figure, ...] = (
    of_part("straight", "length_m", "Length", "m", TENTHS, "Length of the straight", **LENGTH),
    of_part("corner", "radius_m", "Radius", "m", TENTHS, "Radius of the corner", **LENGTH),
    of_part("corner", "angle_deg", "Angle", "°", TENTHS, "Angle the corner turns through"),
    of_part(
        "corner",
        "end_radius_m",
        "Exit radius",
        "m",
        TENTHS,
        "Radius at the exit, if different",
        head="Exit R",
        unstated=Unstated("same", None),
        **LENGTH,
    ),
    of_part(
        "corner",
        "transition_m",
        "Transition",
        "m",
        TENTHS,
        "Length over which the curvature rises at the entry and falls at the exit",
        head="Ramp",
        **LENGTH,
    ),
    of_part(
        "corner",
        "end_transition_m",
        "Transition at the exit",
        "m",
        TENTHS,
        "Ramp at the exit, if different",
        head="out",
        unstated=Unstated("same", None),
        **LENGTH,
    ),
    of_part(
        "corner", "banking_deg", "Bank", "°", (1, 0.5, 0.1), "Positive where it helps the corner"
    ),
    of_part("segment", "grade_pct", "Grade", "%", (2, 0.1, 0.02), "Uphill positive"),
    of_part(
        "segment", "grip_factor", "Grip", "", (3, 0.01, 0.002), "Multiplies the tyres' grip here"
    ),
    of_part(
        "segment",
        "width_m",
        "Width",
        "m",
        (1, 0.5, 0.1),
        "Of the road here, if different",
        unstated=Unstated("same", None),
        **LENGTH,
    ),
)

UNCERTAINTY_FIGURES: tuple[Figure, ...] = (
    of_part(
        "straight",
        "length_uncertainty_pct",
        "Uncertainty of the length",
        "%",
        (1, 0.5, 0.1),
        "Standard deviation; 0 locks the length",
        head="Length ±",
        unstated=Unstated("3", 3.0),
    ),
    of_part(
        "corner",
        "radius_uncertainty_pct",
        "Uncertainty of the radius",
        "%",
        (1, 0.5, 0.1),
        "Standard deviation; 0 locks the radius",
        head="Radius ±",
        unstated=Unstated("10", 10.0),
    ),
    of_part(
        "corner",
        "angle_uncertainty_pct",
        "Uncertainty of the angle",
        "%",
        (1, 0.5, 0.1),
        "Standard deviation; 0 locks the angle",
        head="Angle ±",
        unstated=Unstated("5", 5.0),
    ),
    of_part(
        "segment",
        "grade_uncertainty_pct",
        "Uncertainty of the grade",
        "points",
        (1, 0.1, 0.1),
        "Standard deviation in percentage points; 0 locks the grade",
        head="Grade ±",
        unstated=Unstated("0.5", 0.5),
    ),
)

CIRCUIT_FIGURES: tuple[Figure, ...] = (
    of_part(
        "circuit",
        "north_deg",
        "Bearing at the start",
        "°",
        (1, 1, 0.1),
        "Compass bearing of the road at the line; sets the wind and the map",
    ),
    of_part(
        "circuit",
        "altitude_m",
        "Altitude",
        "m",
        (1, 10, 1),
        "Sets the air where the conditions state no pressure",
        **LENGTH,
    ),
    of_part(
        "circuit",
        "grade_blend_m",
        "Blend between grades",
        "m",
        (1, 5, 0.5),
        "Length over which the slope changes where two grades meet",
        **LENGTH,
    ),
    of_part(
        "circuit",
        "width_m",
        "Road width",
        "m",
        (1, 0.5, 0.05),
        "Edge to edge, for parts without a width of their own; the line is calculated within it",
        **LENGTH,
    ),
    of_part(
        "circuit",
        "pit_loss_s",
        "Pit loss",
        "s",
        (1, 1, 0.1),
        "From pit entry to exit against staying out, without the stationary time",
        unstated=Unstated("from the pit lane, or as measured", 20.0),
    ),
    of_part(
        "circuit",
        "pit_lane_m",
        "Pit-lane length",
        "m",
        (0, 10, 1),
        "Length at the speed limit; with the limit it gives the pit loss",
        unstated=Unstated("not stated", 350.0),
        **LENGTH,
    ),
    of_part(
        "circuit",
        "pit_limit_ms",
        "Pit speed limit",
        "m/s",
        (0, 5, 1),
        "Speed limit in the pit lane",
        unstated=Unstated("not stated", 60.0 / KMH_PER_MS),
        quantity="speed",
    ),
    of_part(
        "circuit",
        "start_speed_ms",
        "Start speed",
        "m/s",
        (1, 5, 0.5),
        "0 is a standing start",
        quantity="speed",
    ),
)
