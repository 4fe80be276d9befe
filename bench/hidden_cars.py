"""Hidden cars over many seeded sessions: how often each figure lies where the fit says.

    python bench/hidden_cars.py [sessions]

Prints, for three plans, the share of sessions in which each figure lies in its stated interval of
four in five, and how wide the intervals are against what was known before; then what is claimed of
cars that are as stated; then how often two runs without a change are called different.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from functools import partial

import numpy as np

from logbook import session  # beside this file
from neapfrost.core.driven.apart import runs_apart
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.learned.conclusions import learnt
from neapfrost.core.learned.figures import FIGURES, Priors
from neapfrost.core.learned.fit import figure_sds, fit
from neapfrost.core.studies.bands import TEN_TO_NINETY
from neapfrost.demo.plans import composed
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import FADE, Hidden, driven_laps, hidden_by

PLANS = {"k4-dry": 8, "k4-samphire": 8, "dunlin-heath": 6}
AS_STATED = Hidden(1.0, 1.0, 1.0, 1.0, 1.0, 0.0, 0.0, 0.992)


def one(name: str, seed: int, degradation: float = FADE) -> tuple[list[float], list[float]]:
    """How many standard deviations each figure is off, and how wide it is against before."""
    drive = planned(composed(name)).drive
    found = fit([session(drive, drive_lap(drive), seed, PLANS[name], None, degradation)], Priors())
    hidden = hidden_by(seed)
    names = ("grip", "along", "downforce", "drag", "power", "mass")
    truth = [*np.log([getattr(hidden, n) for n in names]), hidden.north_ms, hidden.east_ms]
    places, sd = found.where.figures_of(0), figure_sds(found)
    return ((found.x[places] - truth) / sd).tolist(), (sd / found.where.sd[places]).tolist()


def worn(name: str, seed: int) -> tuple[list[float], list[float]]:
    """As `one`, on a set that loses 0.4 to 0.8 % of its grip a lap where 0.15 % are stated."""
    return one(name, seed, 0.004 + 0.004 * (seed % 5) / 4.0)


def claimed(seed: int) -> int:
    """How many figures of a car as stated are said to be otherwise."""
    drive = planned(composed("dunlin-heath")).drive
    found = fit([session(drive, drive_lap(drive), seed, 6, AS_STATED)], Priors())
    return sum(figure.claim == "otherwise" for figure in learnt(found))


def called(seed: int) -> bool:
    """Whether two runs of one car on one day are called different."""
    drive = planned(composed("dunlin-heath")).drive
    hidden = hidden_by(seed)
    runs = [
        [(n, lap.lap_time_s) for n, lap in enumerate(driven_laps(drive, 7, s, hidden))]
        for s in (seed + 1000, seed + 2000)
    ]
    found = runs_apart(*runs)
    return found is not None and found.beyond_noise


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    with ProcessPoolExecutor(2) as pool:
        for name, of in [*((name, one) for name in PLANS), *((name, worn) for name in PLANS)]:
            found = list(pool.map(partial(of, name), range(count)))
            off = np.array([one[0] for one in found])
            wide = np.array([one[1] for one in found]).mean(axis=0)
            inside = (np.abs(off) < TEN_TO_NINETY).mean(axis=0)
            tyres = ", tyres that degrade" if of is worn else ""
            print(f"{name}: {count} sessions of {PLANS[name]} laps{tyres}")
            for figure, share, width in zip(FIGURES, inside, wide, strict=True):
                print(f"  {figure:12s} in its interval {share:.2f}, width {width:.2f} of before")
        otherwise = sum(pool.map(claimed, range(count)))
        print(f"{count} sessions as stated: {otherwise} of {8 * count} figures called otherwise")
        different = sum(pool.map(called, range(100)))
        print(f"100 pairs of runs without a change: {different} called different")


if __name__ == "__main__":
    main()
