"""What a logger's instruments make of laps: samples with noise, lag, steps, gaps and drift."""

import io
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.lap.record import Lap
from neapfrost.core.units import KMH_PER_MS

#: A vehicle pulls away from, and comes to, its stand with so much [m/s²].
PULLS_MS2, STOPS_MS2 = 3.5, 4.0
#: From one lap to the next speeds change over so much on either side of the line [m].
BLENDED_M = 40.0
#: Before an open course a vehicle stands so long in its log [s].
STANDS_S = 4.0


@dataclass(frozen=True)
class Instruments:
    """How well a logger measures: rate, noise, drift and what is missing.

    `speed_factor` is a wheel that is larger or smaller than it is thought to be. `places` False:
    no positions. `stuck` names a channel that stays where it was at its middle.
    """

    rate_hz: float = 25.0
    place_sd_m: float = 0.8
    speed_sd_ms: float = 0.08
    g_sd: float = 0.03
    lag_s: float = 0.06
    speed_factor: float = 1.0
    places: bool = True
    gaps: int = 2
    stuck: str | None = None


#: Columns of a log: what it is called, its unit, and its decimals.
COLUMNS = (
    ("Time", "s", 3),
    ("Speed", "km/h", 2),
    ("Latitude", "deg", 7),
    ("Longitude", "deg", 7),
    ("Lateral g", "g", 3),
    ("Longitudinal g", "g", 3),
    ("Engine", "1/min", 0),
    ("Gear", "", 0),
    ("Throttle", "%", 1),
    ("Brake pressure", "bar", 1),
)
HARDEST_BAR = 92.0
#: What the clock of a log says at its first sample [s].
BEGINS_S = 12.5


