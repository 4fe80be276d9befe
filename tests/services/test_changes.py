"""Every figure that can be changed: where it stands, what it is called, and that it matters."""

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said
from neapfrost.demo.plans import composed, demo_plan
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.figures.figure import Figure
from neapfrost.services.figures.register import ALL, PLAN_WIDE, figure_named, figure_rows
from neapfrost.services.laps.figures import (
    Change,
    apply_changes,
    assumptions,
    change_label,
)
from neapfrost.services.laps.predict import predict_lap

#: Figures of a car in the dry without a setup on a path as driven that leave its lap alone: the
#: tank's size, the width and the track's temperature; and the fuel, which is told beside the lap.
SILENT = {
    "track_temp_c",
    "fuel_capacity_kg",
    "width_m",
    "track_width_m",
    "lateral_transfer_front",
    "slip_at_limit_pct",
    # Of a naturally aspirated engine.
    "boost_share",
    "boost_altitude_m",
    "diesel_factor",
}
FIGURES = [figure for figure in PLAN_WIDE if figure.applies_to("car")]
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
    value["car"] |= {"driver_height_m": 0.5, "fuel_capacity_kg": 60.0, "width_m": 1.8}
    value["car"] |= {"track_width_m": 1.5, "lateral_transfer_front": 0.5}
    value["car"]["engine"]["overrun_torque_nm"] = 30.0
    value["car"]["engine"]["intake"] |= {
        "stated_temp_c": 15.0,
        "stated_pressure_hpa": 980.0,
        "stated_humidity_pct": 60.0,
    }
    value["car"]["fuel_use"] = {"litres_per_lap": 2.0, "g_per_kwh": 300.0, "kg_per_litre": 0.75}
    return PlanDocument.model_validate(value)


def test_the_register_has_every_figure_once_and_knows_what_is_usual() -> None:
    names = [figure.name for figure in ALL]
    assert len(names) == len(set(names))
    for row in [*figure_rows("car"), *figure_rows("motorcycle")]:
        assert 0.0 < row.fine <= row.step, row.name
        assert row.low is None or row.high is None or row.low < row.high, row.name
        assert row.changes, row.name
        assert row.label, row.name
    assert not any(row.name == "max_lean_deg" for row in figure_rows("car"))
    assert not any(row.name == "rear_drive_fraction" for row in figure_rows("motorcycle"))


def test_every_figure_of_the_car_that_a_document_holds_is_in_the_register() -> None:
    """A figure put into the document has its row, or is one of a table with rows of its own."""
    tables = {"ratios", "torque_curve"}
    known = {figure.path for figure in PLAN_WIDE}

    def figures(value: object, path: tuple[str, ...]) -> list[tuple[str, ...]]:
        if isinstance(value, dict):
            return [p for key, one in value.items() for p in figures(one, (*path, key))]
        return [path] if isinstance(value, int | float) and path[-1] not in tables else []

    held = plan().model_dump()
    for part in ("car", "conditions", "driver"):
        for path in figures(held[part], (part,)):
            assert path in known, path


def test_every_figure_has_a_present_value() -> None:
    told = assumptions(plan()).figures
    assert set(told) == {figure.name for figure in FIGURES}
    assert all(value is not None for value in told.values())


@pytest.mark.parametrize("figure", FIGURES, ids=lambda figure: figure.name)
def test_every_figure_is_changed_named_and_felt(figure: Figure) -> None:
    before = plan()
    present = assumptions(before).figures[figure.name]
    value = present * COARSE.get(figure.name, 0.94) if present else 1.0
    if figure.options:
        value = (present or 0.0) + 1.0 if (present or 0.0) + 1.0 < len(figure.options) else 0.0
    if figure.name == "fuel_g_per_kwh":
        before = apply_changes(before, [Change(field="fuel_litres_per_lap", value=None)])
    change = Change(field=figure.name, value=value)
    after = apply_changes(before, [change])
    assert assumptions(after).figures[figure.name] == pytest.approx(value)
    assert change_label(change, before).startswith(figure.label)
    there, here = predict_lap(before, trace_points=10), predict_lap(after, trace_points=10)
    if figure.name in SILENT:
        assert here.lap_time_s == there.lap_time_s
    else:
        assert here != there


