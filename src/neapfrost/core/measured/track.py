"""Points measured along a road, and the laps in them."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.errors import Fault, InputRefused

POINTS_FEWEST = 10
#: Points nearer to each other than about this are one place, however often it is passed [m].
SAME_PLACE_M = 0.05
#: No point of a road lies farther than this from the first [m].
FARTHEST_M = 50_000.0
#: A point farther from the last than this many usual distances, and than so many metres, jumps.
JUMP_TIMES, JUMP_M = 15.0, 60.0
#: Half of the gate at the first point through which a lap ends [m], and the shortest lap [m].
GATE_HALF_M = 30.0
LAP_AT_LEAST_M = 150.0
#: Cosine of the most that a lap's end may differ in direction from its start.
DIRECTION_AT_LEAST = 0.6


@dataclass(frozen=True, eq=False)
class Track:
    """Points in the order they were passed, in local metres east and north; shapes (n,).

    Height and the widths to the left and the right edge may be missing.
    """

    x_m: Floats
    y_m: Floats
    z_m: Floats | None = None
    left_m: Floats | None = None
    right_m: Floats | None = None


@dataclass(frozen=True, eq=False)
class Laps:
    """A track laid over one lap: each point's place [m], a lap's length, how many whole laps.

    `gap_m` is how far the track's end lies from its start.
    """

    at_m: Floats
    length_m: float
    count: int
    closed: bool
    gap_m: float


def without_repeats(track: Track) -> tuple[Track, Integers]:
    """The track without points that stand still, and which points were kept."""
    step = np.hypot(np.diff(track.x_m), np.diff(track.y_m))
    keep = np.concatenate(([True], step > 1e-3))
    kept = np.flatnonzero(keep)

    def column(values: Floats | None) -> Floats | None:
        return None if values is None else values[keep]

    return (
        Track(
            track.x_m[keep],
            track.y_m[keep],
            column(track.z_m),
            column(track.left_m),
            column(track.right_m),
        ),
        kept,
    )


def taken_together(track: Track, most: int = 120_000) -> Track:
    """The track with neighbouring points averaged where there are more than `most` of them."""
    size = -(-len(track.x_m) // most)
    if size <= 1:
        return track
    groups = np.arange(len(track.x_m)) // size
    counts = np.bincount(groups)

    def mean(values: Floats) -> Floats:
        return np.bincount(groups, weights=values) / counts

    def column(values: Floats | None) -> Floats | None:
        return None if values is None else mean(values)

    return Track(
        mean(track.x_m),
        mean(track.y_m),
        column(track.z_m),
        column(track.left_m),
        column(track.right_m),
    )


def refuse_bad_track(track: Track, names: list[str] | None = None) -> None:
    """Refuse what makes no road: too few points, points that jump, a lap of impossible length.

    `names` says where each point stands in its file. Raises InputRefused.
    """
    count = len(track.x_m)
    if count < POINTS_FEWEST:
        raise InputRefused([_too_few(count)])
    far = np.flatnonzero((np.abs(track.x_m) > FARTHEST_M) | (np.abs(track.y_m) > FARTHEST_M))
    if len(far) > 0:
        first = int(far[0])
        place = names[first] if names is not None else f"point {first + 1}"
        said = f"it lies more than {FARTHEST_M / 1000:.0f} km from the first point"
        raise InputRefused([Fault(place, f"{said}; points of one road are expected")])
    step = np.hypot(np.diff(track.x_m), np.diff(track.y_m))
    usual = float(np.median(step))
    length = float(step.sum())
    if length < 100.0:
        raise InputRefused(
            [
                Fault(
                    "",
                    f"the points span {length:.4g} m in all; are these degrees or kilometres read "
                    "as metres? Columns x and y are metres, lat and lon degrees",
                )
            ]
        )
    places = np.round((track.x_m + 1j * track.y_m) / SAME_PLACE_M)
    if len(np.unique(places)) < POINTS_FEWEST:
        raise InputRefused([_too_few(len(np.unique(places)))])
    far = np.flatnonzero((step > JUMP_TIMES * usual) & (step > JUMP_M))
    if len(far) > 0:
        first = int(far[0]) + 1
        place = names[first] if names is not None else f"point {first + 1}"
        raise InputRefused(
            [
                Fault(
                    place,
                    f"the track jumps by {step[first - 1]:.0f} m where {usual:.1f} m is usual; "
                    "remove the point, or cut the file there",
                )
            ]
        )


def _too_few(count: int) -> Fault:
    return Fault("", f"only {count} points differ; a road needs at least {POINTS_FEWEST}")


def find_laps(track: Track) -> Laps:
    """Lay a track over one lap, cut where it comes back past its first point in its direction.

    A track that ends near where it began is one lap; otherwise it is open. The gate through which
    a lap ends is 60 m wide.
    """
    x, y = track.x_m, track.y_m
    step = np.hypot(np.diff(x), np.diff(y))
    way = np.concatenate(([0.0], np.cumsum(step)))
    reach = int(np.searchsorted(way, min(20.0, 0.02 * way[-1])))
    ahead = max(reach, 1)
    ux, uy = x[ahead] - x[0], y[ahead] - y[0]
    norm = float(np.hypot(ux, uy)) or 1.0
    ux, uy = ux / norm, uy / norm
    along = (x - x[0]) * ux + (y - y[0]) * uy
    aside = -(x - x[0]) * uy + (y - y[0]) * ux
    # A road that crosses itself at its start comes by there in another direction.
    forwards = np.diff(along) > DIRECTION_AT_LEAST * step
    crossing = np.flatnonzero(
        forwards
        & (along[:-1] < 0.0)
        & (along[1:] >= 0.0)
        & (np.abs(aside[:-1]) < GATE_HALF_M)
        & (np.abs(along[:-1]) < 3.0 * np.maximum(step, 5.0))
    )
    ends = [0.0]
    for index in crossing:
        share = -along[index] / (along[index + 1] - along[index])
        passed = float(way[index] + share * step[index])
        if passed - ends[-1] > LAP_AT_LEAST_M:
            ends.append(passed)
    gap = float(np.hypot(x[-1] - x[0], y[-1] - y[0]))
    if len(ends) == 1:
        usual = float(np.median(step))
        if gap < max(3.0 * usual, 25.0) and way[-1] > LAP_AT_LEAST_M:
            return Laps(way, float(way[-1] + gap), 1, True, gap)
        return Laps(way, float(way[-1]), 1, False, gap)
    lengths = np.diff(ends)
    length = float(np.median(lengths))
    # Each lap by its own length; what follows the last whole one by the usual length.
    lap = np.clip(np.searchsorted(ends, way, side="right") - 1, 0, len(ends) - 1)
    own = np.append(lengths, length)[lap]
    at = np.mod((way - np.array(ends)[lap]) / own * length, length)
    return Laps(at, length, len(lengths), True, gap)
