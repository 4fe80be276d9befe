"""What water does to the grip of a tyre."""

#: Assumed grip of a dry tyre against wetness [%], until a tyre brings a curve of its own.
DRY_TYRE_WETNESS_CURVE: tuple[tuple[float, float], ...] = (
    (0.0, 1.00),
    (20.0, 0.88),
    (50.0, 0.70),
    (100.0, 0.55),
)


def wetness_grip(
    wetness_pct: float, curve: tuple[tuple[float, float], ...] = DRY_TYRE_WETNESS_CURVE
) -> float:
    """Grip factor at a wetness [%], linear between the points of the tyre's curve."""
    previous_wetness, previous_grip = curve[0]
    for wetness, grip in curve:
        if wetness_pct <= wetness:
            if wetness == previous_wetness:
                return grip
            share = (wetness_pct - previous_wetness) / (wetness - previous_wetness)
            return previous_grip + share * (grip - previous_grip)
        previous_wetness, previous_grip = wetness, grip
    return previous_grip
