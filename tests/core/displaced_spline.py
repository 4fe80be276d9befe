"""Another search for the fastest line: a spline over the ground, moved as the lap's clock says.

It shares neither equations nor derivatives with the collocation: the line is a cubic spline through
points beside the middle, laid over the ground; its curvature, slope and bank are taken from there,
and the lap solver alone says what a change is worth.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicSpline
from scipy.ndimage import uniform_filter1d
from scipy.optimize import minimize

from core.builders import AIR_12, PURE, solve_lap
from neapfrost.core.arrays import Floats
from neapfrost.core.line.corridor import Corridor
from neapfrost.core.line.shape import Shape
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Circuit, Stations
from neapfrost.core.records import Vehicle

CONTROLS_EVERY_M = 11.0
POINTS_EVERY_M = 1.5
#: Between its points a spline may swing so far past the edge [m].
SWING_M = 0.1
#: An offset is moved by so much to see what it is worth [m].
NUDGE_M = 0.03


@dataclass(frozen=True, eq=False)
class Surface:
    """The ground of an open road over road position and offset, its middle as smooth curves."""

    length_m: float
    x: CubicSpline
    y: CubicSpline
    heading: CubicSpline
    height: CubicSpline
    tilt: CubicSpline

    def beside(self, x: Floats, y: Floats, near: Floats) -> tuple[Floats, Floats]:
        """Road position and offset of places on the map, looked for from positions near them."""
        s = near
        for _ in range(5):
            heading = self.heading(s)
            away_x, away_y = x - self.x(s), y - self.y(s)
            n = away_y * np.cos(heading) - away_x * np.sin(heading)
            ahead = away_x * np.cos(heading) + away_y * np.sin(heading)
            s = s + ahead / (1.0 - n * self.heading(s, 1))
        return s, n

    def height_at(self, s: Floats, n: Floats) -> Floats:
        height: Floats = self.height(s) + n * self.tilt(s)
        return height


def surface_of(circuit: Circuit) -> Surface:
    """The ground of an open road, summed up from its grades and banks in quarters of a metre."""
    fine = build_path(circuit, 0.25)
    grade = np.tan(0.5 * (fine.slope.angle_start + fine.slope.angle_end))
    height = np.concatenate(([0.0], np.cumsum(grade * np.diff(fine.s_m))))
    bank = np.append(fine.bank_start, fine.bank_end[-1])
    # A tilt that begins by degrees over 20 m, as on a road that was built.
    tilt = uniform_filter1d(-np.tan(bank), round(20.0 / 0.25), mode="nearest")
    columns = (fine.x_m, fine.y_m, fine.heading_rad, height, tilt)
    return Surface(fine.length_m, *(CubicSpline(fine.s_m, column) for column in columns))


def lap_along(
    field: Corridor,
    surface: Surface,
    circuit: Circuit,
    vehicle: Vehicle,
    controls: Floats,
    offsets: Floats,
) -> float:
    """Lap time of a line through points beside the middle, and a fine where it leaves the road.

    Curvature, slope and bank are taken from the line's points on the ground.
    """
    heading = surface.heading(controls)
    line_x = CubicSpline(controls, surface.x(controls) - offsets * np.sin(heading))
    line_y = CubicSpline(controls, surface.y(controls) + offsets * np.cos(heading))
    u = np.linspace(0.0, surface.length_m, 1 + round(surface.length_m / POINTS_EVERY_M))
    x, y = line_x(u), line_y(u)
    dx, dy = line_x(u, 1), line_y(u, 1)
    pace = np.hypot(dx, dy)
    at = np.concatenate(([0.0], np.cumsum(0.5 * (pace[1:] + pace[:-1]) * np.diff(u))))
    curvature = (dx * line_y(u, 2) - dy * line_x(u, 2)) / pace**3
    s, n = surface.beside(x, y, u)
    grade = np.gradient(surface.height_at(s, n), at)
    # Half a metre to each side of the line, square to it.
    sides = [
        surface.height_at(*surface.beside(x - way * dy / pace, y + way * dx / pace, s))
        for way in (-0.5, 0.5)
    ]
    bank = np.degrees(np.arctan(-(sides[1] - sides[0]) / np.sqrt(1.0 + grade**2)))
    over = n - np.interp(s, field.road.s_m, field.left_m)
    under = np.interp(s, field.road.s_m, field.right_m) - n
    fine_s = 0.5 * float(np.maximum(np.maximum(over, under) - SWING_M, 0.0).max())
    stations = Stations(
        at_m=tuple(at.tolist()),
        curvature_per_m=tuple(curvature.tolist()),
        bank_left_deg=tuple(bank.tolist()),
        grade_pct=tuple((100.0 * grade).tolist()),
        grip_factor=(1.0,) * len(at),
        road_at_m=tuple(u.tolist()),
        offset_m=tuple(n.tolist()),
        corners=(),
    )
    path = build_path(
        Circuit("line", False, stations=stations, start_speed_ms=circuit.start_speed_ms)
    )
    return solve_lap(path, vehicle, AIR_12, PURE).lap_time_s + fine_s


def controls_of(field: Corridor) -> Floats:
    """Road positions of the points that a line is led through."""
    length = field.road.length_m
    return np.linspace(0.0, length, 1 + round(length / CONTROLS_EVERY_M))


def quickest_displaced(
    field: Corridor, circuit: Circuit, vehicle: Vehicle, begun: Shape, rounds: int = 25
) -> float:
    """Lap time of the quickest line found from another one, by its own slopes."""
    road, controls, surface = field.road, controls_of(field), surface_of(circuit)
    low = np.interp(controls, road.s_m, field.right_m)
    high = np.interp(controls, road.s_m, field.left_m)

    def time_s(offsets: Floats) -> float:
        return lap_along(field, surface, circuit, vehicle, controls, offsets)

    found = minimize(
        time_s,
        np.clip(np.interp(controls, road.s_m, begun.offset_m), low, high),
        jac=_slopes_of(time_s),
        method="L-BFGS-B",
        bounds=list(zip(low, high, strict=True)),
        options={"maxiter": rounds, "ftol": 1e-7},
    )
    return float(found.fun)


def _slopes_of(time_s: Callable[[Floats], float]) -> Callable[[Floats], Floats]:
    def slopes(values: Floats) -> Floats:
        found = np.empty(len(values))
        for k in range(len(values)):
            moved = values.copy()
            moved[k] = values[k] + NUDGE_M
            more = time_s(moved)
            moved[k] = values[k] - NUDGE_M
            found[k] = (more - time_s(moved)) / (2.0 * NUDGE_M)
        return found

    return slopes
