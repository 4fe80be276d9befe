"""The demo world: consistent with itself, and fit to be looked at."""

import itertools

import pytest

from neapfrost.core.path.build import build_path
from neapfrost.demo.plans import DemoPlan, composed, demo_plan, demo_plans
from neapfrost.demo.season import SEASON, season_log, season_measured
from neapfrost.demo.weather import demo_weathers
from neapfrost.formats.plan import CornerDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.formats.weather_file import checked_weather
from neapfrost.services.laps.predict import predict_lap, recall
from neapfrost.services.logbook.measured import laid, read_file

PLANS = pytest.mark.parametrize("plan", demo_plans(), ids=lambda plan: plan.id)


@PLANS
def test_every_part_says_what_it_is_modelled_on(plan: DemoPlan) -> None:
    assert plan.document.car.note.startswith("Invented.")
    assert plan.document.circuit.note.startswith("Invented.")
    assert plan.document.name


#: Notes that belong to a plan: what it is driven on asks for them.
MEANT = {
    "k4-samphire": [
        "Transition not modelled: Marl Pit to Tide Gate in as little as 0.33 s. The model changes "
        "direction at once; expect minimum speeds there 1 to 3 % lower."
    ],
    "turnstone-qualifying": ["Gear 6 is never used."],
    "turnstone-race-wind": ["Gear 6 is never used."],
    "dunlin-hill": ["Gear 5 is never used."],
    "garganey-samphire": ["Gear 6 is never used."],
    "garganey-bowl": ["Gears 2, 3 and 4 are never used."],
    "turnstone-bowl": [
        "Gears 2, 3, 4 and 5 are never used.",
        *(
            f"{corner} is limited by power: the engine cannot hold the speed that the tyres would "
            "allow there."
            for corner in ("South Bank", "North Bank")
        ),
    ],
    "garganey-hill-drizzle": ["Gears 5 and 6 are never used."],
    "sanderling-hill": ["Gears 4, 5 and 6 are never used."],
}


@PLANS
def test_every_plan_solves_and_warns_of_nothing_but_what_is_meant(plan: DemoPlan) -> None:
    result = predict_lap(plan.document)
    assert result.warnings == MEANT.get(plan.id, [])
    assert len(result.corners) == plan.corner_count
    assert sum(result.sector_times_s) == pytest.approx(result.lap_time_s, abs=1e-3)


def test_the_world_holds_what_a_newcomer_should_find() -> None:
    plans = [plan.document for plan in demo_plans()]
    circuits = {plan.circuit.name: plan.circuit for plan in plans}
    assert len(circuits) == 5
    assert circuits["Samphire Ring"].segments_describe == "road"
    assert {edge.kind for edge in circuits["Samphire Ring"].edges} == {"kerb", "dust", "wall"}
    lengths = {plan.document.circuit.name: plan.length_m for plan in demo_plans()}
    assert 3900 < lengths["Sallow Fen"] < 4100
    assert 1750 < lengths["Crake Heath"] < 1850
    assert not circuits["Tarn Edge"].closed
    assert circuits["Tarn Edge"].start_speed_ms == 0.0
    bowl = [s for s in circuits["Marram Bowl"].segments or [] if isinstance(s, CornerDocument)]
    assert min(corner.banking_deg for corner in bowl) > 20.0
    cars = {plan.car.name: plan.car for plan in plans}
    assert {car.kind for car in cars.values()} == {"car", "motorcycle"}
    assert min(car.drive.rear_fraction for car in cars.values()) == 0.0
    assert max(car.aero.lift_area_m2 for car in cars.values()) > 4.0
    assert max(plan.conditions.wetness_pct for plan in plans) > 0.0
    assert max(plan.conditions.wind_speed_ms for plan in plans) > 6.0
    assert all(plan.conditions.name for plan in plans)


def test_the_hill_climbs_and_starts_from_rest() -> None:
    plan = demo_plan("dunlin-hill")
    assert plan is not None
    path = build_path(circuit_record(plan.document.circuit))
    assert path.z_m[-1] - path.z_m[0] > 100.0
    trace = predict_lap(plan.document).trace
    assert trace.v_ms[0] == pytest.approx(0.0, abs=0.5)
    assert trace.gear[0] == 1


def test_names_are_unique_and_found_again() -> None:
    ids = [plan.id for plan in demo_plans()]
    assert len(set(ids)) == len(ids)
    assert demo_plan(ids[1]) is demo_plans()[1]
    assert demo_plan("none") is None


@PLANS
def test_the_ring_closes_in_plan_and_in_height(plan: DemoPlan) -> None:
    path = build_path(circuit_record(plan.document.circuit))
    if path.closed:
        assert path.closing_gap_m < 5.0
        assert abs(path.z_m[-1] - path.z_m[0]) < 0.5
        assert abs(abs(path.heading_rad[-1]) - 2 * 3.14159265) < 1e-3
    assert plan.length_m == pytest.approx(path.length_m)
    assert plan.corner_count == len(path.corners)


