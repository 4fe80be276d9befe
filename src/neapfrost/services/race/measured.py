"""What a race is like from the logbook, in the place of what would be assumed."""

from dataclasses import dataclass

from neapfrost.core.race.lap_table import LapTable
from neapfrost.services.race.tyres import RaceTyre

#: Grip is moved by this share to see what it is worth in lap time.
NUDGE_SHARE = 0.01


@dataclass(frozen=True)
class MeasuredFade:
    """How lap times on a compound went along runs: seconds each lap, with fuel burning off.

    `within_s` holds four times in five.
    """

    compound: str
    lap_s: float
    within_s: float
    runs: int
    laps: int


@dataclass(frozen=True)
class MeasuredStops:
    """What stops lost in all, standing and all, against two laps driven for their time [s]."""

    loss_s: float
    stops: int


@dataclass(frozen=True)
class Measured:
    """Everything that the logbook knows of a plan's races; what it does not know is left out."""

    litres: float | None = None
    fade: tuple[MeasuredFade, ...] = ()
    stops: MeasuredStops | None = None

    def fade_of(self, compound: str) -> MeasuredFade | None:
        """The fade of a compound; None where none stands out of the laps' scatter."""
        return next((one for one in self.fade if one.compound == compound), None)


NOTHING_MEASURED = Measured()


def faded_as_measured(
    tyre: RaceTyre, fade: MeasuredFade | None, table: LapTable, wetness_pct: float, laps: int
) -> RaceTyre:
    """A compound that fades as its laps did: their slope, and what burnt fuel took off them.

    Both are read from the table about the middle of its loads. A stated life stays.
    """
    if fade is None:
        return tyre
    grip = tyre.warm_grip(wetness_pct)
    fuel_kg = float(table.fuel_kg.mean())
    own_s = table.time_s_at(grip, fuel_kg)
    burnt_kg = table.burn_kg_at(grip, fuel_kg)
    lighter_s = own_s - table.time_s_at(grip, fuel_kg - burnt_kg)
    each_share_s = (table.time_s_at((1.0 - NUDGE_SHARE) * grip, fuel_kg) - own_s) / NUDGE_SHARE
    return tyre.fading(max((fade.lap_s + lighter_s) / each_share_s, 0.0), laps)
