"""What a little more is worth at each corner, where the two rankings part, and linked corners."""

from functools import lru_cache

from pydantic import BaseModel

from neapfrost.core.studies.linked import Complex, complexes
from neapfrost.core.studies.worth import Worth, worths
from neapfrost.core.units import Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.predict import Prediction, recall
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.worth import describe_complex, describe_rankings, describe_trade


class CornerWorth(BaseModel):
    """What a corner's figures are worth [s], per m/s and per metre, and its ranks from 1."""

    corner: int
    name: str
    per_min_speed_s: float | None
    per_exit_speed_s: float | None
    per_brake_metre_s: float | None
    stretch_m: float | None
    slow_s: float
    time_rank: int
    exit_rank: int | None


class TradePart(BaseModel):
    """Driven radius given in one corner for some in the next [s for each m]."""

    first: int
    second: int
    first_s: float | None
    second_s: float | None
    break_even: float | None
    said: str


class ComplexPart(BaseModel):
    """Corners that are one."""

    corners: list[int]
    tightest: int
    throttle_corner: int
    said: str
    trades: list[TradePart]


class LapWorth(BaseModel):
    """Worths of all corners, the sentence on the two rankings, and the linked corners."""

    corners: list[CornerWorth]
    rankings: str
    complexes: list[ComplexPart]


def lap_worth(plan: PlanDocument, units: Units = "metric") -> LapWorth:
    """What a little more is worth at each corner of a plan. Raises as `recall` does."""
    return _worth(plan.model_dump_json(), units)


@lru_cache(maxsize=32)
def _worth(plan_json: str, units: Units) -> LapWorth:
    prediction = recall(PlanDocument.model_validate_json(plan_json), None)
    found = worths(prediction.driven)
    names = [corner.name for corner in prediction.result.corners]
    say = Saying(units)
    return LapWorth(
        corners=[
            CornerWorth(corner=number, name=names[number], **vars(worth))
            for number, worth in enumerate(found)
        ],
        rankings=describe_rankings(found, names),
        complexes=[
            _complex_part(one, prediction, found, names, say)
            for one in complexes(prediction.driven, found)
        ],
    )


def _complex_part(
    one: Complex,
    prediction: Prediction,
    found: tuple[Worth, ...],
    names: list[str],
    say: Saying,
) -> ComplexPart:
    return ComplexPart(
        corners=list(one.corners),
        tightest=one.tightest,
        throttle_corner=one.throttle_corner,
        said=describe_complex(one, prediction.result.corners, say),
        trades=[
            TradePart(**vars(trade), said=describe_trade(trade, found, names, say))
            for trade in one.trades
        ],
    )
