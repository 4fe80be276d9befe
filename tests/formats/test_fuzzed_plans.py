"""Plans bent out of shape: a lap or a refusal, never anything else."""

import copy
import json
import math
from collections.abc import Callable
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from formats.test_plan import plan
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan_file import plan_from_object, read_plan
from neapfrost.services.laps.predict import predict_lap

BASE = plan()


def places(value: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Paths of every field and entry of a document."""
    found = [path] if path else []
    if isinstance(value, dict):
        for key, item in value.items():
            found += places(item, (*path, key))
    elif isinstance(value, list):
        for index, item in enumerate(value):
            found += places(item, (*path, index))
    return found


PLACES = places(BASE)


def faults_of(action: Callable[[], object]) -> list[Fault] | None:
    """Faults with which an action is refused; None when it is not."""
    try:
        action()
    except InputRefused as refusal:
        return refusal.faults
    return None


ODD = st.one_of(
    st.none(),
    st.booleans(),
    st.text(max_size=5),
    st.integers(-(10**6), 10**6),
    st.floats(allow_nan=True, allow_infinity=True),
    st.just([]),
    st.just({}),
    st.lists(st.floats(-10, 10), max_size=3),
)


@settings(max_examples=300)
@given(changes=st.lists(st.tuples(st.sampled_from(PLACES), ODD), min_size=1, max_size=3))
def test_a_bent_plan_is_read_or_refused_with_paths(changes: list[tuple[Any, Any]]) -> None:
    document = copy.deepcopy(BASE)
    for path, figure in changes:
        target: Any = document
        try:
            for key in path[:-1]:
                target = target[key]
            target[path[-1]] = figure
        except (KeyError, IndexError, TypeError):
            continue  # an earlier change took this place away
    faults = faults_of(lambda: plan_from_object(document))
    assert faults is None or all(fault.message for fault in faults)


@given(data=st.binary(max_size=200))
def test_any_bytes_are_refused_in_a_sentence(data: bytes) -> None:
    assert faults_of(lambda: read_plan(data))


@given(cut=st.integers(0, 1500))
def test_a_plan_cut_off_anywhere_is_refused(cut: int) -> None:
    whole = json.dumps(BASE).encode()
    cut = min(cut, len(whole) - 1)
    faults = faults_of(lambda: read_plan(whole[:cut]))
    assert faults is not None
    assert len(faults) == 1


@settings(max_examples=60)
@given(
    mass=st.floats(50.0, 5000.0),
    mu=st.floats(0.1, 4.0),
    radius=st.floats(5.0, 2000.0),
    height=st.floats(0.0, 1.2),
    lift=st.floats(-1.0, 12.0),
    drag=st.floats(0.0, 5.0),
    rear=st.floats(0.0, 1.0),
    braking=st.one_of(st.none(), st.floats(0.0, 1.0)),
    exponent=st.floats(1.0, 4.0),
    wind=st.floats(0.0, 40.0),
    wetness=st.floats(0.0, 100.0),
)
def test_any_allowed_plan_gives_numbers_or_a_sentence(
    mass: float,
    mu: float,
    radius: float,
    height: float,
    lift: float,
    drag: float,
    rear: float,
    braking: float | None,
    exponent: float,
    wind: float,
    wetness: float,
) -> None:
    document = copy.deepcopy(BASE)
    car, circuit = document["car"], document["circuit"]
    car["mass_kg"], car["cg_height_m"] = mass, height
    car["tyres"]["mu_lateral"] = car["tyres"]["mu_longitudinal"] = mu
    car["aero"] = {"lift_area_m2": lift, "drag_area_m2": drag}
    car["drive"] = {"rear_fraction": rear}
    car["brakes"] = {"front_fraction": braking}
    circuit["segments"][1]["radius_m"] = radius
    document["conditions"] = {"wind_speed_ms": wind, "wetness_pct": wetness}
    document["driver"] = {"entry_exponent": exponent, "exit_exponent": exponent}
    given = plan_from_object(document)
    try:
        result = predict_lap(given, step_m=4.0)
    except InputRefused:
        return  # a sentence says why; the laps that are driven are what is looked at here
    # Pydantic refuses NaN and infinity in a result by itself; times must also make sense.
    assert result.lap_time_s > 0.0
    assert all(math.isfinite(v) and v >= 0.0 for v in result.trace.v_ms)
    assert all(b >= a for a, b in zip(result.trace.t_s, result.trace.t_s[1:], strict=False))
    assert len(result.corners) == 2
