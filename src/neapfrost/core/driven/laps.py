"""The laps in a log that has been laid along a path."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.alignment import Aligned
from neapfrost.core.driven.log import Log, along_ms2, averaged_over, filled
from neapfrost.core.lap.record import Lap

#: A lap in which the vehicle is slower than this has a stop in it [m/s].
STOPS_BELOW_MS = 2.5
#: A lap slower than the best by more than this share was not driven for its time.
SLOW_SHARE = 1.07
#: Speeds are averaged over so long before their lowest is looked for [s].
AVERAGED_S = 0.2
#: At the start of an open path a vehicle slower than this stands, if it is so near to it [m/s, m].
PULLS_AWAY_MS, NEAR_THE_START_M = 1.0, 40.0
#: So many samples beside a lap are looked at as well, so that what is averaged has no edge in it.
BESIDE = 64

Kind = Literal["timed", "slow", "stop", "out", "in"]


@dataclass(frozen=True)
class LoggedLap:
    """A lap of a log: its number from 1, when it begins and ends [s], and what kind it is.

    An out lap begins with the log, an in lap ends with it; neither has a lap time.
    """

    number: int
    begins_s: float
    ends_s: float
    kind: Kind

    @property
    def lap_time_s(self) -> float | None:
        """Its time, where it was driven from line to line [s]."""
        return None if self.kind in ("out", "in") else self.ends_s - self.begins_s


def find_laps(
    log: Log, aligned: Aligned, length_m: float, closed: bool = True
) -> tuple[LoggedLap, ...]:
    """The laps between crossings of the line, with what lies before the first and after the last.

    A lap is timed unless there is a stop in it or it is far slower than the best. An open path is
    driven once, from its start, or from when the vehicle pulls away there, to its end.
    """
    if not closed:
        return _only_drive(log, aligned, length_m)
    at = aligned.at_m
    first, last = int(np.ceil(at[0] / length_m)), int(np.floor(at[-1] / length_m))
    lines = [length_m * n for n in range(first, last + 1)]
    times = [float(np.interp(line, at, log.t_s)) for line in lines]
    speed = filled(log.t_s, log.v_ms)
    found: list[LoggedLap] = []
    if not times:
        return ()
    begin, end = float(log.t_s[0]), float(log.t_s[-1])
    if times[0] > begin + 1.0:
        found.append(LoggedLap(0, begin, times[0], "out"))
    pairs = list(pairwise(times))
    slowest = [float(speed[(log.t_s >= one) & (log.t_s <= other)].min()) for one, other in pairs]
    driven = [
        other - one
        for (one, other), slow in zip(pairs, slowest, strict=True)
        if slow >= STOPS_BELOW_MS
    ]
    best = min(driven, default=0.0)
    for (one, other), slow in zip(pairs, slowest, strict=True):
        kind: Kind = "timed"
        if slow < STOPS_BELOW_MS:
            kind = "stop"
        elif other - one > SLOW_SHARE * best:
            kind = "slow"
        found.append(LoggedLap(0, one, other, kind))
    if end > times[-1] + 1.0:
        found.append(LoggedLap(0, times[-1], end, "in"))
    return tuple(
        LoggedLap(number, one.begins_s, one.ends_s, one.kind)
        for number, one in enumerate(found, start=1)
    )


def _only_drive(log: Log, aligned: Aligned, length_m: float) -> tuple[LoggedLap, ...]:
    at, speed = aligned.at_m, averaged_over(log.t_s, log.v_ms, AVERAGED_S)
    if at[-1] < length_m or at[0] > NEAR_THE_START_M:
        return ()
    ends = float(np.interp(length_m, at, log.t_s))
    standing = np.flatnonzero((np.abs(at) < NEAR_THE_START_M) & (speed < PULLS_AWAY_MS))
    begins = float(np.interp(0.0, at, log.t_s))
    if len(standing) > 0:
        last = int(standing[-1])
        pulls = np.flatnonzero((log.t_s > log.t_s[last]) & (speed > 2.0 * PULLS_AWAY_MS))
        # Back to where it began to move, at as much as it gained there.
        first = int(pulls[0]) if len(pulls) else last
        gained = float(speed[first] - speed[last]) / max(
            float(log.t_s[first] - log.t_s[last]), 0.02
        )
        begins = float(log.t_s[first]) - float(speed[first]) / max(gained, 0.5)
    return (LoggedLap(1, begins, ends, "timed"),)


@dataclass(frozen=True, eq=False)
class DrivenLog:
    """One lap of a log along its path, with half a lap to either side where the log has it.

    Shapes (m,): place [m], 0 at the line and rising, time [s], 0 at the line, speed (put right by
    the places), acceleration along; gear, throttle and brake where they were logged. `lap_time_s`
    is from line to line.
    """

    at_m: Floats
    t_s: Floats
    v_ms: Floats
    ax_ms2: Floats
    gear: Floats | None
    throttle: Floats | None
    brake: Floats | None
    length_m: float
    lap_time_s: float

    def time_at(self, at_m: Floats) -> Floats:
        """Time at places [s]; beyond the line the lap is gone on with as if driven again."""
        laps, within = np.divmod(at_m, self.length_m)
        inside = (self.at_m >= 0.0) & (self.at_m <= self.length_m)
        s = np.concatenate(([0.0], self.at_m[inside], [self.length_m]))
        t = np.concatenate(([0.0], self.t_s[inside], [self.lap_time_s]))
        found: Floats = np.interp(within, s, t) + laps * self.lap_time_s
        return found

    def speed_at(self, at_m: Floats) -> Floats:
        """Speed at places of the lap [m/s]."""
        found: Floats = np.interp(at_m, self.at_m, self.v_ms)
        return found


def lap_of_log(log: Log, aligned: Aligned, lap: LoggedLap, length_m: float) -> DrivenLog:
    """One lap of a log, ready to be measured."""
    # The place where it begins is a whole number of laps from the start, also of an open path's.
    line = round(float(np.interp(lap.begins_s, log.t_s, aligned.at_m)) / length_m) * length_m
    at = aligned.at_m - line
    # Half a lap to either side, and a few samples more for what is averaged.
    first = max(int(np.searchsorted(at, -0.5 * length_m)) - BESIDE, 0)
    last = int(np.searchsorted(at, 1.5 * length_m)) + BESIDE
    near = log.between(first, last)
    inside = (at[first:last] > -0.5 * length_m) & (at[first:last] < 1.5 * length_m)

    def column(values: Floats | None) -> Floats | None:
        return None if values is None else filled(near.t_s, values)[inside]

    return DrivenLog(
        at_m=at[first:last][inside],
        t_s=near.t_s[inside] - lap.begins_s,
        v_ms=aligned.scale * averaged_over(near.t_s, near.v_ms, AVERAGED_S)[inside],
        ax_ms2=along_ms2(near)[inside],
        gear=column(near.gear),
        throttle=column(near.throttle),
        brake=column(near.brake),
        length_m=length_m,
        lap_time_s=lap.ends_s - lap.begins_s,
    )


def as_if_logged(lap: Lap) -> DrivenLog:
    """A predicted lap as a log of it would be, so that both are measured alike."""
    length = lap.path.length_m
    if not lap.path.closed:
        return DrivenLog(
            lap.s_m,
            lap.t_s,
            lap.v_ms,
            lap.ax_ms2,
            lap.gear.astype(np.float64),
            lap.throttle,
            lap.brake,
            length,
            lap.lap_time_s,
        )

    def column(values: Floats) -> Floats:
        return np.concatenate((values[:-1], values[:-1], values))

    turns = (-1.0, 0.0, 1.0)
    places = [lap.s_m + turn * length for turn in turns]
    times = [lap.t_s + turn * lap.lap_time_s for turn in turns]
    return DrivenLog(
        at_m=np.concatenate((places[0][:-1], places[1][:-1], places[2])),
        t_s=np.concatenate((times[0][:-1], times[1][:-1], times[2])),
        v_ms=column(lap.v_ms),
        ax_ms2=column(lap.ax_ms2),
        gear=column(lap.gear.astype(np.float64)),
        throttle=column(lap.throttle),
        brake=column(lap.brake),
        length_m=length,
        lap_time_s=lap.lap_time_s,
    )
