"""Plan documents: round trip, defaults, and every refusal with its field and its wording."""

import copy
import json
from typing import Any

import pytest
from pydantic import ValidationError

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plans
from neapfrost.formats.plan_file import plan_from_object, read_plan, write_plan
from neapfrost.formats.plan_records import circuit_record, mark_records, vehicle_record
from neapfrost.formats.result import ResultDocument
from neapfrost.formats.schemas import json_schema


def plan() -> dict[str, Any]:
    """The smallest plan: everything else has a default."""
    return {
        "format": "neapfrost/plan",
        "version": 1,
        "car": {
            "name": "Plain",
            "mass_kg": 1000,
            "wheelbase_m": 2.5,
            "cg_height_m": 0.4,
            "front_weight_fraction": 0.5,
            "tyres": {"mu_lateral": 1.4, "mu_longitudinal": 1.4, "rolling_radius_m": 0.31},
            "aero": {"drag_area_m2": 0.8},
            "engine": {
                "torque_curve": [{"rpm": 2000, "torque_nm": 200}, {"rpm": 6000, "torque_nm": 210}],
                "rev_limit_rpm": 6500,
            },
            "gearbox": {"ratios": [3.0, 2.0, 1.4], "final_drive": 3.9},
        },
        "circuit": {
            "name": "Two ends",
            "segments": [
                {"kind": "straight", "length_m": 300},
                {
                    "kind": "corner",
                    "name": "T1",
                    "direction": "left",
                    "radius_m": 40,
                    "angle_deg": 180,
                },
                {"kind": "straight", "length_m": 300},
                {
                    "kind": "corner",
                    "name": "T2",
                    "direction": "left",
                    "radius_m": 40,
                    "angle_deg": 180,
                },
            ],
        },
    }


def stations() -> dict[str, Any]:
    return {"at_m": [0, 100, 200], "curvature_per_m": [0, 0.01, 0]}


def put(value: Any, path: str, figure: Any) -> None:
    """Set a field given by a path such as car.gearbox.ratios.1; `...` takes it away."""
    *parts, last = path.split(".")
    for part in parts:
        value = value[int(part)] if part.isdigit() else value.setdefault(part, {})
    key: Any = int(last) if last.isdigit() else last
    if figure is ...:
        del value[key]
    else:
        value[key] = figure


def refusals(**changes: Any) -> list[str]:
    document = plan()
    for path, figure in changes.items():
        put(document, path, figure)
    with pytest.raises(InputRefused) as refusal:
        plan_from_object(document)
    return [str(fault) for fault in refusal.value.faults]


