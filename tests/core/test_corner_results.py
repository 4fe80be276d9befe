"""What is said of each corner: action, margins, places, and what stands beside the road."""

from dataclasses import replace

import numpy as np
import pytest

from core.builders import AIR_12, PURE, SHORT_LAP, G, course, lap_of, plain_vehicle, road_car
from neapfrost.core.kernels.forces import balance
from neapfrost.core.lap.boards import Mark, call_for
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.facts import LightCrest, PowerLimited, lap_facts
from neapfrost.core.lap.light import light, lowest_ms
from neapfrost.core.lap.solve import solve_many
from neapfrost.core.lap.trace import lap_trace
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.path.ring import Ring
from neapfrost.core.records import Aero, Brakes, Conditions, Driver, Engine, VehicleKind
from neapfrost.services.words.notes import describe_note
from neapfrost.services.words.saying import Saying


def test_boards_are_called_by_the_nearest_and_across_the_line() -> None:
    marks = [Mark("100", "T1", 900.0), Mark("50", "T1", 950.0), Mark("100", "T2", 20.0)]
    call = call_for(919.0, "T1", marks, Ring(1000.0, True))
    assert call is not None
    assert (call.label, call.side) == ("100", "past")
    assert call.metres == pytest.approx(19.0)
    call = call_for(938.0, "T1", marks, Ring(1000.0, True))
    assert call is not None
    assert (call.label, call.side) == ("50", "before")
    call = call_for(995.0, "T2", marks, Ring(1000.0, True))
    assert call is not None
    assert (call.label, call.side) == ("100", "before")
    assert call.metres == pytest.approx(25.0)
    assert call_for(500.0, "T3", marks, Ring(1000.0, True)) is None


def test_a_corner_right_after_the_line_brakes_before_it() -> None:
    circuit = Circuit(
        "line",
        True,
        (
            Straight(20.0),
            Bend("T1", 1, 30.0, 180.0),
            Straight(400.0),
            Bend("T2", 1, 30.0, 180.0),
            Straight(380.0),
        ),
    )
    lap = lap_of(circuit, road_car(), driver=Driver())
    first = corner_results(lap, [Mark("50", "T1", lap.path.length_m - 30.0)])[0]
    assert first.brake_start_at_m is not None
    assert first.brake_start_at_m > 800.0
    assert first.brake_start_to_corner_m == pytest.approx(
        lap.path.length_m + 20.0 - first.brake_start_at_m
    )
    assert first.board_call is not None
    assert first.board_call.label == "50"
    # The trace is cut at the line and joins itself.
    assert lap.s_m[0] == 0.0
    assert lap.s_m[-1] == pytest.approx(lap.path.length_m)
    assert lap.v_ms[0] == pytest.approx(lap.v_ms[-1], abs=0.02)


def test_the_same_circuit_from_another_line_gives_the_same_lap() -> None:
    segments = SHORT_LAP.segments
    turned = Circuit("turned", True, (*segments[1:], segments[0]))
    here = lap_of(SHORT_LAP, road_car(), driver=Driver())
    there = lap_of(turned, road_car(), driver=Driver())
    assert there.lap_time_s == pytest.approx(here.lap_time_s, abs=1e-4)
    for a, b in zip(corner_results(here, []), corner_results(there, []), strict=True):
        assert (a.action, a.gear_before, a.gear) == (b.action, b.gear_before, b.gear)
        assert a.min_speed_ms == pytest.approx(b.min_speed_ms, abs=1e-3)
        assert a.braking_distance_m == pytest.approx(b.braking_distance_m, abs=0.05)


def test_a_flat_corner_says_how_much_grip_is_left() -> None:
    road = course(Straight(300.0), Bend("T1", 1, 400.0, 30.0), Straight(100.0), start_speed_ms=30.0)
    vehicle = plain_vehicle(engine=Engine(((0.1, 60.0), (20000.0, 60.0)), 20000.0, 1.0, 0.0))
    (corner,) = corner_results(lap_of(road, vehicle), [])
    assert corner.action == "flat"
    assert corner.overspeed_ms is None
    lateral = corner.exit_speed_ms**2 / 400.0
    use = np.hypot(0.6, lateral) / (1.5 * 9.80665)
    assert corner.grip_left_pct == pytest.approx(100.0 * (1.0 - use), abs=0.2)


def test_another_corner_says_how_much_too_fast_one_would_arrive() -> None:
    road = course(Straight(500.0), Bend("T1", 1, 30.0, 90.0), Straight(500.0), start_speed_ms=20.0)
    vehicle = plain_vehicle(engine=Engine(((0.1, 300.0), (20000.0, 300.0)), 20000.0, 1.0, 0.0))
    (corner,) = corner_results(lap_of(road, vehicle), [])
    arriving = np.sqrt(20.0**2 + 2 * 3.0 * corner.min_speed_at_m)
    assert corner.overspeed_ms == pytest.approx(arriving - corner.min_speed_ms, abs=0.05)


