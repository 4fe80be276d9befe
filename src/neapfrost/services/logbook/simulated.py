"""A run that nobody drove: the simulated driver and logger on a plan."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import driven_laps, hidden_by
from neapfrost.standins.logger.files import log_as
from neapfrost.standins.logger.instruments import Instruments, logged
from neapfrost.standins.logger.log_format import LogFormat

USUAL_LAPS = 8
#: A speed that reads so much high belongs to a simulated log without positions [%].
READS_HIGH_PCT = 1.5


class SimulatedRun(BaseModel):
    """How many laps are driven, by which seed, and how well they are logged.

    The car, the air and the driver of a seed differ from the plan in ways that are not told; those
    of `truth` where that is given, so that several runs are of the same car and day.
    `speed_pct` is by how much the speed reads high, null as usual: a little where no positions are
    logged.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    laps: Annotated[int | None, Field(ge=2, le=30)] = None
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1
    truth: Annotated[int | None, Field(ge=0, le=1_000_000)] = None
    rate_hz: Annotated[float | None, Field(ge=10, le=100)] = None
    places: bool = True
    speed_pct: Annotated[float | None, Field(ge=-5, le=5)] = None


def simulated_log(plan: PlanDocument, wanted: SimulatedRun) -> str:
    """A log of a simulated run on a plan, as text."""
    return simulated_file(plan, wanted, LogFormat.CSV).decode()


def simulated_file(plan: PlanDocument, wanted: SimulatedRun, kind: LogFormat) -> bytes:
    """A log of a simulated run on a plan, as a file of a kind.

    Raises InputRefused for a kind that holds positions alone, where none are logged.
    """
    if kind is LogFormat.NMEA and not wanted.places:
        raise InputRefused([Fault("places", "NMEA sentences hold positions; log them, or use CSV")])
    drive = planned(plan).drive
    hidden = None if wanted.truth is None else hidden_by(wanted.truth)
    # An open course is driven once in a log, after it was learnt.
    count = wanted.laps or USUAL_LAPS
    laps = driven_laps(drive, count, wanted.seed, hidden)
    laps = laps if drive.path.closed else laps[-1:]
    usual_pct = 0.0 if wanted.places else READS_HIGH_PCT
    speed_pct = usual_pct if wanted.speed_pct is None else wanted.speed_pct
    tools = Instruments(
        rate_hz=wanted.rate_hz or Instruments.rate_hz,
        places=wanted.places,
        speed_factor=1.0 + speed_pct / 100.0,
    )
    about = {"Vehicle": plan.car.name, "Track": plan.circuit.name}
    return log_as(kind, logged(laps, wanted.seed, tools), about)
