"""Faults of a document: each by its field's path, whichever part of a whole was read."""

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as told_in
from neapfrost.demo.plans import composed
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.faults import field_path, validated
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.weather import ReadingDocument


def car() -> dict[str, object]:
    return composed("k4-dry").car.model_dump(mode="json")


def paths(refused: InputRefused) -> list[str]:
    return [fault.path for fault in refused.faults]


@pytest.mark.parametrize(
    ("parts", "path"),
    [
        ((), ""),
        (("car",), "car"),
        (("circuit", "segments", 3, "radius_m"), "circuit.segments[3].radius_m"),
        (("rows", 0, 1), "rows[0][1]"),
    ],
)
def test_a_path_is_written_as_people_write_it(parts: tuple[int | str, ...], path: str) -> None:
    assert field_path(parts) == path


@pytest.mark.parametrize(("part", "before"), [("", ""), ("car", "car.")])
def test_a_part_of_a_document_names_its_place_in_the_whole(part: str, before: str) -> None:
    value = {**car(), "mass_kg": -1.0, "gearbox": {"ratios": [3.0, -2.0], "final_drive": 3.0}}
    with pytest.raises(InputRefused) as refused:
        validated(CarDocument, value, part)
    assert f"{before}mass_kg" in paths(refused.value)
    assert f"{before}gearbox.ratios[1]" in paths(refused.value)
    assert all(fault.message for fault in refused.value.faults)


@pytest.mark.parametrize(
    ("field", "said"),
    [("wind_speed_ms", "-2 m/s was given"), ("gust_ms", "-2 m/s was given")],
)
def test_a_wind_and_its_gusts_are_told_as_winds(field: str, said: str) -> None:
    reading = {"at": "2031-05-17T09:00", "wind_speed_ms": 3.0, "wind_from_deg": 90.0, field: -2.0}
    with pytest.raises(InputRefused) as refused:
        validated(ReadingDocument, reading)
    told = {fault.path: told_in(fault.marked, "metric") for fault in refused.value.faults}
    assert told[field].startswith(said)


def test_what_is_no_document_at_all_is_refused_at_its_part() -> None:
    with pytest.raises(InputRefused) as refused:
        validated(CarDocument, [1, 2], "car")
    assert paths(refused.value) == ["car"]


def test_what_is_right_comes_back_as_it_was() -> None:
    plan = composed("k4-dry")
    assert validated(CarDocument, car(), "car") == plan.car
    assert validated(PlanDocument, plan.model_dump(mode="json")) == plan


def test_every_fault_is_told_and_none_twice() -> None:
    value = {**car(), "mass_kg": "heavy", "wheelbase_m": 0.0, "colour": "red"}
    with pytest.raises(InputRefused) as refused:
        validated(CarDocument, value, "car")
    told = paths(refused.value)
    assert sorted(told) == ["car.colour", "car.mass_kg", "car.wheelbase_m"]
    assert str(refused.value).count("\n") == 2


@pytest.mark.parametrize("digits", [17, 400, 4000])
def test_a_number_without_end_is_refused_in_a_short_sentence(digits: int) -> None:
    with pytest.raises(InputRefused) as refused:
        validated(CarDocument, {**car(), "mass_kg": 10 ** (digits - 1)}, "car")
    told = {fault.path: fault.message for fault in refused.value.faults}
    assert told["car.mass_kg"].startswith(f"a number of {digits} digits was given")
