"""The fastest line held against an independent search that shares nothing but the lap solver.

A sideways displacement from the widest arcs, a periodic cubic spline, is moved by bounded
quasi-Newton steps (R. H. Byrd et al., SIAM J. Sci. Comput. 16, 1995) with difference quotients of
the lap time itself: no collocation, no smooth model of the vehicle, no steering limit. Takes a
quarter of an hour a circuit; its figures are kept in docs/performance.md.
"""

import sys
from dataclasses import dataclass
from functools import partial

import numpy as np
from scipy.interpolate import CubicSpline
from scipy.optimize import minimize

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solve
from neapfrost.core.line.corridor import Corridor, corridor
from neapfrost.core.line.driven import DrivenLine, driven_circuit, driven_line
from neapfrost.core.line.fastest import Fastest, Task, fastest_line
from neapfrost.core.line.shapes import widest_arcs
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Stations
from neapfrost.core.records import Conditions, Driver, Vehicle
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan_records import (
    circuit_record,
    conditions_record,
    driver_record,
    vehicle_record,
)

CONTROL_APART_M = 16.0
#: Difference steps of the rounds [m]: coarse ones see past the lap solver's own grain.
ROUNDS_M = (0.20, 0.10, 0.05, 0.05)
WIDTH_M = 11.0


@dataclass(frozen=True, eq=False)
class Base:
    """A smooth line to displace, and the room beside it; shapes (n + 1,)."""

    at_m: Floats
    curvature_per_m: Floats
    grade_pct: tuple[float, ...]
    bank_left_deg: tuple[float, ...]
    room_left_m: Floats
    room_right_m: Floats


def displaced(base: Base, control: Floats) -> Stations:
    """The line displaced to the left by a periodic spline through control values [m]."""
    length = base.at_m[-1]
    knots = np.linspace(0.0, length, len(control) + 1)
    spline = CubicSpline(knots, np.append(control, control[0]), bc_type="periodic")
    n, slope, bend = (spline(base.at_m, order) for order in range(3))
    turn = CubicSpline(base.at_m, base.curvature_per_m, bc_type="periodic")(base.at_m, 1)
    q = 1.0 - n * base.curvature_per_m
    stretch = np.hypot(q, slope)
    turned = (bend * q + slope * (turn * n + base.curvature_per_m * slope)) / stretch**2
    curvature = (base.curvature_per_m + turned) / stretch
    steps = 0.5 * np.diff(base.at_m) * (stretch[:-1] + stretch[1:])
    return Stations(
        at_m=tuple(np.concatenate(([0.0], np.cumsum(steps))).tolist()),
        curvature_per_m=tuple(curvature.tolist()),
        grade_pct=base.grade_pct,
        bank_left_deg=base.bank_left_deg,
    )


def searched_s(base: Base, vehicle: Vehicle, conditions: Conditions, driver: Driver) -> float:
    """The least lap time found by displacing a line [s]."""
    count = round(base.at_m[-1] / CONTROL_APART_M)
    knots = np.linspace(0.0, base.at_m[-1], count + 1)[:-1]
    low = -np.interp(knots, base.at_m, base.room_right_m)
    high = np.interp(knots, base.at_m, base.room_left_m)

    def lap_s(control: Floats) -> float:
        path = build_path(Circuit("", True, stations=displaced(base, control)))
        return solve(Drive(path, vehicle, conditions, driver)).lap_time_s

    def lap_and_slopes(control: Floats, by: float) -> tuple[float, Floats]:
        found = np.empty(count)
        for k in range(count):
            up, down = control.copy(), control.copy()
            up[k], down[k] = min(control[k] + by, high[k]), max(control[k] - by, low[k])
            found[k] = (lap_s(up) - lap_s(down)) / max(up[k] - down[k], 1e-9)
        return lap_s(control), found

    control, best = np.zeros(count), np.inf
    for by in ROUNDS_M:
        answer = minimize(
            partial(lap_and_slopes, by=by),
            control,
            jac=True,
            method="L-BFGS-B",
            bounds=list(zip(low, high, strict=True)),
            options={"maxiter": 30, "maxls": 20},
        )
        control, best = answer.x, min(best, float(answer.fun))
        print(f"    step {by} m: {best:.3f} s after {answer.nit} steps", flush=True)
    return best


def compare(circuit_of: str, car_of: str) -> None:
    """Print the laps of the widest arcs, of the fastest line and of the independent search."""
    plan, place = demo_plan(car_of), demo_plan(circuit_of)
    assert plan is not None
    assert place is not None
    circuit = circuit_record(place.document.circuit)
    vehicle = vehicle_record(plan.document.car)
    conditions = conditions_record(plan.document.conditions)
    driver = driver_record(plan.document.driver)
    flat = Circuit("", True, circuit.segments)
    road = build_path(flat, 3.0)
    half = np.full(len(road.s_m), 0.5 * WIDTH_M)
    field: Corridor = corridor(road, half, half, 1.94)

    def lap_of(line: DrivenLine) -> float:
        path = build_path(driven_circuit(flat, line, road))
        return solve(Drive(path, vehicle, conditions, driver)).lap_time_s

    shape = widest_arcs(field)
    line = driven_line(field, shape)
    lap = solve(Drive(build_path(driven_circuit(flat, line, road)), vehicle, conditions, driver))
    speed = 0.97 * np.interp(line.at_m, lap.s_m, lap.v_ms)
    found = fastest_line(Task(field, vehicle, conditions, driver), Fastest(shape, speed))
    fastest_s = lap_of(driven_line(field, found.shape))
    laps = f"widest arcs {lap.lap_time_s:.3f} s, fastest {fastest_s:.3f} s"
    print(circuit_of, car_of, laps, flush=True)
    for name, start in (("fastest line", found.shape), ("widest arcs", shape)):
        begun = driven_line(field, start)
        base = Base(
            begun.at_m,
            start.curvature_per_m,
            begun.stations.grade_pct,
            begun.stations.bank_left_deg,
            np.maximum(field.left_m - start.offset_m, 0.0),
            np.maximum(start.offset_m - field.right_m, 0.0),
        )
        searched = searched_s(base, vehicle, conditions, driver)
        against = 100.0 * (fastest_s / searched - 1.0)
        print(f"  from the {name}: {searched:.3f} s, {against:+.2f} %", flush=True)


if __name__ == "__main__":
    names = sys.argv[1:] or ("dunlin-heath", "garganey-dry")
    compare(*names)
