"""What a little more is worth at each corner, where the two rankings part, and linked corners."""

from functools import lru_cache

from pydantic import BaseModel

from neapfrost.core.studies.linked import Complex, complexes
from neapfrost.core.studies.worth import Worth, worths
from neapfrost.formats.corner_table import METRES_PER, Units
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.predict import Prediction, recall
from neapfrost.services.words.saying import Saying

#: Ranks this far apart are a disagreement worth a word, among so many corners at the top.
APART, TOP = 3, 3


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
        rankings=_rankings(found, names),
        complexes=[
            _complex_part(one, prediction, found, names, say)
            for one in complexes(prediction.driven, found)
        ],
    )


def _rankings(found: tuple[Worth, ...], names: list[str]) -> str:
    """Where time spent in a corner and exit carried out of it rank it otherwise."""
    if not found:
        return ""
    by_time = sorted(range(len(found)), key=lambda n: found[n].time_rank)
    by_exit = sorted(
        (n for n in range(len(found)) if found[n].exit_rank is not None),
        key=lambda n: found[n].exit_rank or 0,
    )
    if not by_exit:
        return ""
    if by_time[0] == by_exit[0]:
        lead = f"{names[by_time[0]]} counts most either way"
    else:
        lead = (
            f"Most time is spent in {names[by_time[0]]}; exit speed counts most out of "
            f"{names[by_exit[0]]}"
        )
    apart = [
        n
        for n in by_exit[:TOP]
        if found[n].time_rank - (found[n].exit_rank or 0) >= APART and n != by_exit[0]
    ]
    if apart:
        lead += "; " + ", ".join(names[n] for n in apart) + " too for the exit more than the time"
    return f"{lead}."


def _complex_part(
    one: Complex,
    prediction: Prediction,
    found: tuple[Worth, ...],
    names: list[str],
    say: Saying,
) -> ComplexPart:
    corners = prediction.result.corners
    joined = " and ".join(names[n] for n in one.corners)
    tightest = names[one.tightest]
    said = (
        f"{joined} are one: {tightest} is the tightest part at "
        f"{say.speed(corners[one.tightest].min_speed_ms)}, and the throttle belongs after "
        f"{names[one.throttle_corner]}."
    )
    per = METRES_PER[say.units]
    unit = say.length_unit
    trades = []
    for trade in one.trades:
        first, second = names[trade.first], names[trade.second]
        if trade.first_s is None or trade.second_s is None or trade.break_even is None:
            text = f"{first} and {second}: one of them has no price of its own."
        else:
            text = (
                f"1 {unit} of driven radius given in {first} costs {trade.first_s * per:.3f} s and "
                f"1 {unit} gained in {second} pays {trade.second_s * per:.3f} s: worth it from "
                f"{trade.break_even:.2f} {unit} gained for each given."
            )
            given, taken = found[trade.first], found[trade.second]
            if given.per_min_speed_s is not None and taken.per_min_speed_s is not None:
                text += (
                    f" 1 {say.speed_unit} given up in {first} costs "
                    f"{given.per_min_speed_s / say.per_speed:.3f} s, 1 {say.speed_unit} more in "
                    f"{second} pays {taken.per_min_speed_s / say.per_speed:.3f} s."
                )
        trades.append(TradePart(**{**vars(trade), "said": text}))
    return ComplexPart(
        corners=list(one.corners),
        tightest=one.tightest,
        throttle_corner=one.throttle_corner,
        said=said,
        trades=trades,
    )