@pytest.mark.parametrize(
    ("path", "figure", "expected"),
    [
        ("car.mass_kg", ..., "car.mass_kg: this field is missing and has no default"),
        ("car.mass", 1, 'car.mass: this field is unknown; did you mean "mass_kg"?'),
        (
            "circuit.segments.1.radius",
            4,
            'circuit.segments[1].radius: this field is unknown; did you mean "radius_m"?',
        ),
        ("car.mass_kg", -3, "car.mass_kg: -3 was given; more than 0 is expected"),
        ("car.mass_kg", 0, "car.mass_kg: 0 was given; more than 0 is expected"),
        ("car.mass_kg", "900", 'car.mass_kg: "900" was given; a number is expected'),
        ("car.mass_kg", True, "car.mass_kg: true was given; a number is expected"),
        ("car.mass_kg", None, "car.mass_kg: null was given; a number is expected"),
        (
            "car.mass_kg",
            float("inf"),
            "car.mass_kg: a number that is not finite was given; every figure must be finite",
        ),
        ("car.tyres", [], "car.tyres: a list was given; an object with named fields is expected"),
        ("car.gearbox.ratios", 3, "car.gearbox.ratios: 3 was given; a list is expected"),
        (
            "car.gearbox.ratios",
            [],
            "car.gearbox.ratios: 0 entries were given; at least 1 are needed",
        ),
        (
            "car.gearbox.ratios",
            [3.0, 3.1],
            "car.gearbox.ratios[1]: 3.1 was given after 3; ratios must fall from first gear to top",
        ),
        (
            "car.engine.torque_curve",
            [{"rpm": 2000, "torque_nm": 100}],
            "car.engine.torque_curve: 1 of its points were given; at least two are needed",
        ),
        (
            "car.engine.torque_curve.1.rpm",
            1500,
            "car.engine.torque_curve[1].rpm: 1500 was given after 2000; the points must rise "
            "in rpm",
        ),
        (
            "car.engine.rev_limit_rpm",
            1500,
            "car.engine.rev_limit_rpm: 1500 was given, but the torque curve starts at 2000 rpm; "
            "the limit must lie above that",
        ),
        ("car.kind", "boat", 'car.kind: "boat" was given; "car" or "motorcycle" is expected'),
        ("car.max_lean_deg", 50, "car.max_lean_deg: a car does not lean; this is for a motorcycle"),
        (
            "circuit.segments.1.angle_deg",
            361,
            "circuit.segments[1].angle_deg: 361 was given; 360 or less is expected",
        ),
        (
            "circuit.segments.1.transition_m",
            126,
            "circuit.segments[1].transition_m: 126 was given, but T1 turns its 180° in 125.7 m; "
            "the ramp must be shorter than that",
        ),
        (
            "circuit.segments.0.kind",
            "bend",
            'circuit.segments[0]: its kind is "bend"; "straight" or "corner" is expected',
        ),
        (
            "circuit.segments.0",
            {"length_m": 3},
            'circuit.segments[0]: its "kind" is missing; "straight" or "corner" is expected',
        ),
        (
            "circuit.segments",
            [{"kind": "straight", "length_m": 99}],
            "circuit.segments: the lap is 99.0 m long; it must be between 100 m and 50 km",
        ),
        (
            "circuit.segments",
            [{"kind": "straight", "length_m": 30_000}] * 2,
            "circuit.segments: the lap is 60000.0 m long; it must be between 100 m and 50 km",
        ),
        (
            "circuit.segments",
            [{"kind": "straight", "length_m": 1}] * 2001,
            "circuit.segments: 2001 entries were given; at most 2000 are allowed",
        ),
        (
            "circuit.segments",
            [],
            "circuit.segments: no segment is given; at least one, or stations, is needed",
        ),
        (
            "circuit.stations",
            {"at_m": [0, 1], "curvature_per_m": [0, 0]},
            "circuit.stations: segments are given as well; a circuit has one or the other",
        ),
        (
            "line",
            {"kind": "widest"},
            "line: a line is given, but the circuit describes the driven path already",
        ),
        (
            "circuit.start_speed_ms",
            10,
            "circuit.start_speed_ms: a closed circuit is driven as a flying lap and has no start "
            "speed; leave it null",
        ),
        (
            "circuit.sectors_at_m",
            [500, 400],
            "circuit.sectors_at_m[1]: 400 was given; sector lines must rise, and the lap reaches "
            "from 0 to 851.3 m",
        ),
        (
            "circuit.boards",
            [{"label": "100", "corner": "T9", "at_m": 200}],
            'circuit.boards[0].corner: no corner is named "T9"',
        ),
        (
            "circuit.references",
            [{"label": "hut", "at_m": 900}],
            "circuit.references[0].at_m: 900 was given; the lap reaches from 0 to 851.3 m",
        ),
        (
            "circuit.elevation",
            [{"at_m": 0, "z_m": 0}, {"at_m": 0, "z_m": 1}],
            "circuit.elevation[1].at_m: 0 was given after 0; elevation points must rise in "
            "position",
        ),
        ("format", "other", 'format: "other" was given; "neapfrost/plan" is expected'),
        (
            "version",
            2,
            "version: version 2 comes from a newer Neapfrost; this one reads version 1. Update the "
            "application to open it",
        ),
        ("driver.brake_ramp_s", 3, "driver.brake_ramp_s: 3 was given; 2 or less is expected"),
        (
            "conditions.humidity_pct",
            101,
            "conditions.humidity_pct: 101 was given; 100 or less is expected",
        ),
    ],
)
def test_refusals(path: str, figure: Any, expected: str) -> None:
    assert refusals(**{path: figure}) == [expected]


@pytest.mark.parametrize(
    ("path", "figure", "expected"),
    [
        (
            "at_m",
            [0, 50, 50],
            "circuit.stations.at_m[2]: 50 was given after 50; stations must rise",
        ),
        ("at_m", [5, 50, 500], "circuit.stations.at_m[0]: 5 was given; stations start at 0"),
        (
            "curvature_per_m",
            [0, 0],
            "circuit.stations.curvature_per_m: 2 entries were given for 3 stations; one for each "
            "is needed",
        ),
        (
            "at_m",
            list(range(200_001)),
            "circuit.stations.at_m: 200001 entries were given; at most 200000 are allowed",
        ),
        (
            "corners",
            [{"name": "T1", "begins_at_m": 10, "ends_at_m": 900}],
            "circuit.stations.corners[0].ends_at_m: 900 was given; the path reaches from 0 to "
            "200 m",
        ),
    ],
)
def test_refused_stations(path: str, figure: Any, expected: str) -> None:
    given = stations()
    given[path] = figure
    assert refusals(**{"circuit.segments": None, "circuit.stations": given}) == [expected]


