"""A predicted lap as a table in the terminal."""

from rich.console import Console
from rich.table import Table

from neapfrost.core.units import KMH_PER_MS
from neapfrost.formats.result import CornerResultPart, ResultDocument
from neapfrost.services.words.corners import corner_words
from neapfrost.services.words.lap import lap_time
from neapfrost.services.words.saying import Saying


def print_result(console: Console, result: ResultDocument) -> None:
    """Print lap time, corner table and warnings."""
    console.print(
        f"[bold]{lap_time(result.lap_time_s)}[/bold]  {result.plan_name}  "
        f"({result.length_m:.0f} m, top {result.top_speed_ms * KMH_PER_MS:.0f} km/h, full throttle "
        f"{result.full_throttle_pct:.0f} %)"
    )
    if result.sector_times_s:
        console.print("Sectors " + "  ".join(lap_time(time) for time in result.sector_times_s))
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
        corner_words(corner, Saying()).label,
        distance,
        gear,
        f"{corner.turn_in_speed_ms * KMH_PER_MS:.0f}",
        f"{corner.min_speed_ms * KMH_PER_MS:.1f}",
        throttle,
        f"{corner.exit_speed_ms * KMH_PER_MS:.0f}",
    ]
