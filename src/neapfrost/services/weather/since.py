"""What the station's weather has done to a plan since its conditions were written."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.errors import InputRefused
from neapfrost.core.units import Units
from neapfrost.core.weather.along_session import along_session, averaged
from neapfrost.core.weather.flips import Flip, changed
from neapfrost.formats.plan import ConditionsDocument, PlanDocument
from neapfrost.formats.weather import (
    ReadingDocument,
    RubberDocument,
    WaterDocument,
    WeatherRecordDocument,
)
from neapfrost.formats.weather_records import (
    conditions_at,
    drying_record,
    reading_record,
    rubber_record,
)
from neapfrost.services.laps.predict import recall
from neapfrost.services.weather.moments import AVERAGE_MIN
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.weather import (
    describe_no_lap_now,
    describe_since,
    describe_weather_moved,
)


class Since(BaseModel):
    """The plan in the station's weather: whether a call has moved, in words, and what it would be.

    `conditions` are what would be taken; the lap is null where none is possible in them.
    """

    at: str
    moved: bool
    said: str
    conditions: ConditionsDocument
    line_pct: float
    beside_pct: float
    lap_time_s: float | None
    change_s: float | None
    corners: list[str]


def since_plan(
    plan: PlanDocument,
    readings: Sequence[ReadingDocument],
    record: WeatherRecordDocument | None,
    threshold_m: float,
    units: Units = "metric",
) -> Since:
    """A plan in the weather that a station reads now; water and rubber as the record assumes them.

    Raises InputRefused where the plan itself has no lap.
    """
    say = Saying(units)
    raw = [reading_record(one) for one in readings]
    drying = drying_record(WaterDocument() if record is None else record.water)
    rubber = rubber_record(RubberDocument() if record is None else record.rubber)
    (state,) = along_session(averaged(raw, 30.0 * AVERAGE_MIN), drying, rubber, [raw[-1].at_s])
    now = conditions_at(state, plan.conditions)
    own = recall(plan, None).result
    weather = describe_weather_moved(plan.conditions, now, say)
    found = Since(
        at=readings[-1].at,
        moved=True,
        said="",
        conditions=now,
        line_pct=state.line_pct,
        beside_pct=state.beside_pct,
        lap_time_s=None,
        change_s=None,
        corners=[],
    )
    try:
        lap = recall(plan.model_copy(update={"conditions": now}), None).result
    except InputRefused as error:
        trouble = "; ".join(fault.message for fault in error.faults)
        return found.model_copy(update={"said": describe_no_lap_now(weather, trouble)})
    moved: list[tuple[str, Flip]] = []
    for before, after in zip(own.corners, lap.corners, strict=True):
        calls = (
            (before.action, before.brake_start_to_corner_m),
            (after.action, after.brake_start_to_corner_m),
        )
        what = changed(*calls, threshold_m)
        if what is not None:
            moved.append((after.name, Flip(raw[-1].at_s, what, *calls)))
    change_s = lap.lap_time_s - own.lap_time_s
    return found.model_copy(
        update={
            "moved": bool(moved),
            "said": describe_since(weather, moved, change_s, say),
            "lap_time_s": lap.lap_time_s,
            "change_s": change_s,
            "corners": [name for name, _ in moved],
        }
    )
