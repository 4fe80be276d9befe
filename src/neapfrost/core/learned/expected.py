"""What the model has a run show, by the figures, and how that goes with each of them."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.laps import AVERAGED_S
from neapfrost.core.kernels.pedals import BY_PEDAL, RATE, pulls, stops
from neapfrost.core.lap.drive import Drive, packed
from neapfrost.core.lap.light import light
from neapfrost.core.lap.pack_road import straightened_road
from neapfrost.core.lap.record import places_on_grid
from neapfrost.core.lap.solve import in_parallel, never, solved
from neapfrost.core.learned.figures import FIGURES, with_figures
from neapfrost.core.learned.seen import Pull, RunSeen, beside, holds

#: By how much each figure is moved to see what goes with it: shares, and wind [m/s].
MOVED = np.array([0.01, 0.01, 0.02, 0.02, 0.02, 0.02, 0.5, 0.5])
#: A pull counts where the engine alone bounds so much of it.
BOUND_BY_ENGINE = 0.999
#: Places across which a speed is averaged, as shares of the way gone while it is.
MOMENT = np.linspace(-0.4, 0.4, 5)


@dataclass(frozen=True, eq=False)
class Shown:
    """What the model shows: speeds held (c,) as logarithms, lap time, each pull's and stop's rate.

    Not a number where a corner is not held by grip, or a pull not bound by the engine alone.
    """

    held: Floats
    lap_time_s: float
    pulls: Floats
    stops: Floats


@dataclass(frozen=True, eq=False)
class Expected:
    """What is shown at some figures, and its slopes with each of them, (…, 8)."""

    at: Shown
    slopes: Shown
    time_slopes: Floats


def expected(run: RunSeen, values: Floats, stopped: Callable[[], bool] = never) -> Expected:
    """What the model shows at figures (8,) and beside them. Raises LapImpossible, Stopped."""
    moved = [np.zeros(len(FIGURES))]
    for number, by in enumerate(MOVED):
        one = np.zeros(len(FIGURES))
        one[number] = by
        moved += [one, -one]
    # The scatter of a solver's own decisions, a gear here or there, is halved by both sides.
    found = in_parallel(lambda one: shown(run, values + one), moved, stopped)
    at, ups, downs = found[0], found[1::2], found[2::2]

    def slopes(name: str) -> Floats:
        columns = [
            (getattr(up, name) - getattr(down, name)) / (2.0 * by)
            for up, down, by in zip(ups, downs, MOVED, strict=True)
        ]
        return np.stack(columns, axis=-1)

    time = slopes("lap_time_s")
    return Expected(at, Shown(slopes("held"), 0.0, slopes("pulls"), slopes("stops")), time)


def shown(run: RunSeen, values: Floats) -> Shown:
    """What the model shows of a run at some figures (8,). Raises LapImpossible."""
    drive = with_figures(run.drive, values)
    found = solved(drive)
    lap = light(found)
    path = drive.path
    held = np.full(len(run.predicted.corners), np.nan)
    for index, corner in enumerate(run.predicted.corners):
        if holds(corner):
            # A logged speed is averaged over a moment, which lifts it where braking turns to
            # driving at once: the model's is averaged alike.
            moment = AVERAGED_S * corner.min_speed_ms * MOMENT
            at = path.ring.fold(beside(corner)[:, None] + moment[None, :])
            speed = np.interp(at, path.s_m, lap.speed_ms).mean(axis=1)
            held[index] = float(np.log(speed).mean())
    return Shown(held, lap.lap_time_s, _rates(drive, run.pulls), _rates(drive, run.stops))


def _rates(drive: Drive, stretches: tuple[Pull, ...]) -> Floats:
    """The model's mean acceleration over each stretch at the speeds that were driven [m/s²]."""
    work = packed(drive)
    straight = straightened_road(work.road)
    rates = np.full(len(stretches), np.nan)
    for number, one in enumerate(stretches):
        step, share = places_on_grid(drive.path, drive.path.ring.fold(one.at_m))
        w = one.v_ms**2
        out = np.empty((len(step), 2))
        if one.gear is None:
            stops(work.case, straight, step, share, w, out)
        else:
            gear = np.full(len(step), min(one.gear, len(drive.vehicle.gearbox.ratios)) - 1)
            pulls(work.case, work.road, step, share, w, gear.astype(np.int64), out)
        if out[:, BY_PEDAL].mean() >= BOUND_BY_ENGINE:
            rates[number] = float(out[:, RATE].mean())
    return rates
