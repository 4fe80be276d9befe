"""How a race is planned: laps over grip and fuel are driven, then the stops are found over them."""

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import WeatherRecordDocument
from neapfrost.services.race.measured import NOTHING_MEASURED, Measured
from neapfrost.services.race.planning import Given, RaceRequest, planned_race
from neapfrost.services.race.setting import laps_at_most
from neapfrost.services.race.tables import race_table
from neapfrost.services.trade.run import Course, Run

#: Laps that are driven at the most: a table, one with draws, and the plan's own.
LAPS = 14 * 4 + 2


def race_course(
    plan: PlanDocument,
    wanted: RaceRequest,
    record: WeatherRecordDocument | None = None,
    measured: Measured = NOTHING_MEASURED,
) -> Course:
    """How a plan's race is planned. `measured` is what the logbook has of it.

    Raises InputRefused where no race can be planned.
    """
    if not plan.circuit.closed:
        raise InputRefused(
            [
                Fault(
                    "circuit",
                    "this is a point-to-point course; a race is planned on a closed circuit",
                )
            ]
        )

    def drive(run: Run) -> None:
        _, present = run.present()
        lap_s = present.lap.lap_time_s
        most = laps_at_most(plan, lap_s)
        table, drawn = race_table(run, plan, record, most, present.fuel_kg)
        given = Given(plan, wanted, record, table, drawn, lap_s, measured)
        run.tell(race=planned_race(given))

    return Course(LAPS, drive)
