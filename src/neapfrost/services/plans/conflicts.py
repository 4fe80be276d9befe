"""Two writes that meet: what stands in the way of the later one, in words."""

import json
from collections.abc import Sequence
from typing import Any, Literal

from pydantic import BaseModel

from neapfrost.formats.json_merge import ABSENT, Difference
from neapfrost.formats.result import Revisions
from neapfrost.services.figures.register import label_at, place_in_words


class Conflict(BaseModel):
    """What stands in the way of a write: sentences, and the revisions as they are now."""

    reason: Literal["stale", "clash"]
    changes: list[str]
    revisions: Revisions


class Conflicting(Exception):
    """A write was based on something that has changed since."""

    def __init__(self, sentence: str, conflict: Conflict) -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.conflict = conflict


def told(found: Sequence[Difference]) -> list[str]:
    """Differences as sentences; the friction along follows the grip and is not told beside it."""
    ends = {difference.path[-1] for difference in found if difference.path}
    follows = {"mu_longitudinal"} if "mu_lateral" in ends else set()
    pairs = [_said(one) for one in found if not one.path or one.path[-1] not in follows]
    # What differs only beyond the digits that are said is left out beside what can be seen.
    seen = [one for one in pairs if one[1] != one[2]] or pairs
    return [f"{name}: {before} to {after}" for name, before, after in seen]


def _said(difference: Difference) -> tuple[str, str, str]:
    """A difference as a person would say it: what, before, after."""
    known = label_at(difference.path)
    name = place_in_words(difference.path)
    if known is not None and not known.options:
        pair = [None if one is ABSENT else one for one in (difference.before, difference.after)]
        if all(one is None or isinstance(one, int | float) for one in pair):
            before, after = (known.in_words(one) for one in pair)
            if before == after:
                return name, before, after
            return name, known.in_words(pair[0], unit=False), after
    before, after = (
        known.option(known.number_of(value) or 0.0)
        if known is not None and known.options and value is not ABSENT
        else _value(value)
        for value in (difference.before, difference.after)
    )
    return name, before, after


def _value(value: Any) -> str:
    if value is ABSENT or value is None:
        return "not set"
    if isinstance(value, float):
        return f"{round(value, 4):g}"
    if isinstance(value, list) and all(isinstance(one, int | float) for one in value):
        return ", ".join(f"{round(one, 4):g}" for one in value) or "none"
    text = json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else str(value)
    return text if len(text) <= 60 else text[:57] + "…"