def test_an_optional_figure_is_taken_away_and_says_what_holds_instead() -> None:
    before = plan()
    change = Change(field="brake_max_force_n", value=None)
    assert said(change_label(change, before)) == "Maximum brake force 14000 to no limit"
    assert said(change_label(change, before), "feet") == "Maximum brake force 3147 to no limit"
    after = apply_changes(before, [change])
    assert after.car.brakes.max_force_n is None
    with pytest.raises(InputRefused, match="null was given; a number is expected"):
        apply_changes(before, [Change(field="mass_kg", value=None)])
    with pytest.raises(InputRefused, match='no figure is named "grps"; did you mean "grip"'):
        apply_changes(before, [Change(field="grps", value=1.0)])


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
        ("pressure_hpa", 900.0, True),
        ("air_temp_c", 35.0, True),
        ("humidity_pct", 100.0, True),
        ("engine_inertia_kgm2", 0.3, True),
        ("rear_wheels_kgm2", 3.0, True),
        ("cornering_stiffness_rear", 10.0, True),
        ("downforce_lost_turning", 6.0, True),
        ("drag_area_m2", 0.8, False),
    ],
)
def test_each_goes_the_way_it_should(field: str, value: float, slower: bool) -> None:
    before = composed("k4-dry")
    after = apply_changes(before, [Change(field=field, value=value)])
    gained = predict_lap(before, trace_points=10).lap_time_s
    gained -= predict_lap(after, trace_points=10).lap_time_s
    assert (gained < -0.005) if slower else (gained > 0.005)


def test_thin_air_costs_what_the_engine_loses_and_a_document_from_before_nothing_of_it() -> None:
    """Some 900 m up: the engine's loss is worth many times what less drag brings."""

    def gained(plan: PlanDocument) -> float:
        thin = apply_changes(plan, [Change(field="pressure_hpa", value=914.0)])
        laps = [predict_lap(one, trace_points=10).lap_time_s for one in (plan, thin)]
        return laps[0] - laps[1]

    plan = composed("k4-dry")
    same = figure_named("aspiration").number_of("constant")
    assert same is not None
    before = apply_changes(plan, [Change(field="aspiration", value=same)])
    assert -2.2 < gained(plan) < -1.0
    assert 0.0 < gained(before) < 0.2
    boosted = apply_changes(plan, [Change(field="aspiration", value=same + 2.0)])
    assert gained(plan) < gained(boosted) < gained(before)


def test_a_choice_that_there_is_not_is_refused_with_those_there_are() -> None:
    with pytest.raises(InputRefused, match="9 was given; expected are 0 for the same in any air"):
        apply_changes(composed("k4-dry"), [Change(field="aspiration", value=9.0)])


def test_grip_takes_the_friction_along_with_it_and_the_other_way_not() -> None:
    before = composed("k4-dry")
    both = apply_changes(before, [Change(field="grip", value=1.368)]).car.tyres
    assert both.mu_longitudinal == pytest.approx(0.9 * before.car.tyres.mu_longitudinal)
    along = apply_changes(before, [Change(field="mu_longitudinal", value=1.4)]).car.tyres
    assert along.mu_lateral == before.car.tyres.mu_lateral


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("grip", 4.9, "friction along the road goes with it: 5.15789 was given; 5 or less"),
        ("grip", -1.0, "-1 was given; more than 0"),
        ("peak_power_kw", 9e5, "a torque of the engine goes with it: "),
    ],
)
def test_what_is_refused_though_nobody_typed_it_is_named(
    field: str, value: float, said: str
) -> None:
    with pytest.raises(InputRefused) as caught:
        apply_changes(composed("k4-dry"), [Change(field=field, value=value)])
    assert caught.value.faults[0].message.startswith(said)


@pytest.mark.parametrize(
    ("field", "value"),
    [("efficiency", 1.2), ("final_drive", 0.0), ("entry_exponent", 0.5), ("cg_height_m", -1.0)],
)
def test_what_no_car_has_is_refused_by_its_field(field: str, value: float) -> None:
    with pytest.raises(InputRefused) as caught:
        apply_changes(composed("k4-dry"), [Change(field=field, value=value)])
    assert caught.value.faults[0].path == ".".join(figure_named(field).path)
