"""Braking points as people say them, against a corner's boards: in metres before the corner."""

import re

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.boards import Mark
from neapfrost.core.path.ring import Ring
from neapfrost.services.words.saying import Saying

#: Words for farther on than a board, and for before it.
PAST, BEFORE = ("past", "after", "beyond"), ("before", "ahead of")


def braking_point_m(
    said: str, marks: list[Mark], begins_m: float, ring: Ring, say: Saying
) -> float:
    """Metres before a corner of "95", "the 100", "10 past the 100", "between 150 and 100".

    A bare figure that is no board is a distance before the corner. Raises InputRefused for what is
    neither.
    """
    text = re.sub(r"\bthe\b|\bboard\b", " ", said.casefold()).strip()
    boards = {mark.label.casefold(): ring.apart(mark.at_m, begins_m) for mark in marks}
    between = re.fullmatch(r"between\s+(.+?)\s+and\s+(.+)", text)
    if between:
        ends = [_board(one.strip(), boards) for one in between.groups()]
        if None not in ends:
            return 0.5 * sum(one for one in ends if one is not None)
    at = _board(re.sub(r"^at\s+", "", text), boards)
    if at is not None:
        return at
    for words, sign in ((PAST, -1.0), (BEFORE, 1.0)):
        found = re.fullmatch(rf"([\d.,]+)\s*\S*?\s*(?:{'|'.join(words)})\s+(.+)", text)
        place = _board(found.group(2).strip(), boards) if found else None
        if found and place is not None:
            return place + sign * say.metres_per_length * (_number(found.group(1)))
    if re.fullmatch(r"[\d.,]+(\s*(m|yd|ft))?", text):
        return say.metres_per_length * (_number(re.sub(r"[^\d.,]", "", text)))
    known = ", ".join(mark.label for mark in marks) or "none here"
    raise InputRefused(
        [
            Fault(
                "braking_said",
                f'"{said[:60]}" is no place; a distance before the corner is one, a board '
                f'({known}), or "10 past" or "10 before" one',
            )
        ]
    )


def _board(text: str, boards: dict[str, float]) -> float | None:
    if text in boards:
        return boards[text]
    close = [label for label in boards if re.sub(r"[^\w]", "", label) == re.sub(r"[^\w]", "", text)]
    return boards[close[0]] if len(close) == 1 else None


def _number(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise InputRefused(
            [Fault("braking_said", f'"{text}" is not a number; type 10 or 12.5')]
        ) from None
