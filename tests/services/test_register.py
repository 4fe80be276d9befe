"""The register of figures: every row is complete, lives where it says, and is said the same."""

from typing import Any

import pytest

from neapfrost.demo.plans import demo_plans
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.figures.figure import Figure, Kind
from neapfrost.services.figures.register import (
    ALL,
    BY_NAME,
    PLAN_WIDE,
    figure_rows,
    figures_of,
    place_in_words,
)
from neapfrost.services.laps.figures import (
    Change,
    apply_changes,
    assumptions,
    change_label,
    owner_of,
)

KINDS: tuple[Kind, ...] = ("car", "motorcycle")


@pytest.fixture(scope="module")
def plans() -> dict[Kind, PlanDocument]:
    """One demo plan of each kind of vehicle."""
    by_kind: dict[Kind, PlanDocument] = {}
    for plan in demo_plans():
        by_kind.setdefault(plan.document.car.kind, plan.document)
    assert set(by_kind) == set(KINDS)
    return by_kind


def applicable(kind: Kind) -> list[Figure]:
    return [figure for figure in PLAN_WIDE if figure.applies_to(kind)]


def nudged(figure: Figure, now: float | None, kind: Kind) -> float:
    """Another allowed value of a figure, within what is usual."""
    usual = figure.usual_for(kind)
    if now is None:
        assert figure.unstated is not None
        return figure.unstated.usual or (usual[0] if usual else 1.0)
    if figure.options:
        return (now + 1.0) % len(figure.options)
    step = figure.fine / (100.0 if figure.quantity == "percent" else 1.0)
    return now - step if usual is not None and now + step > usual[1] else now + step


def test_names_are_unique_and_every_row_can_be_stepped() -> None:
    assert len(BY_NAME) == len(ALL)
    for figure in ALL:
        assert figure.label, figure.name
        assert 0.0 < figure.fine <= figure.step, figure.name
        assert 0 <= figure.decimals <= 5, figure.name


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_served_is_what_applies(kind: Kind) -> None:
    rows = figure_rows(kind)
    assert [row.name for row in rows] == [one.name for one in ALL if one.applies_to(kind)]
    for row in rows:
        if row.low is not None and row.high is not None:
            assert row.low < row.high, row.name
        if row.unstated is not None and row.unstated.usual is not None and row.low is not None:
            assert row.high is not None
            assert row.low <= row.unstated.usual <= row.high, row.name


@pytest.mark.parametrize("kind", KINDS)
def test_every_figure_of_a_plan_has_a_value_or_says_what_holds(
    plans: dict[Kind, PlanDocument], kind: Kind
) -> None:
    told = assumptions(plans[kind]).figures
    assert set(told) == {figure.name for figure in applicable(kind)}
    for figure in applicable(kind):
        assert told[figure.name] is not None or figure.unstated is not None, figure.name


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("name", [figure.name for figure in PLAN_WIDE])
def test_a_figure_changes_what_it_names_and_is_said_by_its_label(
    plans: dict[Kind, PlanDocument], kind: Kind, name: str
) -> None:
    """One change by name: its value is read back, its document changes, the others do not."""
    figure, plan = BY_NAME[name], plans[kind]
    if not figure.applies_to(kind):
        pytest.skip("this kind of vehicle has no such figure")
    now = assumptions(plan).figures[name]
    change = Change(field=name, value=nudged(figure, now, kind))
    after = apply_changes(plan, [change])
    assert assumptions(after).figures[name] == pytest.approx(change.value, rel=1e-6)
    assert change_label(change, plan).startswith(f"{figure.label}{':' if figure.options else ' '}")
    owner = owner_of(change, plan)
    before_parts, after_parts = parts(plan), parts(after)
    differing = {part for part, held in before_parts.items() if held != after_parts[part]}
    # Fuel on board is the plan's own, and stands in its car when the plan is put together.
    assert differing == {"car" if name == "fuel_kg" else owner}, name


def parts(plan: PlanDocument) -> dict[str, Any]:
    """The documents that a plan is kept in."""
    whole = plan.model_dump(mode="json")
    kept = {name: whole.pop(name) for name in ("car", "circuit", "conditions")}
    return {**kept, "plan": whole}


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_not_stated_can_be_taken_away_again(
    plans: dict[Kind, PlanDocument], kind: Kind
) -> None:
    plan = plans[kind]
    for figure in applicable(kind):
        if figure.unstated is None or figure.unstated.usual is None:
            continue
        value = nudged(figure, assumptions(plan).figures[figure.name], kind)
        stated = apply_changes(plan, [Change(field=figure.name, value=value)])
        away = apply_changes(stated, [Change(field=figure.name, value=None)])
        assert assumptions(away).figures[figure.name] is None, figure.name
        said = change_label(Change(field=figure.name, value=None), stated)
        assert said.endswith(f"to {figure.unstated.says}"), said


def test_the_parts_of_a_car_have_their_figures_by_field() -> None:
    for owner in ("setup", "wing", "gear_set", "compound", "straight", "corner", "race"):
        found = figures_of(owner)
        assert found, owner
        assert all(figure.name == f"{owner}.{field}" for field, figure in found.items())


@pytest.mark.parametrize(
    ("path", "said"),
    [
        (("car", "gearbox", "ratios", 4), "Ratio of gear 5"),
        (("circuit", "segments", 0, "grip_factor"), "Segment 1 grip"),
        (("circuit", "segments", 2, "radius_m"), "Segment 3 radius"),
        (("car", "engine", "torque_curve", 0, "torque_nm"), "Torque curve 1 torque (Nm)"),
        (("car", "engine", "intake", "aspiration"), "Engine intake"),
        (("circuit", "elevation", 3, "z_m"), "Height 4 (m)"),
        (("conditions", "name"), "Conditions name"),
    ],
)
def test_a_place_in_a_document_is_said_in_words(path: tuple[str | int, ...], said: str) -> None:
    assert place_in_words(path) == said


@pytest.mark.parametrize("kind", KINDS)
def test_no_place_of_a_plan_is_said_by_its_field(
    plans: dict[Kind, PlanDocument], kind: Kind
) -> None:
    def paths(value: Any, path: tuple[str | int, ...]) -> list[tuple[str | int, ...]]:
        if isinstance(value, dict):
            return [one for key, part in value.items() for one in paths(part, (*path, key))]
        if isinstance(value, list):
            return [one for n, part in enumerate(value[:3]) for one in paths(part, (*path, n))]
        return [path]

    for path in paths(plans[kind].model_dump(mode="json"), ()):
        assert not set("_.") & set(place_in_words(path)), path
