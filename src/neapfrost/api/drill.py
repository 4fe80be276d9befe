"""Routes of the drill: how a lap sits, rounds of questions, answers, the lap in real time."""

import json
from datetime import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.core.drill.order import Asked, Order
from neapfrost.core.units import Units
from neapfrost.services.drill.answering import (
    DrillAnswerGiven,
    DrillScored,
    Driver,
    answer,
)
from neapfrost.services.drill.before import BeforeTheCar, before_the_car
from neapfrost.services.drill.rounds import DrillRound, RoundWanted, round_of
from neapfrost.services.drill.running import DrillRun, Rhythm, RhythmGiven, drill_run, rhythm
from neapfrost.services.drill.setting import PLANNED, LapKey, Setting, setting_of
from neapfrost.services.drill.standings import DrillStanding, drill_standing, stands_of
from neapfrost.services.drill.unsure import (
    Unsure,
    answers_csv,
    kept_answers,
    unsure,
    unsure_text,
)
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store, now
from neapfrost.store.drill import Learner

router = APIRouter()

Lap = Annotated[LapKey, Query(description="The plan's lap, or one of the first laps: new-1")]
Whose = Annotated[Driver, Query(description="Whose cards; nobody's name for one who has none")]
Seed = Annotated[int, Query(ge=0, le=1_000_000_000)]


def moment() -> datetime:
    """The present moment; set otherwise by tests that let days go by."""
    return now()


Moment = Annotated[datetime, Depends(moment)]


class RoundQuery(BaseModel):
    """What a round is made of; `missing` takes away the board that one brakes by."""

    model_config = ConfigDict(extra="forbid")

    lap: LapKey = PLANNED
    driver: Driver = ""
    order: Order = "due"
    kinds: Asked = "must"
    missing: bool = False
    seed: Annotated[int, Field(ge=0, le=1_000_000_000)] = 0
    corner: Annotated[int, Field(ge=0, description="About one corner alone")] | None = None


def _setting(store: Store, plan_id: int, lap: str, units: Units) -> Setting:
    return setting_of(kept_plan(store, plan_id), lap, units)


def _learner(plan_id: int, driver: str, lap: str) -> Learner:
    return Learner(plan_id, driver.strip(), lap)


@router.get("/api/plans/{plan_id}/drill")
def standing_of_drill(
    store: Kept,
    plan_id: int,
    units: Spoken,
    at: Moment,
    lap: Lap = PLANNED,
    driver: Whose = "",
) -> DrillStanding:
    """How a lap sits with a driver: card by card, corner by corner, day by day."""
    setting = _setting(store, plan_id, lap, units)
    return drill_standing(store, setting, _learner(plan_id, driver, lap), at)


@router.get("/api/plans/{plan_id}/drill/round")
def round_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, asked: Annotated[RoundQuery, Query()]
) -> DrillRound:
    """Questions in the order in which they are asked."""
    setting = _setting(store, plan_id, asked.lap, units)
    stands = stands_of(store, setting, _learner(plan_id, asked.driver, asked.lap), at)
    wanted = RoundWanted(asked.order, asked.kinds, asked.missing, asked.seed, asked.corner)
    return round_of(setting, stands, wanted)


@router.post("/api/plans/{plan_id}/drill/answers")
def answer_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, given: DrillAnswerGiven
) -> DrillScored:
    """Hold an answer against the plan and keep it."""
    return answer(store, plan_id, _setting(store, plan_id, given.lap, units), given, at)


@router.get("/api/plans/{plan_id}/drill/lap")
def lap_of_drill(store: Kept, plan_id: int, units: Spoken, lap: Lap = PLANNED) -> DrillRun:
    """The lap in real time: place over time, calls, boards, and what is done when."""
    return drill_run(_setting(store, plan_id, lap, units))


@router.post("/api/plans/{plan_id}/drill/rhythm")
def rhythm_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, given: RhythmGiven
) -> Rhythm:
    """Hold what was pressed on the way against the lap."""
    return rhythm(store, plan_id, _setting(store, plan_id, given.lap, units), given, at)


@router.get("/api/plans/{plan_id}/drill/before")
def before_of_drill(
    store: Kept,
    plan_id: int,
    units: Spoken,
    at: Moment,
    lap: Lap = PLANNED,
    driver: Whose = "",
    seed: Seed = 0,
) -> BeforeTheCar:
    """Five minutes before the car: the weakest corners, the dangerous ones, the cautions."""
    setting = _setting(store, plan_id, lap, units)
    return before_the_car(store, setting, _learner(plan_id, driver, lap), seed, at)


@router.get("/api/plans/{plan_id}/drill/unsure")
def unsure_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, lap: Lap = PLANNED, driver: Whose = ""
) -> Unsure:
    """What is still unsure."""
    return unsure(store, _setting(store, plan_id, lap, units), _learner(plan_id, driver, lap), at)


@router.get(
    "/api/plans/{plan_id}/drill/unsure.{form}",
    response_class=Response,
    responses=a_file("md", "csv", "json"),
)
def unsure_file(
    store: Kept,
    plan_id: int,
    form: Literal["md", "csv", "json"],
    at: Moment,
    units: Units = "metric",
    lap: Lap = PLANNED,
    driver: Whose = "",
) -> Response:
    """What is still unsure, to take along."""
    sheet = unsure(store, _setting(store, plan_id, lap, units), _learner(plan_id, driver, lap), at)
    return download(unsure_text(sheet, form), f"unsure.{form}")


@router.get(
    "/api/plans/{plan_id}/drill/answers.{form}",
    response_class=Response,
    responses=a_file("csv", "json"),
)
def answers_file(
    store: Kept,
    plan_id: int,
    form: Literal["csv", "json"],
    driver: Annotated[Driver | None, Query(description="Of one driver alone")] = None,
) -> Response:
    """Every answer as it was given; figures in SI."""
    kept_plan(store, plan_id)
    answers = kept_answers(store, plan_id, driver)
    if form == "csv":
        return download(answers_csv(answers), "answers.csv")
    text = json.dumps(
        [one.model_dump(mode="json") for one in answers], indent=2, ensure_ascii=False
    )
    return download(text, "answers.json")
