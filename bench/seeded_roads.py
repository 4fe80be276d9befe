"""The search for the fastest line on roads drawn by lot: did it settle, how long, who is quicker.

`python -m bench.seeded_roads` prints a table for docs/performance.md. Each road is searched by the
portfolio; beside it every single strategy runs on its own from the widest arcs and from the middle,
so that the best lap known for a road does not come from the search that is judged.
"""

import random
import time
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solve
from neapfrost.core.line.corridor import Corridor, EdgeKind, EdgeStretch, KerbUse, corridor
from neapfrost.core.line.driven import driven_circuit, driven_line
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.portfolio import START_SHARE, quickest_line
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.line.shapes import widest_arcs
from neapfrost.core.line.solver import LineImpossible, Strategy
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan_records import conditions_record, driver_record, vehicle_record

ROADS = 20
STEP_M = 2.5
VEHICLES = ("k4-dry", "garganey-dry", "sanderling-fen", "dunlin-heath")
JUDGES = (
    Strategy("steady", "monotone", 150, 40.0),
    Strategy("adaptive", "quality-function", 150, 40.0),
)


@dataclass(frozen=True)
class Drawn:
    """A road drawn by lot, what lies along it, its width [m], and what it is."""

    circuit: Circuit
    edges: tuple[EdgeStretch, ...]
    width_m: float
    said: str


def drawn_road(seed: int) -> Drawn:
    """An open course, 4 to 8 corners, 7 to 16 m wide: flat, hilly or banked, edges or not."""
    lot = random.Random(seed)
    kind = ("flat", "hilly", "banked", "hilly and banked")[seed % 4]
    grade = lot.uniform(4.0, 10.0) if "hilly" in kind else 0.0
    segments: list[Straight | Bend] = []
    for number in range(1, lot.randint(4, 8) + 1):
        segments.append(
            Straight(lot.uniform(60.0, 320.0), grade_pct=grade * lot.uniform(-1.0, 1.0))
        )
        segments.append(
            Bend(
                f"T{number}",
                lot.choice((1, -1)),
                lot.uniform(18.0, 140.0),
                lot.uniform(30.0, 130.0),
                transition_m=lot.choice((0.0, 12.0)),
                banking_deg=lot.uniform(-3.0, 9.0) if "banked" in kind else 0.0,
                grade_pct=grade * lot.uniform(-1.0, 1.0),
            )
        )
    segments.append(Straight(lot.uniform(80.0, 300.0)))
    circuit = Circuit(
        f"By lot {seed}",
        False,
        tuple(segments),
        start_speed_ms=lot.uniform(15.0, 40.0),
        grade_blend_m=60.0,
    )
    length = build_path(circuit, STEP_M).length_m
    edges = {
        0: (),
        1: (EdgeStretch(1, EdgeKind.KERB, 0.3 * length, 0.6 * length, 1.0, KerbUse.TAKE),),
        2: (EdgeStretch(-1, EdgeKind.DUST, 0.2 * length, 0.7 * length, 1.5, grip_factor=0.7),),
        3: (EdgeStretch(1, EdgeKind.WALL, 0.4 * length, 0.5 * length, distance_m=0.5),),
    }[seed // 4 % 4]
    width = lot.uniform(7.0, 16.0)
    beside = f", {edges[0].kind.value}" if edges else ""
    return Drawn(circuit, edges, width, f"{kind}{beside}, {width:.0f} m wide, {length:.0f} m")


def table() -> None:
    """Print a row for every road."""
    print("| road | vehicle | ended | s | lap | of the best known | widest arcs |")
    print("| --- | --- | --- | ---: | ---: | ---: | ---: |")
    for seed in range(ROADS):
        print(row(drawn_road(seed), VEHICLES[seed // 5 % len(VEHICLES)]), flush=True)


def row(drawn: Drawn, plan_id: str) -> str:
    """A road's row: how the search ended, its time, its lap against the best that is known."""
    plan = demo_plan(plan_id)
    assert plan is not None
    vehicle = vehicle_record(plan.document.car)
    conditions = conditions_record(plan.document.conditions)
    driver = driver_record(plan.document.driver)
    road = build_path(drawn.circuit, STEP_M)
    half = np.full(len(road.s_m), 0.5 * drawn.width_m)
    field: Corridor = corridor(road, half, half, 1.9, edges=drawn.edges)

    def clock(shape: Shape) -> tuple[float, Floats]:
        line = driven_line(field, shape)
        path = build_path(driven_circuit(drawn.circuit, line, road))
        lap = solve(Drive(path, vehicle, conditions, driver))
        return lap.lap_time_s, np.interp(line.at_m, lap.s_m, lap.v_ms)

    task = Task(field, vehicle, conditions, driver)
    known = {"widest": widest_arcs(field), "centre": centre_line(road)}
    begun = time.perf_counter()
    found = quickest_line(task, clock, known)
    taken_s = time.perf_counter() - begun
    best_s = found.lap_time_s
    for shape in known.values():
        for strategy in JUDGES:
            start = Fastest(shape, START_SHARE * clock(shape)[1])
            try:
                other = fastest_line(
                    Task(field, vehicle, conditions, driver), start, strategy=strategy
                )
                best_s = min(best_s, clock(other.shape)[0])
            except (LineImpossible, LapImpossible):
                continue
    widest_s = clock(known["widest"])[0]
    share = 100.0 * (found.lap_time_s / best_s - 1.0)
    return (
        f"| {drawn.said} | {plan.document.car.name} | {found.ended.value.replace('_', ' ')} | "
        f"{taken_s:.1f} | {found.lap_time_s:.3f} | +{share:.3f} % | "
        f"+{100.0 * (widest_s / found.lap_time_s - 1.0):.2f} % |"
    )


if __name__ == "__main__":
    table()