def logged(
    laps: Sequence[Lap],
    seed: int,
    instruments: Instruments | None = None,
    stops_after: Sequence[int] = (),
    origin: tuple[float, float] = (52.0, 4.0),
) -> dict[str, Floats]:
    """Columns of a log by their names: out of the pits, so many laps, in again.

    `stops_after` are laps after which the vehicle stands for a while; `origin` is where the start
    of the path lies (latitude, longitude).
    """
    tools = instruments or Instruments()
    clock, at, speed = truth(laps, tools.rate_hz, stops_after)
    chance = np.random.default_rng([seed, 3])
    path = laps[0].path
    within = at % path.length_m if path.closed else np.clip(at, 0.0, path.length_m)
    number = np.clip((at // path.length_m).astype(int), 0, len(laps) - 1)
    columns = {"Time": clock + BEGINS_S}
    columns["Speed"] = KMH_PER_MS * np.maximum(
        speed * tools.speed_factor + tools.speed_sd_ms * chance.standard_normal(len(clock)), 0.0
    )
    columns["Latitude"], columns["Longitude"] = _places(laps[0], within, tools, chance, origin)
    middle = 0.5 * (path.s_m[1:] + path.s_m[:-1])
    turning = np.interp(
        within, middle, 0.5 * (path.curvature_start + path.curvature_end), period=path.length_m
    )
    along = np.gradient(speed, clock)
    for name, value in (("Lateral g", speed**2 * turning), ("Longitudinal g", along)):
        noise = tools.g_sd * chance.standard_normal(len(clock))
        columns[name] = value / STANDARD_GRAVITY_MS2 + noise
    pedals = {"Engine": "rpm", "Gear": "gear", "Throttle": "throttle", "Brake pressure": "brake"}
    for name, field in pedals.items():
        columns[name] = _of_laps(laps, field, number, within)
    columns["Throttle"] *= 100.0
    lagging = round(tools.lag_s * tools.rate_hz)
    columns["Brake pressure"] = HARDEST_BAR * np.roll(columns["Brake pressure"], lagging)
    slow = speed < 8.0
    columns["Brake pressure"] = np.where(slow, 0.0, columns["Brake pressure"])
    _spoil(columns, tools, chance)
    return columns


def truth(
    laps: Sequence[Lap], rate_hz: float, stops_after: Sequence[int] = ()
) -> tuple[Floats, Floats, Floats]:
    """Time [s], place along the path [m, rising] and speed [m/s] at every sample, as they are."""
    if not laps[0].path.closed:
        return _once(laps[0], rate_hz)
    s, v, which = _along(laps, set(stops_after))
    t = _times(s, v, which, set(stops_after))
    clock = np.arange(0.0, t[-1], 1.0 / rate_hz)
    return clock, np.interp(clock, t, s), np.interp(clock, t, v)


def _once(lap: Lap, rate_hz: float) -> tuple[Floats, Floats, Floats]:
    """An open course, driven once: standing before the start, rolling out after the end."""
    roll_m = float(lap.v_ms[-1]) ** 2 / (2.0 * STOPS_MS2)
    rolled = np.linspace(0.0, 0.98 * roll_m, 60)[1:]
    slowing = np.sqrt(lap.v_ms[-1] ** 2 - 2.0 * STOPS_MS2 * rolled)
    s = np.concatenate((lap.s_m, lap.path.length_m + rolled))
    v = np.concatenate((lap.v_ms, slowing))
    steps = np.diff(np.concatenate(([0.0], rolled)))
    before = np.concatenate((lap.v_ms[-1:], slowing[:-1]))
    t = np.concatenate((lap.t_s, lap.t_s[-1] + np.cumsum(2.0 * steps / (before + slowing))))
    clock = np.arange(0.0, STANDS_S + t[-1], 1.0 / rate_hz)
    driven = clock - STANDS_S
    speed = np.where(driven < 0.0, 0.0, np.interp(driven, t, v))
    return clock, np.interp(driven, t, s), speed


def log_text(
    columns: dict[str, Floats],
    about: dict[str, str] | None = None,
    decimals: dict[str, int] | None = None,
) -> str:
    """A log as loggers write it: a preamble, names, units, then samples.

    `decimals` are those of columns that are not written with their usual ones.
    """
    sheet = io.StringIO()
    for name, value in {"Logger": "Simulated data logger", **(about or {})}.items():
        sheet.write(f'"{name}","{value}"\r\n')
    sheet.write("\r\n")
    known = [one for one in COLUMNS if one[0] in columns]
    sheet.write(",".join(name for name, _, _ in known) + "\r\n")
    sheet.write(",".join(unit for _, unit, _ in known) + "\r\n")
    texts = [
        np.where(
            np.isnan(columns[name]),
            "",
            np.char.mod(f"%.{(decimals or {}).get(name, usual)}f", columns[name]),
        )
        for name, _, usual in known
    ]
    for row in zip(*texts, strict=True):
        sheet.write(",".join(row) + "\r\n")
    return sheet.getvalue()


def _along(laps: Sequence[Lap], stops: set[int]) -> tuple[Floats, Floats, Floats]:
    """Distance [m], speed [m/s] and lap of every metre that is driven."""
    length = laps[0].path.length_m
    grid = np.arange(0.0, length, 1.0)
    speeds = [np.interp(grid, lap.s_m, lap.v_ms) for lap in laps]
    s = np.concatenate([grid + n * length for n in range(len(laps))])
    v = np.concatenate(speeds)
    which = np.repeat(np.arange(len(laps), dtype=np.float64), len(grid))
    for n in range(1, len(laps)):
        # One lap's speeds give way to the next one's: each is known on both sides of the line.
        near = np.flatnonzero(np.abs(s - n * length) < BLENDED_M)
        share = 0.5 + 0.5 * (s[near] - n * length) / BLENDED_M
        within = s[near] % length
        before, after = (np.interp(within, grid, speeds[k], period=length) for k in (n - 1, n))
        v[near] = (1.0 - share) * before + share * after
    # Out of the pits at the beginning, into them at the end and at each stop.
    ends = [s[-1], *(length * n for n in stops)]
    starts = [s[0], *(length * n for n in stops)]
    for place in starts:
        on = np.maximum(s - place, 0.0)
        v = np.where(s >= place, np.minimum(v, np.sqrt(2.0 * PULLS_MS2 * on + 0.5)), v)
    for place in ends:
        left = np.maximum(place - s, 0.0)
        v = np.where(s <= place, np.minimum(v, np.sqrt(2.0 * STOPS_MS2 * left + 0.5)), v)
    return s, v, which


def _times(s: Floats, v: Floats, which: Floats, stops: set[int]) -> Floats:
    """When every metre is passed [s]; the vehicle stands half a minute at each stop."""
    t = np.concatenate(([0.0], np.cumsum(np.diff(s) * 2.0 / (v[1:] + v[:-1]))))
    for lap in stops:
        t = np.where(which >= lap, t + 30.0, t)
    return t


def _of_laps(laps: Sequence[Lap], field: str, number: Floats, within: Floats) -> Floats:
    """A channel that belongs to the interval before each sample."""
    found = np.zeros(len(within))
    for n, lap in enumerate(laps):
        here = number == n
        index = np.clip(np.searchsorted(lap.s_m, within[here], side="right") - 1, 0, None)
        found[here] = np.asarray(getattr(lap, field), dtype=np.float64)[index]
    return found


def _places(
    lap: Lap,
    within: Floats,
    tools: Instruments,
    chance: np.random.Generator,
    origin: tuple[float, float],
) -> tuple[Floats, Floats]:
    """Latitude and longitude with noise that wanders, as a receiver's does."""
    import pymap3d

    path = lap.path
    share = path.s_m / path.length_m if path.closed else np.zeros_like(path.s_m)
    x = np.interp(within, path.s_m, path.x_m - share * (path.x_m[-1] - path.x_m[0]))
    y = np.interp(within, path.s_m, path.y_m - share * (path.y_m[-1] - path.y_m[0]))
    wander = np.zeros((2, len(within)))
    stays = np.exp(-1.0 / (tools.rate_hz * 4.0))
    fresh = np.sqrt(1.0 - stays**2) * chance.standard_normal((2, len(within)))
    for n in range(1, len(within)):
        wander[:, n] = stays * wander[:, n - 1] + fresh[:, n]
    wander = tools.place_sd_m * (0.8 * wander + 0.6 * chance.standard_normal(wander.shape))
    turn = np.radians(90.0 - path.north_deg)
    east = (x + wander[0]) * np.cos(turn) - (y + wander[1]) * np.sin(turn)
    north = (x + wander[0]) * np.sin(turn) + (y + wander[1]) * np.cos(turn)
    lat, lon, _ = pymap3d.enu2geodetic(east, north, np.zeros(len(east)), *origin, 0.0)
    return np.asarray(lat), np.asarray(lon)


def _spoil(columns: dict[str, Floats], tools: Instruments, chance: np.random.Generator) -> None:
    """Gaps in the positions, a stuck channel, and what is not logged at all."""
    count = len(columns["Time"])
    for _ in range(tools.gaps):
        first = int(chance.integers(0, count))
        gone = slice(first, first + round(1.2 * tools.rate_hz))
        columns["Latitude"][gone] = np.nan
        columns["Longitude"][gone] = np.nan
    if tools.stuck is not None and tools.stuck in columns:
        stuck = columns[tools.stuck]
        stuck[count // 2 :] = stuck[count // 2]
    if not tools.places:
        del columns["Latitude"], columns["Longitude"]
