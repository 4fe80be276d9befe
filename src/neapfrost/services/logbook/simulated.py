"""A run that nobody drove: the simulated driver and logger on a plan."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import driven_laps
from neapfrost.standins.logger.instruments import Instruments, log_text, logged


class SimulatedRun(BaseModel):
    """How many laps are driven, by which seed, and how well they are logged.

    The car, the air and the driver of a seed differ from the plan in ways that are not told.
    `speed_pct` is by how much the speed reads high.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    laps: Annotated[int, Field(ge=2, le=30)] = 8
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1
    rate_hz: Annotated[float, Field(ge=10, le=100)] = 25.0
    places: bool = True
    speed_pct: Annotated[float, Field(ge=-5, le=5)] = 0.0


def simulated_log(plan: PlanDocument, wanted: SimulatedRun) -> str:
    """A log of a simulated run on a plan, as text. Raises InputRefused for an open course."""
    drive = planned(plan).drive
    if not drive.path.closed:
        raise InputRefused(
            [Fault("plan", "the simulated driver laps circuits; this plan is an open course")]
        )
    laps = driven_laps(drive, wanted.laps, wanted.seed)
    tools = Instruments(
        rate_hz=wanted.rate_hz,
        places=wanted.places,
        speed_factor=1.0 + wanted.speed_pct / 100.0,
    )
    about = {"Vehicle": plan.car.name, "Track": plan.circuit.name}
    return log_text(logged(laps, wanted.seed, tools), about)
