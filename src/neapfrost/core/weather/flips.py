"""Where along a session a call changes: flat or not, another braking point, another tyre."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

#: What is done at a corner and the metres from braking to it, null where nothing is braked for.
Call = tuple[str, float | None]
What = Literal["action", "braking"]


@dataclass(frozen=True)
class Flip:
    """A call that changes at a moment [s]: from one to what it has settled to."""

    at_s: float
    what: What
    before: Call
    after: Call


def flips(
    at_s: Sequence[float],
    calls: Sequence[Call | None],
    begins_as: Call,
    threshold_m: float,
    lasting_s: float,
) -> list[Flip]:
    """Changes of one corner's call along a session, against `begins_as` and then the last change.

    A braking point has moved once it is `threshold_m` away from the one last told. What does not
    last as long as stated is not told, and what lasts is told as it is at the end of that time. A
    call is None where no lap is possible.
    """
    known = [(when, call) for when, call in zip(at_s, calls, strict=True) if call is not None]
    told, found = begins_as, []
    for number, (when, _) in enumerate(known):
        lasting = [call for later, call in known[number:] if later <= when + lasting_s]
        if all(changed(told, call, threshold_m) for call in lasting):
            what = changed(told, lasting[-1], threshold_m)
            assert what is not None  # as all of these
            found.append(Flip(when, what, told, lasting[-1]))
            told = lasting[-1]
    return found


def changed(before: Call, after: Call, threshold_m: float) -> What | None:
    """What has changed between two calls; None for nothing that a driver would be told."""
    if before[0] != after[0]:
        return "action"
    if before[1] is None or after[1] is None:
        return None
    return "braking" if abs(after[1] - before[1]) >= threshold_m else None


def first_lasting(at_s: Sequence[float], so: Sequence[bool], lasting_s: float) -> float | None:
    """The first moment from which on something is so for as long as stated [s]; None for never."""
    for number, when in enumerate(at_s):
        until = [
            one
            for later, one in zip(at_s[number:], so[number:], strict=True)
            if later <= when + lasting_s
        ]
        if all(until):
            return when
    return None


def leads(times_s: Sequence[Sequence[float | None]]) -> list[int | None]:
    """Which of several is quickest at each moment (m, k); None where none of them has a lap."""
    found: list[int | None] = []
    for row in times_s:
        known = [(time, number) for number, time in enumerate(row) if time is not None]
        found.append(min(known)[1] if known else None)
    return found


def lead_changes(
    at_s: Sequence[float], lead: Sequence[int | None], lasting_s: float
) -> list[tuple[float, int, int]]:
    """Where another becomes quickest for as long as stated: the moment [s], which was, which is."""
    known = [(when, one) for when, one in zip(at_s, lead, strict=True) if one is not None]
    found: list[tuple[float, int, int]] = []
    if not known:
        return found
    now = known[0][1]
    for number, (when, one) in enumerate(known):
        lasting = {other for later, other in known[number:] if later <= when + lasting_s}
        if one != now and lasting == {one}:
            found.append((when, now, one))
            now = one
    return found