def test_a_corner_passed_while_braking_for_the_next_says_through() -> None:
    road = course(
        Straight(600.0),
        Bend("Kink", 1, 400.0, 6.0),
        Bend("Hairpin", 1, 15.0, 150.0),
        Straight(100.0),
        start_speed_ms=30.0,
    )
    kink, hairpin = corner_results(lap_of(road, road_car(), driver=Driver()), [])
    assert kink.action == "through"
    assert kink.brake_start_at_m is None
    assert hairpin.action == "brake"
    assert hairpin.brake_start_to_corner_m is not None
    assert hairpin.brake_start_to_corner_m > 40.0


def test_points_come_in_the_order_of_driving() -> None:
    for corner in corner_results(lap_of(SHORT_LAP, road_car(), driver=Driver()), []):
        assert corner.action == "brake"
        assert corner.lift_at_m is not None
        assert corner.brake_start_at_m is not None
        assert corner.throttle_at_m is not None
        assert corner.full_throttle_at_m is not None
        assert corner.lift_at_m < corner.brake_start_at_m < corner.min_speed_at_m
        assert corner.min_speed_at_m <= corner.throttle_at_m
        assert corner.begins_at_m <= corner.turn_in_at_m <= corner.apex_at_m <= corner.ends_at_m
        assert corner.min_speed_ms <= corner.turn_in_speed_ms
        assert corner.min_speed_ms <= corner.exit_speed_ms
        assert corner.limited_by in ("front", "rear")
        assert corner.lean_deg is None


def test_a_trace_keeps_its_extremes_and_events_when_thinned() -> None:
    lap = lap_of(SHORT_LAP, road_car(), driver=Driver())
    corners = corner_results(lap, [])
    whole, thin = lap_trace(lap, corners), lap_trace(lap, corners, 100)
    assert 100 <= len(thin.s_m) < 200 < len(whole.s_m)
    assert thin.v_ms.max() == whole.v_ms.max()
    assert thin.v_ms.min() == whole.v_ms.min()
    for corner in corners:
        assert corner.lift_at_m is not None
        assert np.abs(thin.s_m - corner.lift_at_m).min() < 1e-3
        assert np.abs(thin.s_m - corner.begins_at_m).min() < 1e-3
        if not corner.downshifts:
            continue
        last = corner.downshifts[-1]
        after = (whole.s_m >= last.at_m) & (whole.s_m <= corner.min_speed_at_m)
        assert set(whole.gear[after].tolist()) == {corner.gear}


def warnings_of(circuit: Circuit, **changes: object) -> str:
    vehicle = road_car(**changes)
    lap = lap_of(circuit, vehicle, driver=Driver())
    facts = lap_facts(lap, corner_results(lap, []))
    return " ".join(describe_note(fact, Saying()) for fact in facts)


def test_warnings_say_what_the_plan_may_not_have_meant() -> None:
    assert warnings_of(SHORT_LAP, brakes=Brakes(0.6, 7000.0)).startswith("Gear 6 is never used.")
    assert "The brakes are too weak to reach the tyres' limit: 7.0 kN of" in warnings_of(
        SHORT_LAP, brakes=Brakes(0.6, 7000.0)
    )
    assert "30.0 kg of fuel is more than the tank's 20.0 kg." in warnings_of(
        SHORT_LAP, fuel_capacity_kg=20.0
    )
    crest = course(
        Straight(500.0, grade_pct=10.0), Straight(400.0, grade_pct=-8.0), start_speed_ms=40.0
    )
    assert "Light over the crest at 4" in warnings_of(crest, aero=Aero(0.0, 1.0, 0.4))
    ring = Circuit("ring", True, (Bend("T1", 1, 300.0, 360.0),))
    weak = road_car(engine=Engine(((2000.0, 120.0), (7000.0, 120.0)), 7000.0, 0.9))
    lap = lap_of(ring, weak)
    assert PowerLimited("T1") in lap_facts(lap, corner_results(lap, []))


def test_a_clean_lap_warns_of_nothing() -> None:
    five_gears = replace(road_car().gearbox, ratios=(2.9, 2.1, 1.65, 1.35, 1.12))
    assert warnings_of(SHORT_LAP, gearbox=five_gears) == ""


def test_a_motorcycle_at_its_lean_limit_says_so() -> None:
    vehicle = plain_vehicle(kind=VehicleKind.MOTORCYCLE, max_lean_deg=45.0, cg_height_m=0.6)
    road = course(Straight(300.0), Bend("T1", 1, 50.0, 120.0), Straight(100.0))
    (corner,) = corner_results(lap_of(road, vehicle, AIR_12, PURE), [])
    assert corner.limited_by == "lean"
    assert corner.lean_deg == pytest.approx(45.0, abs=0.05)
    assert corner.lateral_g == pytest.approx(1.0, rel=1e-3)


