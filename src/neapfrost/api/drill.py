"""Routes of the drill: how a lap sits, rounds of questions, answers, the lap in real time."""

import json
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Query
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.core.drill.order import Asked, Order
from neapfrost.core.units import Units
from neapfrost.formats.document import UnitsSpoken
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
    AnswersFormat,
    Unsure,
    UnsureFormat,
    answers_csv,
    kept_answers,
    unsure,
    unsure_text,
)
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.store.database import Store, now
from neapfrost.store.drill import Learner

router = APIRouter()


def moment() -> datetime:
    """The present moment; set otherwise by tests that let days go by."""
    return now()


Moment = Annotated[datetime, Depends(moment)]


class WhoseQuery(BaseModel):
    """Which lap is drilled ("plan", or a first lap such as "new-1"), and whose cards they are."""

    model_config = ConfigDict(extra="forbid")

    lap: LapKey = PLANNED
    driver: Driver = ""

    def learner(self, plan_id: int) -> Learner:
        """Whose cards of a plan."""
        return Learner(plan_id, self.driver.strip(), self.lap)


class SeededQuery(WhoseQuery):
    """The same, with what draws the words to choose from."""

    seed: Annotated[int, Field(ge=0, le=1_000_000_000)] = 0


class SheetQuery(WhoseQuery):
    """The same, in units."""

    units: UnitsSpoken = "metric"


class RoundQuery(SeededQuery):
    """What a round is made of; `missing` takes away the board that one brakes by."""

    order: Order = "due"
    kinds: Asked = "must"
    missing: bool = False
    corner: Annotated[int, Field(ge=0, description="About one corner alone")] | None = None


def _setting(store: Store, plan_id: int, lap: str, units: Units) -> Setting:
    return setting_of(kept_plan(store, plan_id), lap, units)


@router.get("/api/plans/{plan_id}/drill")
def standing_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, asked: Annotated[WhoseQuery, Query()]
) -> DrillStanding:
    """How a lap sits with a driver: card by card, corner by corner, day by day."""
    setting = _setting(store, plan_id, asked.lap, units)
    return drill_standing(store, setting, asked.learner(plan_id), at)


@router.get("/api/plans/{plan_id}/drill/round")
def round_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, asked: Annotated[RoundQuery, Query()]
) -> DrillRound:
    """Questions in the order in which they are asked."""
    setting = _setting(store, plan_id, asked.lap, units)
    stands = stands_of(store, setting, asked.learner(plan_id), at)
    wanted = RoundWanted(asked.order, asked.kinds, asked.missing, asked.seed, asked.corner)
    return round_of(setting, stands, wanted)


@router.post("/api/plans/{plan_id}/drill/answers")
def answer_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, given: DrillAnswerGiven
) -> DrillScored:
    """Hold an answer against the plan and keep it."""
    return answer(store, plan_id, _setting(store, plan_id, given.lap, units), given, at)


@router.get("/api/plans/{plan_id}/drill/lap")
def lap_of_drill(store: Kept, plan_id: int, units: Spoken, lap: LapKey = PLANNED) -> DrillRun:
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
    store: Kept, plan_id: int, units: Spoken, at: Moment, asked: Annotated[SeededQuery, Query()]
) -> BeforeTheCar:
    """Five minutes before you drive: the weakest corners, the dangerous ones, the cautions."""
    setting = _setting(store, plan_id, asked.lap, units)
    return before_the_car(store, setting, asked.learner(plan_id), asked.seed, at)


@router.get("/api/plans/{plan_id}/drill/unsure")
def unsure_of_drill(
    store: Kept, plan_id: int, units: Spoken, at: Moment, asked: Annotated[WhoseQuery, Query()]
) -> Unsure:
    """What is still unsure."""
    setting = _setting(store, plan_id, asked.lap, units)
    return unsure(store, setting, asked.learner(plan_id), at)


@router.get(
    "/api/plans/{plan_id}/drill/unsure.{form}",
    response_class=Response,
    responses=a_file("md", "csv", "json"),
)
def unsure_file(
    store: Kept,
    plan_id: int,
    form: UnsureFormat,
    at: Moment,
    asked: Annotated[SheetQuery, Query()],
) -> Response:
    """What is still unsure, to take along."""
    setting = _setting(store, plan_id, asked.lap, asked.units)
    sheet = unsure(store, setting, asked.learner(plan_id), at)
    return download(unsure_text(sheet, form), f"unsure.{form}")


@router.get(
    "/api/plans/{plan_id}/drill/answers.{form}",
    response_class=Response,
    responses=a_file("csv", "json"),
)
def answers_file(
    store: Kept,
    plan_id: int,
    form: AnswersFormat,
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
