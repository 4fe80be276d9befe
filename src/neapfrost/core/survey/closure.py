"""Whether a ring of straights and corners closes, and the likeliest figures with which it does."""

import math
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import DEFAULT_STEP_M
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Segment, Straight

#: Standard deviations where none is stated, as shares; a grade's is in percentage points.
DEFAULT_SIGMA = {"length_m": 0.03, "radius_m": 0.10, "angle_deg": 0.05, "grade_pct": 0.5}
SIGMAS_MOST = 3.0
CLOSED_M = 0.001
CLOSED_RAD = 1e-6
ROUNDS = 25
DERIVATIVE_STEP_M = 8.0  # good to a part in ten thousand, and several times as quick


@dataclass(frozen=True)
class Gap:
    """How far the end of a ring lies from its start: ahead and left of it, turned, above."""

    ahead_m: float
    left_m: float
    heading_deg: float
    height_m: float

    @property
    def distance_m(self) -> float:
        """Distance in plan [m]."""
        return math.hypot(self.ahead_m, self.left_m)


@dataclass(frozen=True)
class Figure:
    """One figure of the survey: number of its segment, which figure, value, standard deviation.

    A deviation of zero locks the figure.
    """

    segment: int
    name: str
    value: float
    sigma: float


@dataclass(frozen=True)
class Adjusted:
    """A figure before and after, and by how many of its standard deviations it moved."""

    figure: Figure
    after: float

    @property
    def sigmas(self) -> float:
        """Change over standard deviation, with its sign; 0 for a locked figure."""
        if self.figure.sigma == 0.0:
            return 0.0
        return (self.after - self.figure.value) / self.figure.sigma


@dataclass(frozen=True)
class Adjustment:
    """The adjusted circuit, every figure that moved, and those that had to move too far."""

    circuit: Circuit
    changes: tuple[Adjusted, ...]
    suspects: tuple[Adjusted, ...]


def closure_gap(circuit: Circuit) -> Gap:
    """Gap of a closed circuit of segments, along and across the heading at its start.

    Raises InputRefused for an open course and for one that is given by stations.
    """
    _refuse_no_ring(circuit)
    return _gap(circuit)


def survey_figures(
    circuit: Circuit, stated: dict[tuple[int, str], float] | None = None
) -> tuple[Figure, ...]:
    """Every length, radius, angle and grade, with its standard deviation.

    `stated` holds deviations by segment and figure: as shares, for a grade in percentage points.
    Where elevation points give the heights, grades are no figures of the survey.
    """
    stated = stated or {}
    found = []
    for number, segment in enumerate(circuit.segments):
        names = ["length_m"] if isinstance(segment, Straight) else ["radius_m", "angle_deg"]
        if not circuit.elevation:
            names.append("grade_pct")
        for name in names:
            value = float(getattr(segment, name))
            share = stated.get((number, name), DEFAULT_SIGMA[name])
            found.append(
                Figure(number, name, value, share * (1.0 if name == "grade_pct" else value))
            )
    return tuple(found)


def close_ring(circuit: Circuit, figures: tuple[Figure, ...]) -> Adjustment:
    """Move the figures as little as their deviations allow, so that the ring closes.

    Least squares with conditions, linearised anew at each step (Mikhail and Ackermann,
    Observations and Least Squares, 1976): minimise Σ((x - x₀)/σ)² under r(x) = 0, by
    x ← x₀ + ΣJᵀ(JΣJᵀ)⁻¹(J(x - x₀) - r). Raises InputRefused when no figures near the given ones
    close it, or too few are free to move.
    """
    _refuse_no_ring(circuit)
    start = np.array([figure.value for figure in figures])
    variance = np.array([figure.sigma for figure in figures]) ** 2
    # With heights from elevation points the ring closes in height by itself.
    rows = 3 if circuit.elevation else 4
    if np.count_nonzero(variance) < rows:
        raise InputRefused(
            [
                Fault(
                    "circuit.segments",
                    f"only {np.count_nonzero(variance)} figures are free to change; closing the "
                    f"circuit needs at least {rows}",
                )
            ]
        )
    values = start.copy()
    for _ in range(ROUNDS):
        residual, jacobian = _linearised(circuit, figures, values, rows)
        if np.all(np.abs(residual) < _tolerance(rows)):
            break
        weight = (jacobian * variance) @ jacobian.T
        target = jacobian @ (values - start) - residual
        try:
            step = np.linalg.solve(weight, target)
        except np.linalg.LinAlgError:
            raise _cannot_close() from None
        values = start + variance * (jacobian.T @ step)
        if not _possible(figures, values):
            raise _cannot_close()
    else:
        raise _cannot_close()
    moved = tuple(
        Adjusted(figure, float(value)) for figure, value in zip(figures, values, strict=True)
    )
    return Adjustment(
        circuit=with_figures(circuit, figures, values),
        changes=tuple(one for one in moved if abs(one.sigmas) > 1e-6),
        suspects=tuple(one for one in moved if abs(one.sigmas) > SIGMAS_MOST),
    )


