"""Which unknown stands where: figures, each run's wind and day, the driver, and what scatters."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.learned.figures import FIGURES, WINDS, Priors
from neapfrost.core.learned.seen import RunSeen

#: What a driver leaves unused in corners once a place is learnt, and of the brakes: mean and
#: standard deviation of their logarithms. Nobody uses more than there is; few leave much.
USE_MEAN, USE_SD = -0.008, 0.006
BRAKES_MEAN, BRAKES_SD = -0.03, 0.03
#: What a stint's first lap lacks by not being learnt, and cold tyres on its first two, as shares.
LACKS_MEAN, LACKS_SD = 0.03, 0.03
COLD_MEAN, COLD_SD = (0.035, 0.012), (0.02, 0.012)
#: In how many laps the lack falls to 37 %: the logarithm's mean and standard deviation.
SETTLES_MEAN, SETTLES_SD = float(np.log(2.0)), 0.5
#: By how much a set's degradation may differ from what its compound states [share a lap]. It begins
#: anywhere from the first lap on to when the set is warm: in half of that, within so many laps.
DEGRADES_SD, WARM_LAPS_SD = 0.005, 1.2
#: What one day's surface differs by from another's, as a share.
DAY_SD = 0.012
#: Scatter at first: of corners held, of pulls and stops [shares and m/s²]; of straights, of laps.
SCATTER_AT_FIRST = {"held": 0.006, "pull": 0.08, "stop": 0.03}
SPREAD_AT_FIRST = {"corner": 0.008, "lap": 0.003, "straight": 0.05}
#: No scatter is taken to be less than this.
SCATTER_LEAST = {"held": 0.0005, "pull": 0.005, "stop": 0.003}
SPREAD_LEAST = {"corner": 0.0005, "lap": 0.0003, "straight": 0.015}
COMMON = tuple(name for name in FIGURES if name not in WINDS)


@dataclass(frozen=True, eq=False)
class Layout:
    """Places of the unknowns in one array, with what is known of each before: mean and sd (p,).

    `common` (6,); `wind` (r, 2); `day` (r,), -1 with a single run; `use`, `brakes`, `settles` one
    each; `degrades`, `warm` (r,), alike for runs on one compound; `lacks` (r,), `cold` (r, 2);
    `corner` by name; `lap` of each run's laps; `straight` by corner name.
    """

    common: Integers
    wind: Integers
    day: Integers
    use: int
    brakes: int
    settles: int
    degrades: Integers
    warm: Integers
    lacks: Integers
    cold: Integers
    corner: dict[str, int]
    lap: tuple[Integers, ...]
    straight: dict[str, int]
    mean: Floats
    sd: Floats
    kinds: tuple[str, ...]

    def figures_of(self, run: int) -> Integers:
        """Places of a run's eight figures."""
        return np.concatenate((self.common, self.wind[run]))


def layout_of(runs: Sequence[RunSeen], priors: Priors, spread: dict[str, float]) -> Layout:
    """The unknowns of some runs; `spread` is that of corners, laps and straights."""
    mean: list[float] = []
    sd: list[float] = []
    kinds: list[str] = []

    def put(kind: str, about: float, within: float) -> int:
        mean.append(about)
        sd.append(within)
        kinds.append(kind)
        return len(mean) - 1

    known = priors.sd()
    common = np.array([put("figure", 0.0, float(known[n])) for n in range(len(COMMON))])
    wind = np.array([[put("wind", 0.0, float(known[-1])) for _ in WINDS] for _ in runs])
    several = len(runs) > 1
    day = np.array([put("day", 0.0, DAY_SD) if several else -1 for _ in runs])
    use = put("driver", USE_MEAN, USE_SD)
    brakes = put("driver", BRAKES_MEAN, BRAKES_SD)
    settles = put("driver", SETTLES_MEAN, SETTLES_SD)
    sets = {
        run.tyre.compound: (
            put("driver", run.tyre.degradation, DEGRADES_SD),
            put("driver", 0.5 * run.tyre.warm_up_laps, WARM_LAPS_SD),
        )
        for run in runs
    }
    degrades, warm = np.array([sets[run.tyre.compound] for run in runs], dtype=np.int64).T
    lacks = np.array([put("driver", LACKS_MEAN, LACKS_SD) for _ in runs])
    cold = np.array(
        [
            [put("driver", about, within) for about, within in zip(COLD_MEAN, COLD_SD, strict=True)]
            for _ in runs
        ]
    )
    names = list(dict.fromkeys(c.name for run in runs for c in run.predicted.corners))
    corner = {name: put("corner", 0.0, spread["corner"]) for name in names}
    lap = tuple(
        np.array([put("lap", 0.0, spread["lap"]) for _ in run.on_run], dtype=np.int64)
        for run in runs
    )
    straight = {name: put("straight", 0.0, spread["straight"]) for name in names}
    return Layout(
        common, wind, day, use, brakes, settles, degrades, warm, lacks, cold, corner, lap, straight,
        np.array(mean), np.array(sd), tuple(kinds),
    )  # fmt: skip
