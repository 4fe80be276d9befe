"""JSON as a person hands it over: refused with line and column when it is not JSON at all."""

import json
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.faults import field_path

DEEPEST = 64
#: A whole number of more digits is none that a figure can hold.
DIGITS_MOST = 300
#: What the parser of the standard library means by its messages, by how they begin.
UNREADABLE = (
    ("Expecting value", "a value is expected"),
    ("Expecting property name", "a name in double quotes is expected"),
    ("Expecting ',' delimiter", "a comma or the end of the list or object is expected"),
    ("Expecting ':' delimiter", "a colon is expected"),
    ("Extra data", "something follows the document"),
    ("Unterminated string", "this text has no closing quote"),
    ("Invalid control character", "a text contains a control character"),
    ("Invalid \\", "a backslash is followed by a character that is not allowed"),
    ("Illegal trailing comma", "nothing follows this comma"),
)
_STRING = re.compile(rb'"(?:[^"\\]|\\.)*"', re.DOTALL)


def parse_json_object(data: bytes) -> dict[str, Any]:
    """Parse a JSON object from a file's bytes.

    Raises InputRefused, in one sentence, for an empty or binary file, text that is not JSON (with
    line and column), a key given twice, a list or other value instead of an object, and nesting
    deeper than 64 levels; with every place, for NaN, infinities and figures too large to be told
    from them.
    """
    if not data.strip():
        _refuse("the file is empty; a JSON document is expected")
    if b"\x00" in data:
        _refuse("the file is binary; a JSON document in UTF-8 is expected")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        _refuse(f"byte {error.start} is not UTF-8 text; a JSON document in UTF-8 is expected")
    depth = _depth(data)
    if depth > DEEPEST:
        _refuse(
            f"the document is nested more than {DEEPEST} levels deep; a plan needs fewer than 8"
        )
    try:
        value = json.loads(
            text,
            parse_constant=_NotFinite,
            parse_float=_finite,
            parse_int=_whole,
            object_pairs_hook=_unique,
        )
    except json.JSONDecodeError as error:
        raise InputRefused([not_json(error)]) from error
    if not isinstance(value, dict):
        kind = {list: "a list", str: "a text", bool: "true or false", type(None): "null"}.get(
            type(value), "a number"
        )
        _refuse(f"the document is {kind}; an object in braces is expected")
    if faults := list(_not_finite(value)):
        raise InputRefused(faults)
    document: dict[str, Any] = value
    return document


def not_json(error: json.JSONDecodeError) -> Fault:
    """A text that is no JSON, with the line and the column where it ceases to be."""
    if error.doc[: error.pos].strip() == "":
        return Fault("", "this is not JSON; a document in braces, as exported, is expected")
    said = next((said for begin, said in UNREADABLE if error.msg.startswith(begin)), "unreadable")
    return Fault("", f"line {error.lineno}, column {error.colno}: not JSON ({said})")


def _refuse(message: str) -> Any:
    raise InputRefused([Fault("", message)])


@dataclass(frozen=True)
class _NotFinite:
    """Stands for a figure that is none until it is known where in the document it is."""

    literal: str


def _finite(literal: str) -> float | _NotFinite:
    value = float(literal)
    return value if math.isfinite(value) else _NotFinite(literal)


def _whole(literal: str) -> int | _NotFinite:
    """Whole numbers, as far as a figure can hold them."""
    return int(literal) if len(literal) < DIGITS_MOST else _NotFinite(literal)


def _not_finite(value: Any, path: tuple[str | int, ...] = ()) -> Iterator[Fault]:
    """Every place of a figure that is not finite, in the order of the document."""
    if isinstance(value, _NotFinite):
        shown = value.literal if len(value.literal) < 24 else value.literal[:20] + "…"
        yield Fault(
            field_path(path),
            f"{shown} is not a number that a document can hold; a finite number is expected",
        )
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from _not_finite(inner, (*path, key))
    elif isinstance(value, list):
        for index, inner in enumerate(value):
            yield from _not_finite(inner, (*path, index))


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    result = dict(pairs)
    if len(result) < len(pairs):
        seen: set[str] = set()
        for key, _ in pairs:
            if key in seen:
                _refuse(f'the key "{key}" is given twice in one object')
            seen.add(key)
    return result


def _depth(data: bytes) -> int:
    """Deepest nesting of brackets outside strings, without recursion."""
    depth = deepest = 0
    for character in _STRING.sub(b"", data):
        if character in b"{[":
            depth += 1
            deepest = max(deepest, depth)
            if deepest > DEEPEST:
                return deepest
        elif character in b"}]":
            depth -= 1
    return deepest
