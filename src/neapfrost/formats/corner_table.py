"""The corner table as text: one row a corner, for a spreadsheet or another program."""

from neapfrost.core.units import Units, shown, unit_of
from neapfrost.formats.escaping import sheet_text
from neapfrost.formats.result import CornerResultPart, ResultDocument


def corner_table_text(result: ResultDocument, units: Units = "metric", separator: str = ",") -> str:
    """Rows of a result's corners under a heading that names each column's unit.

    Speeds are in km/h or mph, lengths in m, ft or yd. What has no meaning at a corner is empty.
    """
    length, speed = unit_of("length", units), unit_of("speed", units)
    heading = [
        "number",
        "corner",
        "turn",
        "action",
        "reference",
        f"braking point ({length} from reference)",
        "side of reference",
        f"braking point ({length} before corner)",
        f"braking distance ({length})",
        "peak deceleration (g)",
        "gear before",
        "gear",
        f"turn-in ({speed})",
        f"minimum speed ({speed})",
        f"minimum at ({length} from the line)",
        f"throttle ({length} after the minimum)",
        f"full throttle ({length} after the minimum)",
        f"exit speed ({speed})",
        "time in corner (s)",
    ]
    rows = [
        _row(number, corner, result.length_m, units)
        for number, corner in enumerate(result.corners, start=1)
    ]
    return sheet_text([heading, *rows], separator)


def _row(number: int, corner: CornerResultPart, lap_m: float, units: Units) -> list[str]:
    call = corner.board_call

    def metres(value: float | None) -> str:
        return "" if value is None else f"{shown(value, 'length', units):.1f}"

    def speed(value: float) -> str:
        return f"{shown(value, 'speed', units):.1f}"

    def after_low(at_m: float | None) -> str:
        return "" if at_m is None else metres((at_m - corner.min_speed_at_m) % lap_m)

    return [
        f"{number}",
        corner.name,
        corner.direction,
        corner.action,
        "" if call is None else call.label,
        "" if call is None else metres(call.metres),
        "" if call is None else call.side,
        metres(corner.brake_start_to_corner_m),
        metres(corner.braking_distance_m),
        "" if corner.peak_decel_g is None else f"{corner.peak_decel_g:.2f}",
        f"{corner.gear_before}",
        f"{corner.gear}",
        speed(corner.turn_in_speed_ms),
        speed(corner.min_speed_ms),
        metres(corner.min_speed_at_m),
        after_low(corner.throttle_at_m),
        after_low(corner.full_throttle_at_m),
        speed(corner.exit_speed_ms),
        f"{corner.time_in_corner_s:.3f}",
    ]