def test_a_constant_radius_is_at_its_minimum_from_where_it_is_entered() -> None:
    """Holding it costs a few hundredths of a m/s; the far end is not the driver's slowest place."""
    road = course(Straight(500.0), Bend("T1", 1, 40.0, 150.0), Straight(200.0), start_speed_ms=20.0)
    lap = lap_of(road, road_car())
    (corner,) = corner_results(lap, [])
    assert corner.min_speed_at_m < corner.apex_at_m
    inside = (lap.s_m >= corner.begins_at_m) & (lap.s_m <= corner.ends_at_m)
    assert corner.min_speed_ms == pytest.approx(lap.v_ms[inside].min())


def test_the_light_crest_is_what_the_solver_has_with_its_wind() -> None:
    """A headwind presses a winged car on the road: the warning's share is the solver's own."""
    hill = course(
        Straight(300.0, grade_pct=8.0),
        Straight(300.0, grade_pct=-8.0),
        start_speed_ms=45.0,
        grade_blend_m=50.0,
    )
    winged = road_car(aero=Aero(1.0, 0.2, 0.45))

    def crest(wind_ms: float) -> float:
        air = Conditions(wind_speed_ms=wind_ms, wind_from_deg=0.0)
        lap = lap_of(hill, winged, air)
        facts = [f for f in lap_facts(lap, corner_results(lap, [])) if isinstance(f, LightCrest)]
        index = int(np.argmin(np.abs(lap.s_m - facts[0].at_m)))
        step, share, w = lap.step[index], lap.share[index], lap.v_ms[index] ** 2
        normal = balance(lap.packed.case, lap.packed.road, step, share, w)[2]
        told = facts[0].weight_share
        assert told == pytest.approx(normal / (winged.total_mass_kg * G), abs=1e-9)
        return told

    assert crest(6.0) > crest(0.0) + 0.02


def test_a_corner_passed_through_says_whether_the_speed_rises_there() -> None:
    """A wide corner on the way out of a tight one, with the next braking zone across its end."""
    road = course(
        Straight(200.0),
        Bend("Tight", 1, 25.0, 90.0),
        Straight(20.0),
        Bend("Wide", -1, 400.0, 30.0),
        Bend("Last", -1, 20.0, 120.0),
        Straight(100.0),
        start_speed_ms=30.0,
    )
    wide = corner_results(lap_of(road, road_car(), driver=Driver()), [])[1]
    assert wide.action == "through"
    assert wide.trend == "rising"
    assert wide.grip_left_pct is not None
    assert wide.overspeed_ms is None
    slowing = course(
        Straight(400.0),
        Bend("Wide", -1, 400.0, 8.0),
        Bend("Last", -1, 20.0, 120.0),
        Straight(100.0),
        start_speed_ms=30.0,
    )
    wide = corner_results(lap_of(slowing, road_car(), driver=Driver()), [])[0]
    assert (wide.action, wide.trend) == ("through", "falling")


#: A hairpin that opens into a long corner, which tightens again: the joint is the slower place.
OPENING = Circuit(
    "opening",
    False,
    (
        Straight(150.0),
        Bend("T1", 1, 17.0, 120.0),
        Bend("T2", 1, 190.0, 75.0, end_radius_m=21.0),
        Straight(200.0),
    ),
    start_speed_ms=30.0,
)


def test_the_minimum_of_a_braked_corner_is_where_it_is_braked_for() -> None:
    """Not at the joint with the corner before, on the way out of which one still speeds up."""
    lap = lap_of(OPENING, road_car(), driver=Driver())
    first, second = corner_results(lap, [])
    assert (first.action, second.action) == ("brake", "brake")
    joint_ms = float(np.interp(second.begins_at_m, lap.s_m, lap.v_ms))
    assert joint_ms < second.min_speed_ms
    assert second.brake_start_at_m is not None
    assert second.throttle_at_m is not None
    assert second.begins_at_m < second.brake_start_at_m < second.min_speed_at_m
    assert second.min_speed_at_m <= second.throttle_at_m
    assert second.min_speed_at_m == pytest.approx(second.ends_at_m, abs=6.0)


def test_a_batch_has_the_same_minimum() -> None:
    drive = Drive(build_path(OPENING, 1.0), road_car(), AIR_12, Driver())
    (batch,) = solve_many([drive], light)
    assert batch is not None
    whole = corner_results(lap_of(OPENING, road_car(), driver=Driver()), [])
    for number, corner in enumerate(whole):
        assert batch.min_speed_ms[number] == pytest.approx(corner.min_speed_ms, abs=0.05)


def test_a_price_is_taken_of_the_same_minimum() -> None:
    drive = Drive(build_path(OPENING, 1.0), road_car(), AIR_12, Driver())
    whole = corner_results(lap_of(OPENING, road_car(), driver=Driver()), [])
    (lowest,) = solve_many([drive], lambda found: [lowest_ms(found, n) for n in range(2)])
    assert lowest == pytest.approx([corner.min_speed_ms for corner in whole], abs=0.05)
