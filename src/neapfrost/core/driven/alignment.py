"""A log laid along a path: every sample's place, whatever its distance has drifted to.

The way that was driven turns as the path turns. Stretch after stretch of the log is shifted until
both turn together; between the corners, where nothing turns, the distance by speed carries on.
Where positions were logged, they are then turned and moved onto the path and dropped onto it.
"""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.log import Log, averaged_over, travelled_m, turning_per_m
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.path.build import Path

#: Grid on which turnings are compared [m].
STEP_M = 2.0
#: How far a distance by speed may be off: the scales that are tried at first.
SCALES = np.linspace(0.95, 1.05, 21)
#: A stretch that follows is looked for so far about where it should be, as shares and metres.
DRIFT_SHARE, LOOKED_M = 0.03, 60.0
#: Turnings of a corner that agree by less than this are of another one.
ALIKE_AT_LEAST = 0.55
#: A lap that agrees by less, or places that scatter by more [m], are of another circuit; between
#: these and the next it has to be asked.
LAP_ALIKE_LEAST, MISFIT_MOST_M = 0.75, 10.0
SURE_ALIKE, SURE_MISFIT_M = 0.92, 4.0
#: Each corner is laid beside itself with so much of the way before and after it [m].
BESIDE_M = 40.0
#: Positions are dropped onto the path so far about where the turning has it [m].
DROPPED_M = 40.0
#: Laps of a log are followed so far to either side of the first that is found.
LAPS_MOST = 300
#: The nearest place is searched for so many positions at the most; for the rest it is between.
SEARCHED_MOST = 20_000
#: How long a dropped position counts before the distance by speed does [s].
SETTLES_S = 1.5


@dataclass(frozen=True, eq=False)
class Aligned:
    """Places of a log's samples along the path [m] (n,), rising from lap to lap.

    `alike` says how well both turn together, 1 for perfectly; `misfit_m` is the scatter of what
    the places were found from about what they were smoothed to; `scale` is what the speed has to
    be multiplied by to come to these places; `mirrored` says that the acceleration across was
    logged with the other sign.
    """

    at_m: Floats
    alike: float
    misfit_m: float
    scale: float
    mirrored: bool

    @property
    def sure(self) -> bool:
        """Whether the log is of this path without any doubt."""
        return self.alike >= SURE_ALIKE and self.misfit_m <= SURE_MISFIT_M


def align(log: Log, path: Path) -> Aligned:
    """Lay a log along a path: lap after lap of a closed one, an open one once.

    Raises InputRefused where neither positions nor an acceleration across were logged, and where
    the way that was driven is none of this path.
    """
    turning = turning_per_m(log)
    if turning is None:
        raise InputRefused(
            [
                Fault(
                    "channels",
                    "neither positions nor lateral acceleration were logged; one of them is "
                    "needed to place the vehicle on the circuit",
                )
            ]
        )
    distance = travelled_m(log)
    grid = np.arange(0.0, distance[-1], STEP_M)
    driven = np.interp(grid, distance, turning)
    own = _path_turning(path)
    first = _first_lap(driven, own) if path.closed else _only_drive(driven, own)
    if first.alike < LAP_ALIKE_LEAST:
        raise _of_another_circuit()
    sign = -1.0 if first.mirrored else 1.0
    here, there = _anchors(sign * driven, own, path, first)
    at_m = _through(distance, here, there, first.scale)
    misfit = _scatter_m(here, there)
    if log.moves:
        at_m, misfit = _dropped(log, path, at_m)
    if misfit > MISFIT_MOST_M:
        raise _of_another_circuit()
    scale = float((at_m[-1] - at_m[0]) / max(distance[-1] - distance[0], 1.0))
    return Aligned(at_m, first.alike, misfit, scale, first.mirrored)


def _of_another_circuit() -> InputRefused:
    return InputRefused(
        [
            Fault(
                "",
                "The corners in this log do not match this circuit: it is another circuit, or it "
                "was driven in the other direction. Open the plan that it was driven on.",
            )
        ]
    )


@dataclass(frozen=True)
class _First:
    """How a first lap lies on the path: begun at a grid place of it, at a scale."""

    offset_m: float
    scale: float
    alike: float
    mirrored: bool
    begins_at: int


