"""What is still unsure, to take along, and every answer: as data, Markdown and CSV."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from neapfrost.formats.escaping import markdown_text, sheet_text
from neapfrost.services.drill.setting import Setting
from neapfrost.services.drill.standings import answered_right, knows, stands_of
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.services.words.drill import KIND_LABELS, describe_knows
from neapfrost.store.database import Store, reading
from neapfrost.store.drill import Learner, list_answers

AnswersFormat = Literal["csv", "json"]
UnsureFormat = Literal["md", "csv", "json"]


class UnsureCorner(BaseModel):
    """A corner that is not known yet: what of it, and what is right."""

    corner: int
    name: str
    unsure: list[str]
    hazards: list[str]
    sentence: str


class Unsure(BaseModel):
    """What is still unsure."""

    plan: str
    circuit: str
    car: str
    driver: str
    said: str
    corners: list[UnsureCorner]
    cautions: list[str]


class KeptAnswer(BaseModel):
    """An answer as it was given; figures in SI, moments in UTC."""

    answered_at: datetime
    driver: str
    lap: str
    corner: str
    kind: str
    way: str
    given: str
    right: str
    off: str
    inside: bool
    dangerous: bool
    price_s: float | None
    took_s: float | None


def unsure(store: Store, setting: Setting, learner: Learner, moment: datetime) -> Unsure:
    """Every corner of which something was not answered right last, or was never asked."""
    stands = stands_of(store, setting, learner, moment)
    corners = []
    for corner in setting.corners:
        left = [card for card in corner.cards if not answered_right(stands, card)]
        if left:
            corners.append(
                UnsureCorner(
                    corner=corner.number,
                    name=corner.corner.name,
                    unsure=[KIND_LABELS[card.kind] for card in left],
                    hazards=list(corner.hazards),
                    sentence=corner.sentence,
                )
            )
    known = sum(knows(stands, corner) for corner in setting.corners)
    return Unsure(
        plan=setting.plan.name,
        circuit=setting.plan.circuit.name,
        car=setting.plan.car.name,
        driver=learner.driver,
        said=describe_knows(known, len(setting.corners)),
        corners=corners,
        cautions=list(CAUTIONS),
    )


def unsure_text(sheet: Unsure, form: UnsureFormat) -> str:
    """The sheet of what is unsure as Markdown, CSV or JSON."""
    if form == "json":
        return sheet.model_dump_json(indent=2)
    if form == "csv":
        rows = [
            [
                str(one.corner + 1),
                one.name,
                "; ".join(one.unsure),
                ", ".join(one.hazards),
                one.sentence,
            ]
            for one in sheet.corners
        ]
        return sheet_text([["number", "corner", "unsure", "hazards", "correct answer"], *rows])
    title = f"{sheet.circuit}: {sheet.car}" + (f", {sheet.driver}" if sheet.driver else "")
    parts = [f"# {markdown_text(title)}", "", f"{sheet.said}", ""]
    for one in sheet.corners:
        beside = f" ({', '.join(one.hazards)})" if one.hazards else ""
        lead = f"{one.corner + 1}. **{markdown_text(one.name)}**{beside}: "
        left = f" Unsure: {', '.join(one.unsure).lower()}."
        parts.append(lead + markdown_text(one.sentence) + left)
    parts += ["", *(f"> {caution}" for caution in sheet.cautions)]
    return "\n".join(parts) + "\n"


def kept_answers(store: Store, plan_id: int, driver: str | None) -> list[KeptAnswer]:
    """Every answer about a plan, the first one first; of everybody without a driver."""
    with reading(store) as session:
        rows = list_answers(session, plan_id, driver)
        return [
            KeptAnswer(**{field: getattr(row, field) for field in KeptAnswer.model_fields})
            for row in rows
        ]


def answers_csv(answers: list[KeptAnswer]) -> str:
    """Answers as CSV, one a line."""
    fields = list(KeptAnswer.model_fields)
    rows = [
        ["" if value is None else str(value) for value in one.model_dump(mode="json").values()]
        for one in answers
    ]
    return sheet_text([fields, *rows])
