"""Before the car: five minutes for what sits worst and for what is dangerous."""

from datetime import datetime

from pydantic import BaseModel

from neapfrost.core.drill.order import MUST_KNOW
from neapfrost.services.drill.rounds import DrillQuestion, RoundWanted, question
from neapfrost.services.drill.setting import Setting
from neapfrost.services.drill.standings import knows, stands_of
from neapfrost.services.words.cautions import CAUTIONS
from neapfrost.store.database import Store
from neapfrost.store.drill import Learner


class BeforeCorner(BaseModel):
    """A corner to look at once more, and why."""

    corner: int
    name: str
    weak: bool
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
    """The weakest corners, then those with something dangerous beside them, in the lap's order."""
    stands = stands_of(store, setting, learner, moment)
    chosen = [
        corner for corner in setting.corners if corner.number in stands.weakest or corner.hazards
    ]
    wanted = RoundWanted("lap", "must", False, seed)
    cards = [card for corner in chosen for card in corner.cards if card.kind in MUST_KNOW]
    return BeforeTheCar(
        corners=[
            BeforeCorner(
                corner=corner.number,
                name=corner.corner.name,
                weak=corner.number in stands.weakest,
                hazards=list(corner.hazards),
                sentence=corner.sentence,
                knows=knows(stands, corner),
            )
            for corner in chosen
        ],
        questions=[question(setting, card, stands.of(card), wanted) for card in cards],
        cautions=list(CAUTIONS),
    )