def _path_turning(path: Path) -> Floats:
    """Curvature of the path on the grid, one lap of it (k,)."""
    s = np.arange(0.0, path.length_m, STEP_M)
    middle = 0.5 * (path.s_m[1:] + path.s_m[:-1])
    turning = 0.5 * (path.curvature_start + path.curvature_end)
    found: Floats = np.interp(s, middle, turning, period=path.length_m)
    return found


def _first_lap(driven: Floats, own: Floats) -> _First:
    """The best of all windows of a lap, scales and offsets."""
    best = _First(0.0, 1.0, -1.0, False, 0)
    count = len(own)
    shape = own - own.mean()
    norm, spectrum = float(np.sqrt((shape**2).sum())), np.fft.rfft(shape)
    windows = range(0, max(len(driven) - count, 1), max(count // 2, 1))
    for begins in list(windows)[:6]:
        for scale in SCALES:
            samples = begins + np.arange(count) / scale
            if samples[-1] >= len(driven):
                continue
            piece = np.interp(samples, np.arange(len(driven)), driven)
            piece = piece - piece.mean()
            size = float(np.sqrt((piece**2).sum()))
            if size < 1e-12:
                continue
            # How well the piece, begun at every place of the lap, turns with it.
            turned = np.fft.irfft(spectrum * np.conj(np.fft.rfft(piece)), count)
            fit = turned / (norm * size)
            for mirrored, values in ((False, fit), (True, -fit)):
                at = int(np.argmax(values))
                if values[at] > best.alike:
                    best = _First(at * STEP_M, float(scale), float(values[at]), mirrored, begins)
    return best


def _only_drive(driven: Floats, own: Floats) -> _First:
    """Where in the log an open path is driven: the best of all places and scales."""
    best = _First(0.0, 1.0, -1.0, False, 0)
    count = len(own)
    shape = own - own.mean()
    norm = float(np.sqrt((shape**2).sum()))
    for scale in SCALES:
        samples = np.arange(0.0, len(driven) - 1.0, 1.0 / scale)
        # A little of the start or of the finish may not have been logged.
        spare = count // 20
        piece = np.pad(np.interp(samples, np.arange(len(driven)), driven), spare)
        if len(piece) < count:
            continue
        # Sums over every window of the path's length, for the size of its turning in each.
        sums = np.cumsum(np.concatenate(([0.0], piece)))
        squares = np.cumsum(np.concatenate(([0.0], piece**2)))
        mean = (sums[count:] - sums[:-count]) / count
        power = (squares[count:] - squares[:-count]) - count * mean**2
        fit = np.correlate(piece, shape, mode="valid") / (norm * np.sqrt(np.maximum(power, 1e-12)))
        for mirrored, values in ((False, fit), (True, -fit)):
            at = int(np.argmax(values))
            if values[at] > best.alike:
                begins = round((at - spare) / scale)
                best = _First(0.0, float(scale), float(values[at]), mirrored, begins)
    return best


def _anchors(driven: Floats, own: Floats, path: Path, first: _First) -> tuple[Floats, Floats]:
    """Places of the log [m by speed] and of the path [m, unfolded] that are the same corner.

    Corner after corner, forwards and backwards from the first lap that was found.
    """
    length = path.length_m
    begins_m = first.begins_at * STEP_M
    total_m = (len(driven) - 1) * STEP_M
    places = sorted(0.5 * (c.begins_at_m + c.ends_at_m) for c in path.corners)
    if not places:
        return np.array([begins_m]), np.array([first.offset_m])
    found: list[tuple[float, float]] = []
    for way in (1, -1):
        here, there, scale = begins_m, first.offset_m, first.scale
        lap = int(np.floor(there / length))
        corners = _in_order(places, there, length, lap, way) if path.closed else places
        if not path.closed and way < 0:
            break  # an open path is gone along once, from its start
        for corner in corners:
            expected = here + (corner - there) / scale
            if not BESIDE_M < expected < total_m - BESIDE_M:
                if (way > 0) == (expected > begins_m):
                    break
                continue
            looked = LOOKED_M + DRIFT_SHARE * abs(expected - here)
            fit = _beside(driven, own, expected, path.ring.fold(corner), looked)
            if fit is None:
                continue
            if found and abs(corner - there) > 0.5 * length:
                scale = 0.7 * scale + 0.3 * (corner - there) / (fit - here)
            found.append((fit, corner))
            here, there = fit, corner
    found.sort()
    rising = [pair for n, pair in enumerate(found) if n == 0 or pair[1] > found[n - 1][1]]
    return np.array([one for one, _ in rising]), np.array([one for _, one in rising])


def _in_order(places: list[float], from_m: float, length: float, lap: int, way: int) -> list[float]:
    """Corners from a place on, lap after lap, in the way that is gone; enough for any log."""
    reach = LAPS_MOST
    every = [place + length * n for n in range(lap - reach, lap + reach + 1) for place in places]
    if way > 0:
        return [place for place in sorted(every) if place >= from_m]
    return [place for place in sorted(every, reverse=True) if place < from_m]


def _beside(
    driven: Floats, own: Floats, expected_m: float, corner_m: float, looked_m: float
) -> float | None:
    """Where in the log a corner lies, near where it is expected; None where nothing turns alike."""
    half = round(BESIDE_M / STEP_M) + 10
    span = np.arange(-half, half + 1)
    index = (corner_m / STEP_M + span) % len(own)
    shape = np.interp(index, np.arange(len(own)), own, period=len(own))
    size = float(np.sqrt((shape**2).sum()))
    if size < 1e-9:
        return None
    reach = round(looked_m / STEP_M)
    middle = expected_m / STEP_M
    low, high = int(middle) - reach - half, int(middle) + reach + half
    if low < 0 or high >= len(driven):
        return None
    piece = driven[low : high + 1]
    product = np.correlate(piece, shape, mode="valid")
    power = np.sqrt(np.convolve(piece**2, np.ones(len(shape)), mode="valid"))
    fit = product / np.maximum(power * size, 1e-12)
    best = int(np.argmax(fit))
    if fit[best] < ALIKE_AT_LEAST:
        return None
    share = 0.0
    if 0 < best < len(fit) - 1:
        bend = fit[best - 1] - 2.0 * fit[best] + fit[best + 1]
        share = 0.0 if bend >= 0.0 else 0.5 * (fit[best - 1] - fit[best + 1]) / bend
    return float((low + half + best + share) * STEP_M)


def _through(distance: Floats, here: Floats, there: Floats, scale: float) -> Floats:
    """Places of all samples through the anchors; beyond them by the distance at its scale."""
    if len(here) == 0:
        raise InputRefused([Fault("", "no corner of this circuit was found in the log")])
    found: Floats = np.interp(distance, here, there)
    before, after = distance < here[0], distance > here[-1]
    found[before] = there[0] + scale * (distance[before] - here[0])
    found[after] = there[-1] + scale * (distance[after] - here[-1])
    return found


def _scatter_m(here: Floats, there: Floats) -> float:
    """How far corners lie from where their neighbours and the speed between have them [m]."""
    if len(here) < 3:
        return 0.0
    share = (here[1:-1] - here[:-2]) / (here[2:] - here[:-2])
    expected = there[:-2] + share * (there[2:] - there[:-2])
    return float(np.std(there[1:-1] - expected))


def _dropped(log: Log, path: Path, at_m: Floats) -> tuple[Floats, float]:
    """Places by the positions, turned and moved onto the path; and their scatter [m]."""
    assert log.east_m is not None
    assert log.north_m is not None  # as whoever asks has made sure
    known = np.isfinite(log.east_m) & np.isfinite(log.north_m)
    length = path.length_m
    # A ring that does not close is closed as on a map: its gap is spread along it.
    share = path.s_m / length if path.closed else np.zeros_like(path.s_m)
    px = path.x_m - share * (path.x_m[-1] - path.x_m[0])
    py = path.y_m - share * (path.y_m[-1] - path.y_m[0])
    if not path.closed:
        known &= (at_m > -DROPPED_M) & (at_m < length)  # beyond its end there is no path
    x, y, guess = log.east_m[known], log.north_m[known], at_m[known]
    # Where the turning has them may be off by metres; a share of the samples tells by how much.
    some = slice(None, None, -(-len(x) // SEARCHED_MOST))
    middle = _Middle(path.s_m, px, py, length, path.closed)
    near, moved = guess[some], _Moved(1.0, 0.0, 0.0, 0.0)
    for _ in range(4):
        moved = _moved_onto(x[some], y[some], *middle.at(near))
        near = _nearest(*moved.of(x[some], y[some]), middle, near)
    index = np.arange(len(x))
    guess = guess + np.interp(index, index[some], near - guess[some])
    for _ in range(2):
        guess = _beside_path(*moved.of(x, y), middle, guess)
    # A position is right in the long run, the speed from one moment to the next.
    by_speed = travelled_m(log)
    apart = np.interp(log.t_s, log.t_s[known], guess - by_speed[known])
    settled = by_speed + averaged_over(log.t_s, apart, SETTLES_S)
    scatter = float(np.std(guess - settled[known]))
    return np.maximum.accumulate(settled), scatter


@dataclass(frozen=True)
class _Moved:
    """A turn by an angle, given by its cosine and sine, and a move after it [m]."""

    cos: float
    sin: float
    x_m: float
    y_m: float

    def of(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Positions turned and moved."""
        return self.x_m + self.cos * x - self.sin * y, self.y_m + self.sin * x + self.cos * y


def _moved_onto(x: Floats, y: Floats, tx: Floats, ty: Floats) -> _Moved:
    """What lays positions best on their places (Kabsch, in the plane)."""
    cx, cy, dx, dy = x.mean(), y.mean(), tx.mean(), ty.mean()
    ax, ay, bx, by = x - cx, y - cy, tx - dx, ty - dy
    angle = np.arctan2((ax * by - ay * bx).sum(), (ax * bx + ay * by).sum())
    cos, sin = float(np.cos(angle)), float(np.sin(angle))
    return _Moved(cos, sin, float(dx - cos * cx + sin * cy), float(dy - sin * cx - cos * cy))


@dataclass(frozen=True, eq=False)
class _Middle:
    """A path in plan, and how places beyond its ends are folded: round it, or to the ends."""

    s_m: Floats
    x_m: Floats
    y_m: Floats
    length_m: float
    closed: bool

    def fold(self, at_m: Floats) -> Floats:
        """Places on the path [m]."""
        found: Floats = at_m % self.length_m if self.closed else np.clip(at_m, 0.0, self.length_m)
        return found

    def held(self, at_m: Floats) -> Floats:
        """Unfolded places; those of an open path no farther than its ends [m]."""
        return at_m if self.closed else self.fold(at_m)

    def at(self, at_m: Floats) -> tuple[Floats, Floats]:
        """Where places lie on the map [m]."""
        within = self.fold(at_m)
        return np.interp(within, self.s_m, self.x_m), np.interp(within, self.s_m, self.y_m)


def _nearest(x: Floats, y: Floats, middle: _Middle, guess: Floats) -> Floats:
    """The nearest place of the path to each position, near a guess [m, unfolded]."""
    offsets = np.arange(-DROPPED_M, DROPPED_M + 0.5, 2.0)
    best = np.full(len(x), np.inf)
    found = guess.copy()
    for offset in offsets:
        at = middle.held(guess + offset)
        px, py = middle.at(at)
        away = (px - x) ** 2 + (py - y) ** 2
        closer = away < best
        best = np.where(closer, away, best)
        found = np.where(closer, at, found)
    return _beside_path(x, y, middle, found)


def _beside_path(x: Floats, y: Floats, middle: _Middle, guess: Floats) -> Floats:
    """Places near a guess moved along the path's own direction there, to beside the positions."""
    ahead, behind = middle.at(guess + 1.0), middle.at(guess - 1.0)
    ux, uy = ahead[0] - behind[0], ahead[1] - behind[1]
    size = np.maximum(np.hypot(ux, uy), 1e-9)
    px, py = middle.at(guess)
    along = (x - px) * ux + (y - py) * uy
    return middle.held(guess + np.clip(along / size, -2.0, 2.0))
