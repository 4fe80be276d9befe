"""Where along a session a call changes: flat or not, another braking point, another tyre."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

#: What is done at a corner and the metres from braking to it, null where nothing is braked for.
Call = tuple[str, float | None]
What = Literal["action", "braking"]


@dataclass(frozen=True)
class Flip:
    """A call that changes at a moment, by its index: from one to another."""

    index: int
    what: What
    before: Call
    after: Call


def flips(calls: Sequence[Call | None], begins_as: Call, threshold_m: float) -> list[Flip]:
    """Changes of one corner's call along a session, against `begins_as` and then the last change.

    A braking point has moved once it is `threshold_m` away from the one last told. None: no lap at
    that moment.
    """
    told, found = begins_as, []
    for index, call in enumerate(calls):
        if call is None:
            continue
        what = changed(told, call, threshold_m)
        if what is not None:
            found.append(Flip(index, what, told, call))
            told = call
    return found


def changed(before: Call, after: Call, threshold_m: float) -> What | None:
    """What has changed between two calls; None for nothing that a driver would be told."""
    if before[0] != after[0]:
        return "action"
    if before[1] is None or after[1] is None:
        return None
    return "braking" if abs(after[1] - before[1]) >= threshold_m else None


def leads(times_s: Sequence[Sequence[float | None]]) -> list[int | None]:
    """Which of several is quickest at each moment (m, k); None where none of them has a lap."""
    found: list[int | None] = []
    for row in times_s:
        known = [(time, number) for number, time in enumerate(row) if time is not None]
        found.append(min(known)[1] if known else None)
    return found


def lead_changes(lead: Sequence[int | None]) -> list[tuple[int, int, int]]:
    """Where another becomes quickest: the moment's index, which it was, which it is."""
    found: list[tuple[int, int, int]] = []
    now: int | None = None
    for index, one in enumerate(lead):
        if one is None:
            continue
        if now is not None and one != now:
            found.append((index, now, one))
        now = one
    return found
