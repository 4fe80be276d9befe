"""Figures inside sentences: kept in SI until somebody reads them in units of his own."""

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.errors import Fault
from neapfrost.core.measures import bare, metres, said, speed
from neapfrost.core.units import Kind, Units, shown, unit_of

UNITS: tuple[Units, ...] = ("metric", "feet", "yards")
KINDS: tuple[Kind, ...] = ("length", "speed", "wind")


@pytest.mark.parametrize(
    ("kind", "units", "value", "expected", "unit"),
    [
        ("length", "metric", 100.0, 100.0, "m"),
        # By definition 0.3048 and 0.9144 m; a mile is 1609.344 m.
        ("length", "feet", 30.48, 100.0, "ft"),
        ("length", "yards", 91.44, 100.0, "yd"),
        ("speed", "metric", 10.0, 36.0, "km/h"),
        ("speed", "feet", 0.44704, 1.0, "mph"),
        ("speed", "yards", 44.704, 100.0, "mph"),
        ("wind", "metric", 7.5, 7.5, "m/s"),
        ("wind", "feet", 4.4704, 10.0, "mph"),
    ],
)
def test_units_by_their_definitions(
    kind: Kind, units: Units, value: float, expected: float, unit: str
) -> None:
    assert shown(value, kind, units) == pytest.approx(expected, rel=1e-12)
    assert unit_of(kind, units) == unit


def test_a_sentence_is_said_in_the_reader_s_units() -> None:
    text = f"brake {metres(30.48)} before it, at {speed(44.704)}"
    assert said(text, "metric") == "brake 30 m before it, at 161 km/h"
    assert said(text, "feet") == "brake 100 ft before it, at 100 mph"
    assert said(text, "yards") == "brake 33 yd before it, at 100 mph"


def test_whoever_reads_documents_reads_si() -> None:
    assert said(f"{metres(30.48, 2)} and {speed(10.0, 1)}") == "30.48 m and 10.0 m/s"
    # A field's name has the unit already.
    assert said(f"{bare(-4.0, 'length')} was given") == "-4 was given"
    assert said(f"{bare(-3.048, 'length')} was given", "feet") == "-10 ft was given"


def test_large_figures_have_no_power_of_ten() -> None:
    assert said(bare(90_000.0, "length")) == "90000"
    assert said(bare(123_456.7, "length"), "metric") == "123457 m"
    assert said(bare(0.0123412, "length")) == "0.01234"


def test_a_figure_out_of_an_array_is_a_figure() -> None:
    assert said(metres(np.float64(110.0)), "feet") == "361 ft"


def test_a_fault_says_itself_in_si() -> None:
    fault = Fault("circuit.segments[3].radius_m", f"{metres(2.0, 1)} is too tight")
    assert str(fault) == "circuit.segments[3].radius_m: 2.0 m is too tight"
    assert said(fault.marked, "feet") == "6.6 ft is too tight"


@given(
    value=st.floats(-1e4, 1e4, allow_nan=False),
    decimals=st.integers(0, 3),
    units=st.sampled_from(UNITS),
    words=st.text(st.characters(blacklist_characters="\x02\x03"), max_size=30),
)
def test_a_mark_changes_nothing_around_it(
    value: float, decimals: int, units: Units, words: str
) -> None:
    """What stands around a figure is left alone, and the figure is rounded once, when said."""
    text = said(f"{words}{metres(value, decimals)}{words}", units)
    number = f"{shown(value, 'length', units):.{decimals}f}"
    assert text == f"{words}{number} {unit_of('length', units)}{words}"


@given(value=st.floats(0.0, 1e4), kind=st.sampled_from(KINDS), units=st.sampled_from(UNITS))
def test_more_is_said_as_more(value: float, kind: Kind, units: Units) -> None:
    assert shown(value, kind, units) <= shown(value + 1.0, kind, units)
    assert re.fullmatch(r"[a-z/]+", unit_of(kind, units))