def with_figures(circuit: Circuit, figures: tuple[Figure, ...], values: Floats) -> Circuit:
    """The circuit with the survey's figures set; a second radius keeps its ratio to the first."""
    segments: list[Segment] = list(circuit.segments)
    for figure, value in zip(figures, values.tolist(), strict=True):
        segment = segments[figure.segment]
        if isinstance(segment, Bend) and figure.name == "radius_m" and segment.end_radius_m:
            end = segment.end_radius_m * value / segment.radius_m
            segments[figure.segment] = replace(segment, radius_m=value, end_radius_m=end)
        else:
            segments[figure.segment] = replace(segment, **{figure.name: value})
    return replace(circuit, segments=tuple(segments))


def _gap(circuit: Circuit, step_m: float = DEFAULT_STEP_M) -> Gap:
    path = build_path(circuit, step_m)
    turned = float(path.heading_rad[-1])
    return Gap(
        ahead_m=float(path.x_m[-1] - path.x_m[0]),
        left_m=float(path.y_m[-1] - path.y_m[0]),
        heading_deg=math.degrees(turned - _whole_turns(turned)),
        height_m=float(path.z_m[-1] - path.z_m[0]),
    )


def _whole_turns(turned: float) -> float:
    """Nearest whole number of turns other than none [rad]; a ring of eights may turn by none."""
    return 2.0 * math.pi * round(turned / (2.0 * math.pi))


def _residual(circuit: Circuit, rows: int, step_m: float = DEFAULT_STEP_M) -> Floats:
    gap = _gap(circuit, step_m)
    return np.array([gap.ahead_m, gap.left_m, math.radians(gap.heading_deg), gap.height_m][:rows])


def _linearised(
    circuit: Circuit, figures: tuple[Figure, ...], values: Floats, rows: int
) -> tuple[Floats, Floats]:
    """Residual (r,) and its derivatives (r, n), by central differences on the path itself."""
    jacobian = np.zeros((rows, len(figures)))
    for column, figure in enumerate(figures):
        if figure.sigma == 0.0:
            continue
        step = 1e-3 * figure.sigma
        ends = []
        for sign in (1.0, -1.0):
            moved = values.copy()
            moved[column] += sign * step
            ends.append(_residual(with_figures(circuit, figures, moved), rows, DERIVATIVE_STEP_M))
        jacobian[:, column] = (ends[0] - ends[1]) / (2.0 * step)
    return _residual(with_figures(circuit, figures, values), rows), jacobian


def _tolerance(rows: int) -> Floats:
    return np.array([CLOSED_M, CLOSED_M, CLOSED_RAD, CLOSED_M][:rows])


def _possible(figures: tuple[Figure, ...], values: Floats) -> bool:
    """Whether every length, radius and angle is still one."""
    return all(
        figure.name == "grade_pct" or value > 0.05 * figure.value
        for figure, value in zip(figures, values.tolist(), strict=True)
    )


def _cannot_close() -> InputRefused:
    return InputRefused(
        [
            Fault(
                "circuit.segments",
                "no figures near these close the circuit; a corner may be missing, turn the "
                "wrong way, or have a wrong angle",
            )
        ]
    )


def _refuse_no_ring(circuit: Circuit) -> None:
    if not circuit.closed:
        raise InputRefused(
            [
                Fault(
                    "circuit.closed",
                    "a point-to-point course need not close; a closed circuit is expected",
                )
            ]
        )
    if circuit.stations is not None or not circuit.segments:
        raise InputRefused(
            [
                Fault(
                    "circuit.segments",
                    "a path given by stations is not adjusted; straights and corners are expected",
                )
            ]
        )
