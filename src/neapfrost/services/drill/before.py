"""Before the car: five minutes for what sits worst and for what is dangerous."""

from datetime import datetime

from pydantic import BaseModel

from neapfrost.core.drill.order import MUST_KNOW
from neapfrost.services.drill.rounds import DrillQuestion, RoundWanted, question
from neapfrost.services.drill.setting import Setting
from neapfrost.services.drill.standings import knows, stands_of
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.store.database import Store, reading
from neapfrost.store.drill import Learner, list_answers


class BeforeCorner(BaseModel):
    """A corner to look at once more, and why.

    `dangerous` says that the last answer to one of its questions was on the dangerous side.
    """

    corner: int
    name: str
    weak: bool
    dangerous: bool
    hazards: list[str]
    sentence: str
    knows: bool


class BeforeTheCar(BaseModel):
    """The weakest corners and the dangerous ones with their questions, and the cautions."""

    corners: list[BeforeCorner]
    questions: list[DrillQuestion]
    cautions: list[str]


def before_the_car(
    store: Store, setting: Setting, learner: Learner, seed: int, moment: datetime
) -> BeforeTheCar:
    """Corners last answered on the dangerous side, then the weakest and those with a hazard.

    Both in the lap's order.
    """
    stands = stands_of(store, setting, learner, moment)
    dangerous = _answered_dangerously(store, learner)
    chosen = [
        corner
        for corner in setting.corners
        if corner.number in stands.weakest or corner.hazards or corner.corner.name in dangerous
    ]
    chosen.sort(key=lambda corner: corner.corner.name not in dangerous)
    wanted = RoundWanted("lap", "must", False, seed)
    cards = [card for corner in chosen for card in corner.cards if card.kind in MUST_KNOW]
    return BeforeTheCar(
        corners=[
            BeforeCorner(
                corner=corner.number,
                name=corner.corner.name,
                weak=corner.number in stands.weakest,
                dangerous=corner.corner.name in dangerous,
                hazards=list(corner.hazards),
                sentence=corner.sentence,
                knows=knows(stands, corner),
            )
            for corner in chosen
        ],
        questions=[question(setting, card, stands.of(card), wanted) for card in cards],
        cautions=list(CAUTIONS),
    )


def _answered_dangerously(store: Store, learner: Learner) -> set[str]:
    """Corners of which a question was last answered on the dangerous side, by name."""
    with reading(store) as session:
        answers = list_answers(session, learner.plan_id, learner.driver)
    last = {(one.corner, one.kind): one.dangerous for one in answers if one.lap == learner.lap}
    return {corner for (corner, _), dangerous in last.items() if dangerous}
