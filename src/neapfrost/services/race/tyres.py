"""The compounds of a plan as a race takes them: grip by age and water, and how long a set lasts."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.car.compound import Compound, lap_factor, tyre_state
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import compound_record, named

#: What a set of which nothing is stated lasts: until its fade has taken so much of the grip.
FADED_SHARE = 0.15
AS_PLANNED = "As planned"


@dataclass(frozen=True)
class RaceTyre:
    """A compound in a race; `fade_share` is lost with every lap once it is warm.

    `life_laps` is stated, or where the fade has taken all that anybody bears.
    """

    name: str
    compound: Compound
    fade_share: float
    life_laps: int
    life_stated: bool
    track_temp_c: float

    def grip(self, age: int, wetness_pct: float) -> float:
        """Grip against the car's stated one, on a lap of a set and at a wetness."""
        return tyre_state(self.compound, age, self.track_temp_c, wetness_pct).all

    @property
    def warm_age(self) -> int:
        """The lap of a set that is the first on which it is warm."""
        return len(self.compound.warm_up)

    def warm_grip(self, wetness_pct: float) -> float:
        """Grip of a warm and new set."""
        return tyre_state(self.compound, None, self.track_temp_c, wetness_pct).all

    def grips(self, ages: int, wetness_pct: float) -> Floats:
        """Grip of each lap of a set (ages,)."""
        laps = np.array([lap_factor(self.compound, age) for age in range(ages)])
        grips: Floats = self.warm_grip(wetness_pct) * laps
        return grips

    def fading(self, share: float, laps: int) -> "RaceTyre":
        """The same compound with another fade, in a race of so many laps at the most."""
        life = self.life_laps if self.life_stated else _faded_laps(share, self.compound, laps)
        compound = replace(self.compound, fade_share=share)
        return replace(self, compound=compound, fade_share=share, life_laps=life)

    def grips_over(self, wetness_pct: Floats) -> Floats:
        """Grip of a warm and new set at wetnesses (n,)."""
        return np.array([self.warm_grip(float(wet)) for wet in wetness_pct])


def race_tyres(plan: PlanDocument, laps: int, lap_mj: float | None) -> list[RaceTyre]:
    """The compounds of a plan's car; one that is as in the plan where there are none.

    `lap_mj` is the energy that a lap puts into the tyres, None where no fade by it is asked for.
    """
    track = plan.conditions.track_temp_c
    if not plan.car.compounds:
        nothing = Compound(1.0, (), 0.0, (-100.0, 200.0), 0.0)
        return [RaceTyre(AS_PLANNED, nothing, 0.0, laps, False, track)]
    found = []
    for document in plan.car.compounds:
        record = compound_record(document)
        by_energy = document.fade_pct_per_mj / 100.0 * (lap_mj or 0.0)
        fade = record.fade_share + by_energy
        stated = document.life_laps
        life = _faded_laps(fade, record, laps) if stated is None else max(1, min(laps, stated))
        found.append(
            RaceTyre(
                document.name,
                replace(record, fade_share=fade),
                fade,
                life,
                stated is not None,
                track,
            )
        )
    return found


def _faded_laps(fade_share: float, compound: Compound, laps: int) -> int:
    """How long a set lasts whose life is not stated, in a race of so many laps at the most."""
    if fade_share <= 0.0:
        return laps
    return max(1, min(laps, int(FADED_SHARE / fade_share) + len(compound.warm_up)))


def own_tyre(plan: PlanDocument, tyres: list[RaceTyre]) -> int:
    """The number of the compound that the plan is on; the first where it names none."""
    setup = named(plan.car.setups, plan.setup)
    names = [tyre.name for tyre in tyres]
    return names.index(setup.compound) if setup is not None and setup.compound in names else 0
