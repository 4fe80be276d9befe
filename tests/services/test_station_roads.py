"""Roads as measured: by stations, with a width of their own to each side."""

from typing import Any

import numpy as np
import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.circuit_facts import corner_names
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_file import plan_from_object
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.lines.drawing import road_drawing
from neapfrost.services.lines.search import computed_line, line_for
from neapfrost.services.roads.road import corridor_of, road_of

CORNERS: list[dict[str, Any]] = [
    {"kind": "straight", "length_m": 160.0},
    {"kind": "corner", "name": "Sedge", "direction": "left", "radius_m": 45.0, "angle_deg": 80.0,
     "transition_m": 14.0},
    {"kind": "straight", "length_m": 120.0, "grade_pct": 3.0},
    {"kind": "corner", "name": "Bulrush", "direction": "right", "radius_m": 30.0,
     "angle_deg": 110.0, "transition_m": 12.0},
    {"kind": "straight", "length_m": 180.0},
]  # fmt: skip


def by_segments() -> PlanDocument:
    plan = demo_plan("garganey-dry")
    assert plan is not None
    value = plan.document.model_dump(mode="json")
    value["circuit"] = {
        "name": "Two corners",
        "closed": False,
        "start_speed_ms": 25.0,
        "width_m": 9.0,
        "segments_describe": "road",
        "segments": CORNERS,
    }
    value["line"] = {"kind": "widest"}
    value["corners"] = []
    return plan_from_object(value)


def by_stations(**changes: Any) -> PlanDocument:
    """The same road as its own path says, a station every metre and at every change."""
    plan = by_segments()
    middle = road_of(plan.circuit).middle
    stations = {
        "at_m": middle.s_m.tolist(),
        "curvature_per_m": [*middle.curvature_start.tolist(), float(middle.curvature_end[-1])],
        "grade_pct": [
            *(100.0 * np.tan(middle.slope.angle_start)).tolist(),
            float(100.0 * np.tan(middle.slope.angle_end[-1])),
        ],
    }
    value = plan.model_dump(mode="json")
    value["circuit"] |= {"segments": None, "stations": stations | changes}
    return plan_from_object(value)


def test_the_line_and_its_lap_are_those_of_the_same_road_by_segments() -> None:
    laps = []
    for plan in (by_segments(), by_stations()):
        assert plan.line is not None
        shape, ended = line_for(plan, "widest")
        line = plan.line.model_copy(update={"computed": computed_line(plan, shape, ended)})
        laps.append(predict_lap(plan.model_copy(update={"line": line})))
    first, other = laps
    assert other.lap_time_s == pytest.approx(first.lap_time_s, rel=5e-4)
    assert len(other.corners) == 2
    for corner, same in zip(first.corners, other.corners, strict=True):
        assert same.min_speed_ms == pytest.approx(corner.min_speed_ms, abs=0.1)


def test_a_width_of_its_own_to_each_side_is_what_may_be_used() -> None:
    count = len(by_stations().circuit.stations.at_m)  # type: ignore[union-attr]
    left = np.linspace(3.0, 5.0, count).tolist()
    plan = by_stations(width_left_m=left, width_right_m=[6.0] * count)
    field = corridor_of(plan)
    half = field.half_width_m
    assert field.left_m[0] < field.left_m[-1]
    assert field.right_m.min() < -4.0 or field.right_m.max() > 4.0
    drawn = road_drawing(plan)
    assert [corner.name for corner in drawn.corners] == corner_names(plan.circuit)
    assert drawn.corners[0].radius_m == pytest.approx(45.0, rel=0.02)
    assert drawn.corners[1].angle_deg == pytest.approx(110.0, abs=3.0)
    assert half > 0.5


def test_what_lies_beside_it_and_what_is_asked_of_its_corners_holds() -> None:
    value = by_stations().model_dump(mode="json")
    value["circuit"]["edges"] = [{"side": "left", "kind": "kerb", "from_m": 150.0, "to_m": 260.0}]
    value["circuit"]["boards"] = [{"label": "100", "corner": "T1", "at_m": 60.0}]
    value["line"]["corners"] = [{"corner": 1, "apex_no_earlier_pct": 55.0}]
    plan = plan_from_object(value)
    shape, _ = line_for(plan, "widest")
    assert np.isfinite(shape.offset_m).all()
    value["line"]["corners"][0]["corner"] = 2
    with pytest.raises(InputRefused, match="the corners are numbered 0 to 1"):
        plan_from_object(value)


@pytest.mark.parametrize(
    ("describe", "column", "said"),
    [
        ("road", "offset_m", "the stations describe a road's middle"),
        ("driven", "width_left_m", "the stations describe the driven path"),
    ],
)
def test_columns_of_the_other_kind_are_refused(describe: str, column: str, said: str) -> None:
    value = by_stations().model_dump(mode="json")
    value["circuit"]["segments_describe"] = describe
    value["circuit"]["stations"][column] = [1.0] * len(value["circuit"]["stations"]["at_m"])
    value["line"] = None
    with pytest.raises(InputRefused) as refused:
        plan_from_object(value)
    (fault,) = refused.value.faults
    assert fault.path == f"circuit.stations.{column}"
    assert said in fault.message


def test_a_width_for_some_stations_only_is_refused() -> None:
    with pytest.raises(InputRefused, match="one for each is needed"):
        by_stations(width_left_m=[4.0, 4.0])
