"""What a logger wrote, in SI units, and what follows from it alone."""

from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused

#: Slower than this a vehicle stands, and its turning says nothing [m/s].
STANDING_MS = 5.0
#: A log of fewer samples holds no lap.
SAMPLES_FEWEST = 200
#: Positions that stay within this are a receiver's that stood still, or had none [m].
STANDS_WITHIN_M = 20.0
#: Over how long accelerations are averaged before they are looked at [s].
AVERAGED_S = 0.12


@dataclass(frozen=True, eq=False)
class Log:
    """Channels over time, each of shape (n,); None for a channel that was not logged.

    Time [s] rises; speed [m/s]; east and north [m] of any origin; accelerations along (positive
    where it gains speed) and across (positive to the left) [m/s²]; throttle and brake as shares,
    the brake of the hardest it was pressed. Where a sample is missing it is NaN.
    """

    t_s: Floats
    v_ms: Floats
    east_m: Floats | None = None
    north_m: Floats | None = None
    ax_ms2: Floats | None = None
    ay_ms2: Floats | None = None
    rpm: Floats | None = None
    gear: Floats | None = None
    throttle: Floats | None = None
    brake: Floats | None = None

    def between(self, first: int, last: int) -> "Log":
        """The samples from one to before another."""
        columns: dict[str, Any] = {field.name: getattr(self, field.name) for field in fields(self)}
        cut: dict[str, Any] = {
            name: one if one is None else one[first:last] for name, one in columns.items()
        }
        return replace(self, **cut)

    @property
    def has_places(self) -> bool:
        """Whether positions were logged."""
        return self.east_m is not None and self.north_m is not None

    @property
    def moves(self) -> bool:
        """Whether the positions that were logged ever leave where they began."""
        if self.east_m is None or self.north_m is None:
            return False
        return any(
            float(np.nanmax(one) - np.nanmin(one)) > STANDS_WITHIN_M
            for one in (self.east_m, self.north_m)
            if np.isfinite(one).any()
        )


def filled(t_s: Floats, values: Floats) -> Floats:
    """A channel with its missing samples put in, linear in time; shape (n,)."""
    known = np.isfinite(values)
    if known.all():
        return values
    if not known.any():
        raise InputRefused([Fault("channel", "a channel has no numbers")])
    found: Floats = np.interp(t_s, t_s[known], values[known])
    return found


def averaged_over(t_s: Floats, values: Floats, over_s: float) -> Floats:
    """A channel as the mean of so long about every sample; shape (n,)."""
    values = filled(t_s, values)
    step = float(np.median(np.diff(t_s)))
    width = max(round(over_s / step) | 1, 1)
    if width <= 1:
        return values
    half = width // 2
    padded = np.concatenate((np.full(half, values[0]), values, np.full(half, values[-1])))
    total = np.cumsum(np.concatenate(([0.0], padded)))
    found: Floats = (total[width:] - total[:-width]) / width
    return found


def speed_by_places(t_s: Floats, east_m: Floats, north_m: Floats) -> Floats:
    """Speed by positions alone [m/s] (n,): as coarse as they are, averaged over three of them."""
    step = float(np.median(np.diff(t_s)))
    over = max(3.0 * step, 5.0 * AVERAGED_S)
    x, y = averaged_over(t_s, east_m, over), averaged_over(t_s, north_m, over)
    found: Floats = np.hypot(np.gradient(x, t_s), np.gradient(y, t_s))
    return found


def travelled_m(log: Log) -> Floats:
    """Distance by the speed alone, from the first sample [m] (n,): it drifts as the speed errs."""
    v = filled(log.t_s, log.v_ms)
    steps = 0.5 * (v[1:] + v[:-1]) * np.diff(log.t_s)
    return np.concatenate(([0.0], np.cumsum(steps)))


def turning_per_m(log: Log) -> Floats | None:
    """Curvature of the way that was driven [1/m] (n,), positive to the left; None without any.

    From the acceleration across where it was logged, else from the positions.
    """
    v = np.maximum(filled(log.t_s, log.v_ms), STANDING_MS)
    if log.ay_ms2 is not None:
        across: Floats = averaged_over(log.t_s, log.ay_ms2, 2.0 * AVERAGED_S) / v**2
        return across
    if log.east_m is None or log.north_m is None or not log.moves:
        return None
    x = averaged_over(log.t_s, log.east_m, 5.0 * AVERAGED_S)
    y = averaged_over(log.t_s, log.north_m, 5.0 * AVERAGED_S)
    heading = np.unwrap(np.arctan2(np.gradient(y, log.t_s), np.gradient(x, log.t_s)))
    turning: Floats = averaged_over(log.t_s, np.gradient(heading, log.t_s), 5.0 * AVERAGED_S) / v
    return turning


def along_ms2(log: Log) -> Floats:
    """Longitudinal acceleration [m/s²] (n,), averaged: as logged, else from the speed."""
    if log.ax_ms2 is not None:
        return averaged_over(log.t_s, log.ax_ms2, AVERAGED_S)
    v = averaged_over(log.t_s, log.v_ms, 2.0 * AVERAGED_S)
    return averaged_over(log.t_s, np.gradient(v, log.t_s), AVERAGED_S)


def checked_log(log: Log) -> Log:
    """A log that laps can be looked for in. Raises InputRefused for one that cannot."""
    if len(log.t_s) < SAMPLES_FEWEST:
        raise InputRefused(
            [Fault("", f"{len(log.t_s)} samples were read; a lap needs at least {SAMPLES_FEWEST}")]
        )
    timeless = np.flatnonzero(~np.isfinite(log.t_s))
    if len(timeless) > 0:
        raise InputRefused([Fault(f"sample {int(timeless[0]) + 1}", "this sample has no time")])
    back = np.flatnonzero(np.diff(log.t_s) <= 0.0)
    if len(back) > 0:
        at = int(back[0]) + 1
        raise InputRefused(
            [
                Fault(
                    f"sample {at + 1}",
                    f"the time {log.t_s[at]:g} s comes after {log.t_s[at - 1]:g} s; it must rise",
                )
            ]
        )
    known = log.v_ms[np.isfinite(log.v_ms)]
    if len(known) == 0 or float(known.max()) < STANDING_MS:
        raise InputRefused([Fault("speed", "the vehicle never moves in this log")])
    return log
