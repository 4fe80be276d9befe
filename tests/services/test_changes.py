"""Every figure that can be changed: where it stands, what it is called, and that it matters."""

from typing import get_args

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan, demo_plans
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.figures import (
    PLACES,
    Assumptions,
    Change,
    Field,
    apply_changes,
    assumptions,
    change_label,
)
from neapfrost.services.laps.predict import predict_lap

FIELDS: tuple[Field, ...] = get_args(Field)
#: Kept with the conditions, but not yet part of the model.
SILENT = {"track_temp_c"}
#: Figures of which a few per cent change nothing here, and by how much they are changed instead.
COARSE = {"downshift_s": 6.0, "lift_threshold_ms": 6.0}


def plan() -> PlanDocument:
    """A demo plan with wind, in which every optional figure is stated."""
    found = demo_plan("k4-race-wind")
    assert found is not None
    value = found.document.model_dump(mode="json")
    value["car"]["brakes"] = {"front_fraction": 0.6, "max_force_n": 14_000.0}
    value["car"]["drive"] = {"rear_fraction": 0.8}
    value["conditions"]["pressure_hpa"] = 1_000.0
    value["conditions"]["wetness_pct"] = 5.0
    return PlanDocument.model_validate(value)


def test_every_figure_has_a_place_and_a_present_value() -> None:
    assert set(FIELDS) == {*PLACES, "peak_power_kw"}
    assert set(Assumptions.model_fields) == {*FIELDS, "radii_m"}
    told = assumptions(plan())
    assert all(getattr(told, field) is not None for field in FIELDS)


@pytest.mark.parametrize("field", FIELDS)
def test_every_figure_is_changed_named_and_felt(field: Field) -> None:
    before = plan()
    present = getattr(assumptions(before), field)
    value = present * COARSE.get(field, 0.94) if present else 1.0
    change = Change(field=field, value=value)
    after = apply_changes(before, [change])
    assert getattr(assumptions(after), field) == pytest.approx(value)
    label = PLACES[field].label if field in PLACES else "Power"
    assert change_label(change, before).startswith(f"{label} ")
    there, here = predict_lap(before, trace_points=10), predict_lap(after, trace_points=10)
    if field in SILENT:
        assert here.lap_time_s == there.lap_time_s
    else:
        assert here != there


@pytest.mark.parametrize(
    ("field", "value", "slower"),
    [
        ("grip", 1.6, False),
        ("mu_longitudinal", 1.4, True),
        ("load_sensitivity", 0.2, True),
        ("rolling_resistance", 0.03, True),
        ("efficiency", 0.85, True),
        ("upshift_s", 0.3, True),
        ("brake_ramp_s", 0.6, True),
        ("transition_s", 0.4, True),
        ("entry_exponent", 1.3, True),
        ("exit_exponent", 1.3, True),
        ("brake_max_force_n", 9_000.0, True),
        ("mass_kg", 760.0, True),
        ("drag_area_m2", 0.8, False),
    ],
)
def test_each_goes_the_way_it_should(field: Field, value: float, slower: bool) -> None:
    before = demo_plans()[0].document
    after = apply_changes(before, [Change(field=field, value=value)])
    gained = predict_lap(before, trace_points=10).lap_time_s
    gained -= predict_lap(after, trace_points=10).lap_time_s
    assert (gained < -0.005) if slower else (gained > 0.005)


def test_grip_takes_the_friction_along_with_it_and_the_other_way_not() -> None:
    before = demo_plans()[0].document
    both = apply_changes(before, [Change(field="grip", value=1.368)]).car.tyres
    assert both.mu_longitudinal == pytest.approx(0.9 * before.car.tyres.mu_longitudinal)
    along = apply_changes(before, [Change(field="mu_longitudinal", value=1.4)]).car.tyres
    assert along.mu_lateral == before.car.tyres.mu_lateral


@pytest.mark.parametrize(
    ("field", "value"),
    [("efficiency", 1.2), ("final_drive", 0.0), ("entry_exponent", 0.5), ("cg_height_m", -1.0)],
)
def test_what_no_car_has_is_refused_by_its_field(field: Field, value: float) -> None:
    with pytest.raises(InputRefused) as caught:
        apply_changes(demo_plans()[0].document, [Change(field=field, value=value)])
    assert caught.value.faults[0].path == ".".join(PLACES[field].path)
