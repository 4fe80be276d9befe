"""Figures inside sentences, kept as figures until somebody reads the sentence in their own units.

A sentence is written where something is known, and read by people who speak different units. What
is written into it by `metres` and `speed` is a mark with the figure in SI; `said` turns marks into
words. Keyboards have no keys for the characters that begin and end a mark, and what only looks
like one stays as it is.
"""

import re
from collections.abc import Sequence

from neapfrost.core.units import DOCUMENT_UNITS, Kind, Units, shown, unit_of

#: What stands before and behind a mark.
BEGIN, END = "\x02", "\x03"
_INSIDE = (
    rf"({'|'.join(DOCUMENT_UNITS)}) (-?(?:\d+(?:\.\d+)?(?:e[+-]\d+)?|inf)|nan) (\d{{1,2}}|g) "
    r"(bare|unit|number)"
)
_MARK = re.compile(f"{BEGIN}{_INSIDE}{END}")
#: The same in JSON, where its ends are escaped; an odd backslash before one makes it plain text.
_MARK_IN_JSON = re.compile(rf"(?<!\\)((?:\\\\)*)\\u0002{_INSIDE}\\u0003")


def metres(value_m: float, decimals: int | None = 0) -> str:
    """A length in a sentence: "120 m"; without decimals given, as many as it has."""
    return _mark("length", value_m, decimals, "unit")


def speed(value_ms: float, decimals: int | None = 0) -> str:
    """A speed in a sentence: "72 km/h"."""
    return _mark("speed", value_ms, decimals, "unit")


def figure(value: float, kind: Kind, decimals: int | None = None, unit: bool = True) -> str:
    """A figure of a document in a sentence, with its unit, "20 kg", or as a number alone."""
    return _mark(kind, value, decimals, "unit" if unit else "number")


def bare(value: float, kind: Kind) -> str:
    """A figure of a document in SI, which bears its unit in its name; said with it elsewhere."""
    return _mark(kind, value, None, "bare")


def said(text: str, units: Units | None = None) -> str:
    """A sentence in a person's units; None for whoever reads SI, as documents are written."""
    return _MARK.sub(lambda found: _in_words(found.groups(), units), text)


def said_json(text: str, units: Units | None = None) -> str:
    """JSON whose texts hold marks, with these said; whatever only looks like one stays."""
    return _MARK_IN_JSON.sub(lambda found: found[1] + _in_words(found.groups()[1:], units), text)


def _in_words(parts: Sequence[str], units: Units | None) -> str:
    """A mark's kind, value, decimals and form as a person reads them."""
    kind: Kind = parts[0]  # type: ignore[assignment]  # one of the pattern's own
    value, decimals, form = float(parts[1]), parts[2], parts[3]
    if units is None:
        number, unit = _number(value, decimals), DOCUMENT_UNITS[kind]
        return f"{number} {unit}" if form == "unit" else number
    number = _number(shown(value, kind, units), decimals)
    return number if form == "number" else f"{number} {unit_of(kind, units)}"


def _mark(kind: Kind, value: float, decimals: int | None, form: str) -> str:
    # A figure out of an array would name its own type in its place.
    return f"\x02{kind} {float(value)!r} {'g' if decimals is None else decimals} {form}\x03"


def _number(value: float, decimals: str) -> str:
    if decimals != "g":
        return f"{value:.{decimals}f}"
    # Four figures, but no power of ten, which is no way to say a length.
    return f"{value:.0f}" if abs(value) >= 1e4 else f"{value:.4g}"
