"""Figures of a plan changed, the lap that follows, and what it is worth; nothing is stored."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused, refused_in
from neapfrost.formats.document import UnitsSpoken
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import ResultDocument, Revisions
from neapfrost.services.laps.comparison import Comparison, compare
from neapfrost.services.laps.figures import Assumptions, Change, apply_changes, assumptions
from neapfrost.services.laps.predict import recall
from neapfrost.services.words.lap import LapWords, lap_words

CHANGES_MOST = 50
#: So many what-ifs may be named that will perhaps be asked next.
FORESEEN_MOST = 4


class WhatIfRequest(BaseModel):
    """A plan, the figures to be changed in it, the plan whose lap it is set against, and units."""

    plan: PlanDocument
    changes: list[Change] = []
    against: PlanDocument | None = None
    units: UnitsSpoken = "metric"


class KeptAt(BaseModel):
    """A kept plan as it stood at some revisions."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    plan_id: int
    revisions: Revisions


Changes = Annotated[list[Change], Field(max_length=CHANGES_MOST)]


class AskedOfKept(BaseModel):
    """Where a kept plan stands, the kept plan it is set against, and units."""

    model_config = ConfigDict(extra="forbid")

    revisions: Revisions
    against: KeptAt | None = None
    units: UnitsSpoken = "metric"


class KeptWhatIf(AskedOfKept):
    """Figures to be changed in a kept plan."""

    changes: Changes = []


class ForeseenWhatIfs(AskedOfKept):
    """Figures that will most likely be changed next, each way with all its changes."""

    ways: Annotated[list[Changes], Field(max_length=FORESEEN_MOST)]


class WhatIf(BaseModel):
    """The headline figures of a changed plan, its lap, and the lap against a baseline."""

    assumptions: Assumptions
    result: ResultDocument
    words: LapWords
    comparison: Comparison | None


def what_if(
    plan: PlanDocument,
    changes: Sequence[Change] = (),
    against: PlanDocument | None = None,
    trace_points: int | None = None,
    units: UnitsSpoken = "metric",
    known_as: tuple[str, str | None] | None = None,
) -> WhatIf:
    """Make changes to a plan, predict its lap, and compare it with the lap of another plan.

    `known_as` are the texts of both plans, where they are at hand: a road's text is long to write.

    Raises InputRefused, naming the field in the request ("plan.car.mass_kg", "against.circuit"),
    when a change is not allowed or one of the laps cannot be driven.
    """
    if len(changes) > CHANGES_MOST:
        raise InputRefused(
            [Fault("changes", f"{len(changes)} were given; at most {CHANGES_MOST} are allowed")]
        )
    with refused_in("plan"):
        changed = apply_changes(plan, changes)
        key = None if known_as is None else (known_as[0], *changes)
        prediction = recall(changed, trace_points, key)
    with refused_in("against"):
        key = None if known_as is None else (known_as[1],)
        other = None if against is None else recall(against, trace_points, key)
    return WhatIf(
        assumptions=assumptions(changed),
        result=prediction.result,
        words=lap_words(prediction.result, prediction.notes, units),
        comparison=None if other is None else compare(prediction, other, units),
    )
