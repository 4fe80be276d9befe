"""Units against their definitions, presets, and single choices that depart from a preset."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.core.measures import figure, said, said_json
from neapfrost.core.units import (
    CHOICES,
    DOCUMENT_UNITS,
    FOLLOWS,
    PRESETS,
    Kind,
    checked,
    shown,
    shown_difference,
    system,
    unit_of,
)


@pytest.mark.parametrize(
    ("kind", "setting", "given_in_documents", "expected", "symbol"),
    [
        # By the definitions: international pound and foot, mechanical and metric horsepower,
        # 231 cubic inches, 4.54609 l, the inch of mercury at 0 °C.
        ("mass", "feet", 1000.0, 2204.6226, "lb"),
        ("power", "feet", 100.0, 134.10221, "hp"),
        ("power", "metric.ps", 100.0, 135.96216, "PS"),
        ("torque", "feet", 100.0, 73.756215, "lb ft"),
        ("force", "feet", 1000.0, 224.80894, "lbf"),
        ("force", "metric", 1500.0, 1.5, "kN"),
        ("pressure", "yards", 2.0, 29.00753, "psi"),
        ("pressure", "metric.kpa", 2.0, 200.0, "kPa"),
        ("air_pressure", "feet", 1013.25, 29.92126, "inHg"),
        ("volume", "feet", 10.0, 2.6417205, "US gal"),
        ("volume", "yards.impgal", 10.0, 2.1996925, "imp gal"),
        ("temperature", "feet", -40.0, -40.0, "°F"),
        ("temperature", "yards", 20.0, 20.0, "°C"),
        ("speed", "yards", 100.0 / 3.6, 62.137119, "mph"),
        ("dimension", "yards", 2.54, 100.0, "in"),
        ("wind", "metric.mph", 4.4704, 10.0, "mph"),
    ],
)
def test_units_are_as_they_are_defined(
    kind: Kind, setting: str, given_in_documents: float, expected: float, symbol: str
) -> None:
    assert shown(given_in_documents, kind, setting) == pytest.approx(expected, rel=2e-6)
    assert unit_of(kind, setting) == symbol


def test_a_difference_of_temperatures_has_no_zero() -> None:
    assert shown_difference(10.0, "temperature", "feet") == pytest.approx(18.0)
    assert shown(10.0, "temperature", "feet") == pytest.approx(50.0)


@given(
    st.sampled_from(sorted(PRESETS)),
    st.lists(st.sampled_from([unit.key for some in CHOICES.values() for unit in some])),
)
def test_every_kind_has_a_unit_in_every_setting(preset: str, single: list[str]) -> None:
    setting = checked(".".join([preset, *single]))
    assert set(system(setting)) == {*CHOICES, *FOLLOWS} == set(DOCUMENT_UNITS)
    for kind, some in CHOICES.items():
        chosen = [unit for unit in some if unit.key in single]
        assert not chosen or unit_of(kind, setting) in {unit.symbol for unit in chosen}


def test_keys_are_of_one_unit_alone() -> None:
    keys = [unit.key for some in CHOICES.values() for unit in some]
    assert len(keys) == len(set(keys))


@pytest.mark.parametrize("setting", ["", "miles", "feet.furlong", "kg"])
def test_what_is_no_setting_is_refused(setting: str) -> None:
    with pytest.raises(ValueError, match=r"units are metric|no unit is called"):
        checked(setting)


def test_figures_of_sentences_are_said_in_any_unit() -> None:
    text = f"Fuel {figure(31.0, 'mass', unit=False)} to {figure(60.0, 'mass')}"
    assert said(text, "metric") == "Fuel 31 to 60 kg"
    assert said(text, "feet") == "Fuel 68.34 to 132.3 lb"
    assert said(text) == "Fuel 31 to 60 kg"
    assert said(figure(12.5, "volume", 1), "yards.impgal") == "2.7 imp gal"
    assert said(figure(-1.5e-07, "power", 2), "metric") == "-0.00 kW"
    escaped = '{"label": "' + text.replace("\x02", "\\u0002").replace("\x03", "\\u0003") + '"}'
    assert said_json(escaped, "metric") == '{"label": "Fuel 31 to 60 kg"}'


@pytest.mark.parametrize(
    "text",
    [
        "\x02furlong 1.0 1 unit\x03",
        "\x02length one 1 unit\x03",
        "\x02length 1.0 1 loud\x03",
        "\x02length 1.0 9999 unit\x03",
        "\x02",
        r"\u0002length 1.0 1 unit\u0003",
        r"C:\u0002",
    ],
)
def test_what_only_looks_like_a_figure_stays_as_it_was_written(text: str) -> None:
    assert said(text, "metric") == text
    assert json.loads(said_json(json.dumps({"name": text}), "feet")) == {"name": text}


@given(st.text(alphabet='\\\x02\x03u02length1. gunit"', max_size=40), st.floats(-1e9, 1e9))
def test_json_stays_json_and_figures_in_it_are_said(around: str, value: float) -> None:
    """Against the same text said before it is made JSON: whatever stands around a figure."""
    text = f"{around}{figure(value, 'mass', 1)}{around}"
    told = json.loads(said_json(json.dumps([text]), "feet"))
    assert told == [said(text, "feet")]
