"""A whole race sheet, for whoever waits for it."""

from neapfrost.core.errors import InputRefused
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.services.race.course import race_course
from neapfrost.services.race.energy import EnergyRequest, energy_course
from neapfrost.services.race.measured import NOTHING_MEASURED, Measured
from neapfrost.services.race.passing import passing
from neapfrost.services.race.planning import RaceRequest
from neapfrost.services.race.sheet import RaceSheet, race_sheet
from neapfrost.services.studies.alone import driven_alone


def whole_race(
    plan: PlanDocument,
    record: WeatherRecordDocument | None = None,
    measured: Measured = NOTHING_MEASURED,
    units: Units = "metric",
) -> RaceSheet:
    """A plan's race with everything that goes on its sheet. Raises InputRefused."""
    race = driven_alone(plan, race_course(plan, RaceRequest(), record, measured)).race
    assert race is not None  # as of every race that was planned
    try:
        energy = driven_alone(plan, energy_course(plan, EnergyRequest())).energy
    except InputRefused:
        energy = None  # a car without a store
    return race_sheet(plan, race, passing(plan, units), energy)
