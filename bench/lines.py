"""Lines on a 5 km road and a million points made into one, in seconds and as ratios."""

import time
from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

import numpy as np

from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solve
from neapfrost.core.line.corridor import Corridor, corridor
from neapfrost.core.line.driven import driven_circuit, driven_line
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.shapes import widest_arcs
from neapfrost.core.measured.segments import fit_segments
from neapfrost.core.measured.smoothing import smooth_line
from neapfrost.core.measured.track import (
    find_laps,
    refuse_bad_track,
    taken_together,
    without_repeats,
)
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Straight
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan_records import (
    circuit_record,
    conditions_record,
    driver_record,
    vehicle_record,
)
from neapfrost.formats.tracks.read_file import read_points

WIDTH_M = 11.0
POINTS = 1_000_000

T = TypeVar("T")


def timed_s(task: Callable[[], T]) -> tuple[float, T]:
    """Seconds that a task takes, and what it gives."""
    begun = time.perf_counter()
    given = task()
    return time.perf_counter() - begun, given


def five_kilometres() -> Circuit:
    """The demo's flowing circuit with its straights made so long that it has 5 km."""
    plan = demo_plan("garganey-dry")
    assert plan is not None
    circuit = circuit_record(plan.document.circuit)
    straights = sum(s.length_m for s in circuit.segments if isinstance(s, Straight))
    more = 1.0 + (5000.0 - plan.length_m) / straights
    return replace(
        circuit,
        segments=tuple(
            replace(s, length_m=more * s.length_m) if isinstance(s, Straight) else s
            for s in circuit.segments
        ),
        elevation=(),
        sectors_at_m=(),
    )


def line_rows() -> list[tuple[str, str, str]]:
    """Rows of the report: what, seconds, against one lap of the lap solver."""
    plan = demo_plan("garganey-dry")
    assert plan is not None
    circuit = five_kilometres()
    vehicle = vehicle_record(plan.document.car)
    conditions = conditions_record(plan.document.conditions)
    driver = driver_record(plan.document.driver)
    road = build_path(circuit, 3.0)
    half = np.full(len(road.s_m), 0.5 * WIDTH_M)
    field: Corridor = corridor(road, half, half, 1.94)
    widest_s, widest = timed_s(lambda: widest_arcs(field))
    line = driven_line(field, widest)
    path = build_path(driven_circuit(circuit, line, road))
    solve(Drive(path, vehicle, conditions, driver))
    lap_s, lap = timed_s(lambda: solve(Drive(path, vehicle, conditions, driver)))
    speed = 0.97 * np.interp(line.at_m, lap.s_m, lap.v_ms)
    fastest_s, found = timed_s(
        lambda: fastest_line(Task(field, vehicle, conditions, driver), Fastest(widest, speed))
    )
    best = driven_line(field, found.shape)
    best_lap = solve(
        Drive(build_path(driven_circuit(circuit, best, road)), vehicle, conditions, driver)
    )
    gain = 100.0 * (1.0 - best_lap.lap_time_s / lap.lap_time_s)
    return [
        ("Widest arcs on a 5 km road", f"{widest_s:.2f} s", f"{widest_s / lap_s:.0f} laps"),
        (
            f"Fastest line on it ({gain:.1f} % quicker than the widest arcs)",
            f"{fastest_s:.1f} s",
            f"{fastest_s / lap_s:.0f} laps",
        ),
    ]


def import_rows() -> list[tuple[str, str, str]]:
    """Rows of the report: a million points of text read, laid over laps, smoothed and fitted."""
    plan = demo_plan("garganey-dry")
    assert plan is not None
    road = build_path(circuit_record(plan.document.circuit), 1.0)
    at = np.linspace(0.0, 200.0 * road.length_m, POINTS) % road.length_m
    share = road.s_m / road.length_m
    draw = np.random.default_rng(1)
    x = np.interp(at, road.s_m, road.x_m - share * road.x_m[-1]) + draw.normal(0, 0.5, POINTS)
    y = np.interp(at, road.s_m, road.y_m - share * road.y_m[-1]) + draw.normal(0, 0.5, POINTS)
    rows = "\n".join(f"{a:.2f},{b:.2f}" for a, b in zip(x.tolist(), y.tolist(), strict=True))
    data = f"x,y\n{rows}\n".encode()
    read_s, read = timed_s(lambda: read_points(data)[0])

    def laid() -> object:
        track, _ = without_repeats(read.track)
        refuse_bad_track(track)
        track = taken_together(track)
        laps = find_laps(track)
        line, _ = smooth_line(track.x_m, track.y_m, laps.at_m, laps.length_m, laps.closed, None)
        return fit_segments(line, track.x_m, track.y_m)

    fit_s, _ = timed_s(laid)
    size = len(data) / 2**20
    return [
        (f"A million points of text ({size:.0f} MB) read", f"{read_s:.1f} s", ""),
        ("… laid over 200 laps, smoothed, fitted", f"{fit_s:.1f} s", ""),
    ]


if __name__ == "__main__":
    for row in (*line_rows(), *import_rows()):
        print(*row, sep=" | ")
