"""Figures inside sentences, kept as figures until somebody reads the sentence in their own units.

A sentence is written where something is known, and read by people who speak different units. What
is written into it by `metres` and `speed` is a mark with the figure in SI; `said` turns marks into
words. Nobody can type the characters that begin and end a mark.
"""

import re

from neapfrost.core.units import DOCUMENT_UNITS, Kind, Units, shown, unit_of

#: What stands before and behind a mark.
BEGIN, END = "\x02", "\x03"
_MARK = re.compile("\x02([a-z_]+) (\\S+) (\\S+) (bare|unit|number)\x03")


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

    def one(found: re.Match[str]) -> str:
        kind: Kind = found[1]  # type: ignore[assignment]  # one of the pattern's own
        value, decimals, form = float(found[2]), found[3], found[4]
        if units is None:
            number = _number(value, decimals)
            return f"{number} {DOCUMENT_UNITS[kind]}" if form == "unit" else number
        number = _number(shown(value, kind, units), decimals)
        return number if form == "number" else f"{number} {unit_of(kind, units)}"

    return _MARK.sub(one, text)


def said_json(text: str, units: Units | None = None) -> str:
    """JSON whose texts hold marks, with these said."""
    return said(text.replace("\\u0002", BEGIN).replace("\\u0003", END), units)


def _mark(kind: Kind, value: float, decimals: int | None, form: str) -> str:
    # A figure out of an array would name its own type in its place.
    return f"\x02{kind} {float(value)!r} {'g' if decimals is None else decimals} {form}\x03"


def _number(value: float, decimals: str) -> str:
    if decimals != "g":
        return f"{value:.{decimals}f}"
    # Four figures, but no power of ten, which is no way to say a length.
    return f"{value:.0f}" if abs(value) >= 1e4 else f"{value:.4g}"
