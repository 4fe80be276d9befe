"""Differences of two parsed documents, and one's changes carried over to another."""

from dataclasses import dataclass
from typing import Any

ABSENT = object()


@dataclass(frozen=True)
class Difference:
    """A place that differs: its path (keys and indices), the value before and after."""

    path: tuple[str | int, ...]
    before: Any
    after: Any


def differences(before: Any, after: Any, path: tuple[str | int, ...] = ()) -> list[Difference]:
    """Every place at which two documents differ; lists of unlike length differ as a whole."""
    if isinstance(before, dict) and isinstance(after, dict):
        return [
            found
            for key in dict.fromkeys((*before, *after))
            for found in differences(before.get(key, ABSENT), after.get(key, ABSENT), (*path, key))
        ]
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return [
            found
            for index, (old, new) in enumerate(zip(before, after, strict=True))
            for found in differences(old, new, (*path, index))
        ]
    if before is ABSENT or after is ABSENT or before != after or type(before) is not type(after):
        return [Difference(path, before, after)]
    return []


def carry_over(
    base: Any, wanted: Any, present: Any
) -> tuple[Any, list[tuple[Difference, Difference]]]:
    """What leads from `base` to `wanted`, done to `present`.

    Returns the outcome and the clashes: places that `present` has changed as well, to something
    else (what was wanted there, what was found). At a clash the outcome has what was wanted.
    """
    wishes = differences(base, wanted)
    found = differences(base, present)
    clashes = [
        (wish, other)
        for wish in wishes
        for other in found
        if _touch(wish.path, other.path)
        and not (wish.path == other.path and wish.after == other.after)
    ]
    outcome = present
    for wish in wishes:
        outcome = _with(outcome, wish.path, wish.after)
    return outcome, clashes


def _touch(a: tuple[str | int, ...], b: tuple[str | int, ...]) -> bool:
    shorter = min(len(a), len(b))
    return a[:shorter] == b[:shorter]


def _with(value: Any, path: tuple[str | int, ...], new: Any) -> Any:
    """A copy of a document with one place set, or removed when `new` is ABSENT."""
    if not path:
        return new
    key, rest = path[0], path[1:]
    if isinstance(value, dict):
        copy = dict(value)
        if not rest and new is ABSENT:
            copy.pop(key, None)
        else:
            copy[key] = _with(value.get(key), rest, new)
        return copy
    if isinstance(value, list) and isinstance(key, int) and key < len(value):
        return [*value[:key], _with(value[key], rest, new), *value[key + 1 :]]
    return value