@PLANS
def test_boards_stand_before_their_corners_at_what_they_say(plan: DemoPlan) -> None:
    circuit = plan.document.circuit
    begins = {c.name: c.begins_at_m for c in build_path(circuit_record(circuit)).corners}
    for board in circuit.boards:
        assert board.corner is not None
        before = (begins[board.corner] - board.at_m) % plan.length_m
        assert before == pytest.approx(float(board.label), abs=0.2)
    segments = circuit.segments or []
    named = {segment.name for segment in segments if isinstance(segment, CornerDocument)}
    assert {board.corner for board in circuit.boards} <= named
    assert {reference.corner for reference in circuit.references} <= named


def test_the_circuit_has_a_crest_a_downhill_braking_zone_and_linked_corners() -> None:
    plan = demo_plan("k4-dry")
    assert plan is not None
    path = build_path(circuit_record(plan.document.circuit))
    corners = {corner.name: corner for corner in path.corners}
    approach = (path.s_m[:-1] > corners["Bittern"].begins_at_m - 110.0) & (
        path.s_m[:-1] < corners["Bittern"].begins_at_m
    )
    assert path.slope.angle_start[approach].mean() < -0.04
    before_drove = (path.s_m[:-1] > corners["Osier"].ends_at_m) & (
        path.s_m[:-1] < corners["Drove"].begins_at_m
    )
    assert path.slope.curvature_start[before_drove].min() < -1e-3
    result = predict_lap(plan.document)
    gaps = [
        later.begins_at_m - earlier.ends_at_m
        for earlier, later in itertools.pairwise(result.corners)
    ]
    assert min(gaps) < 120.0


def test_the_two_cars_differ_much() -> None:
    light, heavy = (predict_lap(demo_plan(i).document) for i in ("k4-dry", "garganey-dry"))  # type: ignore[union-attr]
    assert heavy.lap_time_s - light.lap_time_s > 8.0
    assert heavy.top_speed_ms > light.top_speed_ms
    for slower, quicker in zip(heavy.corners, light.corners, strict=True):
        assert slower.min_speed_ms < quicker.min_speed_ms


def test_every_braking_corner_can_be_said_by_something_that_stands_there() -> None:
    for plan in demo_plans():
        for corner in predict_lap(plan.document).corners:
            if corner.action == "brake":
                assert corner.board_call is not None, (plan.id, corner.name)
                assert corner.board_call.metres < 60.0, (plan.id, corner.name)


def test_wind_and_water_cost_time() -> None:
    times = {plan.id: predict_lap(plan.document).lap_time_s for plan in demo_plans()}
    assert times["garganey-damp"] > times["garganey-dry"] + 5.0


def test_every_circuit_has_a_day_whose_forecasts_go_on_from_what_was_measured() -> None:
    circuits = {plan.document.circuit.name for plan in demo_plans()}
    assert {circuit for _, circuit, _, _ in demo_weathers()} == circuits
    for _, _, _, record in demo_weathers():
        assert checked_weather(record) is record
        assert record.simulated
        assert len(record.weathers) > 1
        assert sum(weather.chance_pct for weather in record.weathers) == 100.0
        last = record.readings[-1]
        for weather in record.weathers:
            first = weather.readings[0]
            assert abs(first.air_temp_c - last.air_temp_c) < 1.5
            assert abs(first.track_temp_c - last.track_temp_c) < 3.0


def test_the_season_has_five_events_and_what_is_measured_in_their_logs() -> None:
    runs = [run for event in SEASON for run in event.runs]
    assert (len(SEASON), len(runs)) == (5, 25)
    assert any(composed(event.plan_id).car.kind == "motorcycle" for event in SEASON)
    assert any(run.speed_factor != 1.0 for run in runs)
    for event in SEASON:
        corners = {one.name for one in recall(composed(event.plan_id), None).driven.corners}
        for run in event.runs:
            assert {seen["corner"] for seen in run.said.get("seen", [])} <= corners
    event = SEASON[0]
    read = read_file(season_log(event, 0))
    found = laid(read.log, composed(event.plan_id), lambda _: None)
    shipped = season_measured(event, 0)["laps"]
    for lap, kept in zip(found.laps, shipped, strict=True):
        assert lap.kind == kept["kind"]
        assert lap.lap_time_s == pytest.approx(kept["lap_time_s"])
        for corner, there in zip(lap.corners, kept["corners"], strict=True):
            assert corner.min_speed_ms == pytest.approx(there["min_speed_ms"], abs=1e-3)
            assert corner.loss.entry_s == pytest.approx(there["loss"]["entry_s"], abs=2e-3)