def test_every_fault_is_said_at_once() -> None:
    assert (
        len(refusals(**{"car.mass_kg": -1, "circuit.segments.1.radius_m": 0, "car.colour": 1})) == 3
    )


def test_defaults_are_the_documented_ones() -> None:
    document = plan_from_object(plan())
    assert document.circuit.closed
    assert document.conditions.air_temp_c == 20.0
    assert document.conditions.pressure_hpa is None
    assert document.driver.transition_s == 0.1
    assert document.car.brakes.front_fraction is None
    assert vehicle_record(document.car).rear_drive_fraction == 1.0


@pytest.mark.parametrize("index", range(len(demo_plans())))
def test_a_written_plan_reads_back_the_same(index: int) -> None:
    document = demo_plans()[index].document
    written = write_plan(document)
    assert read_plan(written) == document
    assert write_plan(read_plan(written)) == written


def test_stations_and_their_marks_reach_the_core() -> None:
    document = plan()
    document["circuit"]["segments"] = None
    document["circuit"]["stations"] = {**stations(), "road_at_m": [0, 110, 220]}
    document["circuit"]["boards"] = [{"label": "50", "at_m": 55}]
    circuit = plan_from_object(document).circuit
    record = circuit_record(circuit)
    assert record.stations is not None
    assert record.stations.curvature_per_m == (0.0, 0.01, 0.0)
    # The board stands on the road; the path is shorter there.
    assert mark_records(circuit)[0].at_m == pytest.approx(50.0)


def test_a_document_is_not_changed_by_reading_it() -> None:
    document = plan()
    before = copy.deepcopy(document)
    plan_from_object(document)
    assert document == before


def test_published_schemas_name_every_field() -> None:
    schema = json_schema("plan")
    assert set(schema["required"]) == {"format", "version", "car", "circuit"}
    assert "torque_curve" in json.dumps(schema)
    assert "brake_start_to_corner_m" in json.dumps(json_schema("result"))


def test_a_result_document_takes_no_number_that_is_none() -> None:
    with pytest.raises(ValidationError):
        ResultDocument.model_validate({"lap_time_s": float("nan")})


ROAD = {"circuit.segments_describe": "road"}
NODES = {
    "kind": "widest",
    "road_at_m": [0, 10],
    "offset_m": [0, 1],
    "heading_rad": [0, 0],
    "curvature_per_m": [0, 0],
    "edges_m": [0, 10],
}


@pytest.mark.parametrize(
    ("changes", "expected"),
    [
        (
            {"line": {"corners": [{"corner": 40}]}},
            "line.corners[0].corner: 40 was given; the corners are numbered 0 to",
        ),
        (
            {
                "line": {
                    "corners": [{"corner": 0, "apex_no_earlier_pct": 70, "apex_no_later_pct": 40}]
                }
            },
            "line.corners[0].apex_no_later_pct: 40 was given, but the apex lies no earlier than 70",
        ),
        (
            {"line": {"holds": [{"at_m": 99000, "offset_m": 1}]}},
            "line.holds[0].at_m: 99000 was given; the road reaches from 0 to",
        ),
        (
            {"line": {"computed": {**NODES, "offset_m": [0]}}},
            "line.computed.offset_m: 1 entries were given for 2 positions; one for each is needed",
        ),
        (
            {"line": {"computed": {**NODES, "road_at_m": [10, 10]}}},
            "line.computed.road_at_m[1]: 10 was given after 10; positions must rise",
        ),
        (
            {"circuit.edges": [{"side": "left", "kind": "kerb", "from_m": 0, "to_m": 99000}]},
            "circuit.edges[0].to_m: 99000 was given; the lap reaches from 0 to",
        ),
    ],
)
def test_refusals_about_a_line(changes: dict[str, Any], expected: str) -> None:
    document = plan()
    for path, figure in {**ROAD, **changes}.items():
        put(document, path, figure)
    with pytest.raises(InputRefused) as refusal:
        plan_from_object(document)
    assert expected in str(refusal.value)
