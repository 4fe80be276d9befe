"""A predicted lap as a table in the terminal."""

from rich.console import Console
from rich.table import Table

from neapfrost.formats.result import CornerResultPart, ResultDocument

KMH = 3.6


def lap_time_text(seconds: float) -> str:
    """m:ss.mmm."""
    thousandths = round(seconds * 1000)
    minutes, rest = divmod(thousandths, 60_000)
    return f"{minutes}:{rest // 1000:02d}.{rest % 1000:03d}"


def print_result(console: Console, result: ResultDocument) -> None:
    """Print lap time, corner table and warnings."""
    console.print(
        f"[bold]{lap_time_text(result.lap_time_s)}[/bold]  {result.plan_name}  "
        f"({result.length_m:.0f} m, top {result.top_speed_ms * KMH:.0f} km/h, full throttle "
        f"{result.full_throttle_pct:.0f} %)"
    )
    if result.sector_times_s:
        console.print("Sectors " + "  ".join(lap_time_text(time) for time in result.sector_times_s))
    table = Table(box=None, pad_edge=False, header_style="bold")
    table.add_column("Corner")
    table.add_column("Turn")
    table.add_column("Braking point")
    for heading in ("Distance", "Gear", "Turn-in", "Minimum", "Throttle", "Exit"):
        table.add_column(heading, justify="right")
    for corner in result.corners:
        table.add_row(*_row(corner))
    console.print(table)
    for warning in result.warnings:
        console.print(f"[yellow]Note:[/yellow] {warning}")


def braking_point_text(corner: CornerResultPart) -> str:
    """Where to brake, by what stands there, else by metres before the corner."""
    if corner.action == "brake" and corner.brake_start_at_m is not None:
        call = corner.board_call
        if call is not None:
            return f"{call.metres:.0f} m {call.side} {call.label}"
        ahead = corner.brake_start_to_corner_m or 0.0
        return f"{ahead:.0f} m before corner" if ahead >= 0 else f"{-ahead:.0f} m into corner"
    return {"flat": "flat", "lift": "lift", "through": "still braking"}[corner.action]


def _row(corner: CornerResultPart) -> list[str]:
    distance = "" if corner.braking_distance_m is None else f"{corner.braking_distance_m:.0f} m"
    gear = f"{corner.gear}"
    if corner.gear != corner.gear_before:
        gear = f"{corner.gear_before}→{corner.gear}"
    throttle = ""
    if corner.throttle_at_m is not None:
        throttle = f"{max(corner.throttle_at_m - corner.min_speed_at_m, 0.0):.0f} m"
    return [
        corner.name,
        corner.direction,
        braking_point_text(corner),
        distance,
        gear,
        f"{corner.turn_in_speed_ms * KMH:.0f}",
        f"{corner.min_speed_ms * KMH:.1f}",
        throttle,
        f"{corner.exit_speed_ms * KMH:.0f}",
    ]
