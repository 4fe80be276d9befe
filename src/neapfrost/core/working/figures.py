"""The working of each figure of a corner, and of the lap time."""

import math
from collections.abc import Callable, Sequence

import numpy as np

from neapfrost.core.arrays import Integers
from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.constants import (
    DEFAULT_STEP_M,
    DOWNSHIFT_REV_SHARE,
    STANDARD_GRAVITY_MS2,
)
from neapfrost.core.kernels.case import REV_LIMIT, ROTATING
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.lap.record import time_at
from neapfrost.core.studies.stretch import points_between
from neapfrost.core.working.place import place_at_lowest, place_between
from neapfrost.core.working.record import Given, Step, Working

MILLIKEN = "Milliken, Race Car Vehicle Dynamics (1995)"
SLICES = 5
CAUSES = {1: "the front axle", 2: "the rear axle", 3: "an axle without load", 4: "the lean limit"}


def corner_workings(driven: DrivenLap, corner: int) -> tuple[Working, ...]:
    """Every figure of a corner that can be opened, in the order of the sheet."""
    makers: Sequence[Callable[[DrivenLap, int], Working | None]] = (
        _braking_point,
        _braking_distance,
        _peak_decel,
        _gear,
        _turn_in,
        _min_speed,
        _lateral_g,
        _margin,
        _throttle,
        _exit_speed,
        _time_in_corner,
    )
    found = (maker(driven, corner) for maker in makers)
    return tuple(working for working in found if working is not None)


def lap_working(driven: DrivenLap) -> Working:
    """The lap time as the sum of its corners' stretches, each from lift to lift."""
    lap, path = driven.lap, driven.lap.path
    edges = sorted({0.0, *(corner.min_speed_at_m for corner in driven.corners), path.length_m})
    times = np.diff(time_at(lap, np.array(edges)))
    names = {corner.min_speed_at_m: corner.name for corner in driven.corners}
    steps = [
        Step(
            f"t_{n}",
            f"from {names.get(edges[n - 1], 'the line')} to {names.get(edges[n], 'the line')}",
            f"L_{n}/v_{n}",
            float(t),
            "s",
        )
        for n, t in enumerate(times, start=1)
    ]
    given = []
    for n, t in enumerate(times, start=1):
        length = edges[n] - edges[n - 1]
        given.append(Given(f"L_{n}", f"length of section {n}", length, "m", "path"))
        given.append(Given(f"v_{n}", f"mean speed of section {n}", length / float(t), "m/s", "lap"))
    total = Step("T", "lap time", " + ".join(s.symbol for s in steps), lap.lap_time_s, "s")
    return Working(
        "lap_time_s",
        "Lap time",
        "The sum of the sections between minimum speeds, each step of the path taking 2Δs/(v₁ + "
        "v₂).",
        tuple(given),
        (*steps, total),
        "T",
        "Quasi-steady-state lap: Siegler, Deakin and Crolla, SAE 2000-01-3563",
    )


def _result(driven: DrivenLap, corner: int) -> CornerResult:
    return driven.corners[corner]


def _min_speed(driven: DrivenLap, corner: int) -> Working:
    result = _result(driven, corner)
    place = place_at_lowest(driven, corner)
    said = {
        "power": "Engine power and resistance set this speed; the tyres have grip left.",
        "none": "Nothing limits the vehicle here: it is still accelerating.",
    }.get(result.limited_by) or (
        f"The {place.axle} axle is at its limit: {100.0 * place.use:.1f} % of it is in use at this "
        "speed, found by the solver step by step along the path."
        if result.limited_by in ("front", "rear")
        else f"Limited by {CAUSES.get(place.cause, 'the tyres')}."
    )
    speed = Step(
        "v_min",
        "minimum speed",
        "√((F_y·d/m + g·cos(γ)·sin(β))/(κ·cos(β) − κ_v·sin(β)))",
        result.min_speed_ms,
        "m/s",
    )
    by_symbol = {given.symbol: given.value for given in place.given}
    demand = next(step.value for step in place.steps if step.symbol == "F_y")
    # Which way the tyres push: against the bank's pull where the turn asks for less than it gives.
    bank_pull = by_symbol["g"] * math.cos(by_symbol["γ"]) * math.sin(by_symbol["β"])
    asked = by_symbol["v"] ** 2 * (
        by_symbol["κ"] * math.cos(by_symbol["β"]) - by_symbol["κ_v"] * math.sin(by_symbol["β"])
    )
    direction = 1.0 if asked - bank_pull >= 0.0 else -1.0
    given = (*place.given, Given("d", "which way the tyres push, left is 1", direction, "", "path"))
    straight = demand <= 0.0 or abs(asked) < 1e-9
    return Working(
        "min_speed_ms",
        "Minimum speed",
        said,
        given,
        place.steps if straight else (*place.steps, speed),
        "v" if straight else "v_min",
        MILLIKEN,
    )


def _lateral_g(driven: DrivenLap, corner: int) -> Working:
    lap = driven.lap
    result = _result(driven, corner)
    # The point that the result was read at: the last one before the minimum is first reached.
    extent = lap.path.corners[corner]
    reach = (extent.begins_at_m - 2.0 * DEFAULT_STEP_M, extent.ends_at_m + 2.0 * DEFAULT_STEP_M)
    points = points_between(driven, *reach)
    told = np.abs(np.abs(lap.ay_ms2[points]) / STANDARD_GRAVITY_MS2 - result.lateral_g)
    at = int(points[np.argmin(told)])
    k, x = int(lap.step[at]), float(lap.share[at])
    path = lap.path
    curvature = path.curvature_start[k] + x * (path.curvature_end[k] - path.curvature_start[k])
    return Working(
        "lateral_g",
        "Lateral acceleration",
        "Where the minimum speed is first reached.",
        (
            Given("v", "speed there", float(lap.v_ms[at]), "m/s", "lap"),
            Given("κ", "curvature there", abs(float(curvature)), "1/m", "path"),
            Given("g", "standard gravity", STANDARD_GRAVITY_MS2, "m/s²", "settled"),
        ),
        (Step("a_y", "lateral acceleration", "κ·v²/g", result.lateral_g, "g"),),
        "a_y",
        "Circular motion",
    )


def _slices(
    driven: DrivenLap, points: Integers, ends: tuple[float, float]
) -> list[tuple[float, float, float]]:
    """Speeds and metres of some slices between two places: (speed in, speed out, metres)."""
    lap = driven.lap
    start, end = ends
    ahead = lap.s_m[points] - start
    if lap.path.closed:
        ahead = np.mod(ahead + 1e-6, lap.path.length_m) - 1e-6
    at = np.concatenate(([0.0], ahead, [end - start]))
    speed = np.sqrt(
        np.interp(
            (at + start) % lap.path.length_m if lap.path.closed else at + start,
            lap.s_m,
            lap.v_ms**2,
        )
    )
    cuts = np.linspace(0.0, end - start, SLICES + 1)
    v = np.sqrt(np.interp(cuts, at, speed**2))
    return [(float(v[i]), float(v[i + 1]), float(cuts[i + 1] - cuts[i])) for i in range(SLICES)]


def _braking_distance(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    if result.brake_start_at_m is None or result.braking_distance_m is None:
        return None
    ends = (result.brake_start_at_m, result.brake_start_at_m + result.braking_distance_m)
    points = points_between(driven, *ends)
    given, steps = [], []
    for n, (v_in, v_out, metres) in enumerate(_slices(driven, points, ends), start=1):
        mean = (v_in**2 - v_out**2) / (2.0 * metres)
        if n == 1:
            given.append(Given("v_0", "speed at the braking point", v_in, "m/s", "lap"))
        given.append(Given(f"v_{n}", f"speed after slice {n}", v_out, "m/s", "lap"))
        given.append(Given(f"a_{n}", f"mean deceleration of slice {n}", mean, "m/s²", "lap"))
        # A slice in which nothing is shed has no distance by its speeds.
        formula = f"(v_{n - 1}² − v_{n}²)/(2·a_{n})" if abs(mean) > 1e-6 else f"{metres:.6f}"
        steps.append(Step(f"d_{n}", f"metres of slice {n}", formula, metres, "m"))
    total = " + ".join(step.symbol for step in steps)
    steps.append(Step("d", "braking distance", total, result.braking_distance_m, "m"))
    return Working(
        "braking_distance_m",
        "Braking distance",
        "From the first brake force to its end, in five equal parts; the peak deceleration shows "
        "the forces of one of them.",
        tuple(given),
        tuple(steps),
        "d",
        "v² = v₀² − 2·a·s",
    )


def _braking_point(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    if result.brake_start_at_m is None or result.braking_distance_m is None:
        return None
    path = driven.lap.path
    begins = path.corners[corner].begins_at_m
    to_corner = result.brake_start_to_corner_m or 0.0
    start = begins - to_corner
    end = start + result.braking_distance_m
    driver = driven.drive.driver
    lift = result.lift_at_m if result.lift_at_m is not None else result.brake_start_at_m
    coast = start - lift
    if path.closed:
        coast = (coast + 0.5 * path.length_m) % path.length_m - 0.5 * path.length_m
    given = [
        Given("s_end", "where the braking ends, at minimum speed", end, "m", "lap"),
        Given("d", "braking distance", result.braking_distance_m, "m", "lap"),
        Given("s_c", "where the corner begins", begins, "m", "circuit"),
        Given("c", "distance between throttle and brake", coast, "m", "lap"),
    ]
    steps = [
        Step("s", "braking point", "s_end − d", start, "m"),
        Step("x", "metres before the corner", "s_c − s", to_corner, "m"),
        Step("s_l", "where the throttle is shut", "s − c", start - coast, "m"),
    ]
    call = result.board_call
    if call is not None:
        sign = 1.0 if call.side == "before" else -1.0
        given.append(
            Given("s_b", f"position of “{call.label}”", start + sign * call.metres, "m", "circuit")
        )
        formula = "s_b − s" if call.side == "before" else "s − s_b"
        steps.append(Step("b", f"metres {call.side} “{call.label}”", formula, call.metres, "m"))
    return Working(
        "brake_start_to_corner_m",
        "Braking point",
        f"The latest lift from which {driver.transition_s:g} s between the pedals and "
        f"{driver.brake_ramp_s:g} s of rising brake still meet the braking curve.",
        tuple(given),
        tuple(steps),
        "x",
        "Shooting for each zone; Brayshaw and Harrison, Proc. IMechE D 219 (2005), for the lap",
    )


def _peak_decel(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    if result.brake_start_at_m is None or result.braking_distance_m is None:
        return None
    start = result.brake_start_at_m
    points = points_between(driven, start, start + result.braking_distance_m - 1e-3)
    lap = driven.lap
    place = place_between(driven, int(points[np.argmin(lap.ax_ms2[points])]))
    peak = Step("a_g", "peak deceleration", "−a_x/g", result.peak_decel_g or 0.0, "g")
    held = "brakes" if place.use < 0.97 else f"{place.axle} axle"
    return Working(
        "peak_decel_g",
        "Peak deceleration",
        f"Bound by the {held}: {100.0 * place.use:.1f} % of the {place.axle} grip is in use.",
        place.given,
        (*place.steps, peak),
        "a_g",
        MILLIKEN,
    )


def _gear(driven: DrivenLap, corner: int) -> Working:
    result = _result(driven, corner)
    vehicle = driven.drive.vehicle
    box, radius = vehicle.gearbox, vehicle.tyres.rolling_radius_m
    limit = float(driven.lap.packed.case[REV_LIMIT])
    given = [
        Given("v", "minimum speed", result.min_speed_ms, "m/s", "lap"),
        Given("r", "rolling radius", radius, "m", "car"),
        Given("i_f", "final drive", box.final_drive, "", "car"),
        Given("n_max", "rev limit", limit, "rpm", "car"),
    ]
    steps = []
    for number in range(max(result.gear - 1, 1), min(result.gear + 1, len(box.ratios)) + 1):
        ratio = box.ratios[number - 1]
        given.append(Given(f"i_{number}", f"ratio of gear {number}", ratio, "", "car"))
        rpm = result.min_speed_ms * ratio * box.final_drive / radius * 30.0 / math.pi
        formula = f"v·i_{number}·i_f/r·30/π"
        steps.append(Step(f"n_{number}", f"engine speed in gear {number}", formula, rpm, "rpm"))
    for number, shift in enumerate(result.downshifts, start=1):
        share = shift.rpm_after / limit
        given.append(
            Given(
                f"n_d{number}", f"after the shift to {shift.to_gear}", shift.rpm_after, "rpm", "lap"
            )
        )
        steps.append(Step(f"h_{number}", "of the rev limit", f"n_d{number}/n_max", share, ""))
    school = driven.drive.driver.gear_school.value
    reason = {
        "fastest": "the gear that gives the quickest lap from here",
        "lower": "the lowest gear that the downshifts reach",
        "higher": "one gear above the lowest that the downshifts reach",
    }[school]
    return Working(
        "gear",
        "Gear",
        f"Chosen: {result.gear}, {reason}. Each downshift comes as soon as the engine turns at no "
        f"more than {DOWNSHIFT_REV_SHARE:.0%} of its limit after it, and is done by the point of "
        "minimum speed.",
        tuple(given),
        tuple(steps),
        f"n_{result.gear}",
        "Rolling without slip",
    )


def _turn_in(driven: DrivenLap, corner: int) -> Working:
    result = _result(driven, corner)
    lap = driven.lap
    at = result.turn_in_at_m
    after = int(np.clip(lap.s_m.searchsorted(at), 1, len(lap.s_m) - 1))
    share = (at - lap.s_m[after - 1]) / (lap.s_m[after] - lap.s_m[after - 1])
    return Working(
        "turn_in_speed_ms",
        "Turn-in speed",
        "Where the curvature first passes a tenth of the corner’s peak.",
        (
            Given("v_1", "speed at the point before", float(lap.v_ms[after - 1]), "m/s", "lap"),
            Given("v_2", "speed at the point after", float(lap.v_ms[after]), "m/s", "lap"),
            Given("x", "share of the way between them", float(share), "", "path"),
        ),
        (Step("v_t", "turn-in speed", "v_1 + x·(v_2 − v_1)", result.turn_in_speed_ms, "m/s"),),
        "v_t",
        "The lap, read between its points",
    )


def _margin(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    if result.grip_left_pct is not None:
        use = 1.0 - result.grip_left_pct / 100.0
        return Working(
            "grip_left_pct",
            "Grip left, flat",
            "At the most demanding place of the corner, on full throttle.",
            (Given("U", "largest share of an axle’s grip in use", use, "", "lap"),),
            (Step("R", "grip left", "100·(1 − U)", result.grip_left_pct, "%"),),
            "R",
            MILLIKEN,
        )
    if result.overspeed_ms is None:
        return None
    arriving = result.min_speed_ms + result.overspeed_ms
    return Working(
        "overspeed_ms",
        "Speed to lose",
        "Speed at the point of minimum speed on full throttle if this corner were not there.",
        (
            Given("v_a", "arrival speed", arriving, "m/s", "lap without this corner"),
            Given("v", "minimum speed", result.min_speed_ms, "m/s", "lap"),
        ),
        (Step("Δv", "to lose", "v_a − v", result.overspeed_ms, "m/s"),),
        "Δv",
        "The same solver, with the corner’s curvature removed",
    )


def _throttle(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    if result.throttle_at_m is None:
        return None
    length = driven.lap.path.length_m
    after = result.throttle_at_m - result.min_speed_at_m
    if driven.lap.path.closed:
        after %= length
    return Working(
        "throttle_at_m",
        "Throttle",
        "Where the speed rises for good 0.1 m/s above the minimum.",
        (
            Given("s_min", "point of minimum speed", result.min_speed_at_m, "m", "lap"),
            Given("s_t", "throttle point", result.min_speed_at_m + after, "m", "lap"),
        ),
        (Step("x", "metres after minimum speed", "s_t − s_min", after, "m"),),
        "x",
        "The lap, read between its points",
    )


def _exit_speed(driven: DrivenLap, corner: int) -> Working | None:
    result = _result(driven, corner)
    path = driven.lap.path
    start = result.min_speed_at_m
    ends = path.corners[corner].ends_at_m
    metres = (ends - start) % path.length_m if path.closed else ends - start
    if metres < 1.0 or metres > 0.5 * path.length_m:
        return None
    span = (start, start + metres)
    points = points_between(driven, *span)
    given, terms = [], []
    for n, (v_in, v_out, length) in enumerate(_slices(driven, points, span), start=1):
        if n == 1:
            given.append(Given("v_0", "minimum speed", v_in, "m/s", "lap"))
        mean = (v_out**2 - v_in**2) / (2.0 * length)
        given.append(Given(f"a_{n}", f"mean acceleration of slice {n}", mean, "m/s²", "lap"))
        given.append(Given(f"d_{n}", f"metres of slice {n}", length, "m", "path"))
        terms.append(f"2·a_{n}·d_{n}")
    given += _pulling(driven, int(points[-1]))
    step = Step("v_e", "exit speed", f"√(v_0² + {' + '.join(terms)})", result.exit_speed_ms, "m/s")
    return Working(
        "exit_speed_ms",
        "Exit speed",
        "From minimum speed to the end of the corner, in five equal parts.",
        tuple(given),
        (step,),
        "v_e",
        "v² = v₀² + 2·a·s",
    )


def _pulling(driven: DrivenLap, point: int) -> list[Given]:
    """What the air leaves of the engine's torque, and what it has to turn along, at a point."""
    drive, lap = driven.drive, driven.lap
    air = engine_air(drive.vehicle.engine.intake, drive.conditions, drive.path.altitude_m)
    gear = int(lap.gear[point])
    turning = float(lap.packed.case[ROTATING + gear - 1])
    return [
        Given("k_a", "engine torque in this air, of the stated", air.factor, "", "car and air"),
        Given(
            "μ_t",
            f"equivalent mass of rotating parts in gear {gear}, share of the mass",
            turning,
            "",
            "car",
        ),
    ]


def _time_in_corner(driven: DrivenLap, corner: int) -> Working:
    result = _result(driven, corner)
    extent = driven.lap.path.corners[corner]
    length = extent.ends_at_m - extent.begins_at_m
    mean = length / result.time_in_corner_s
    return Working(
        "time_in_corner_s",
        "Time in the corner",
        "From where the corner begins to where it ends, ramps included.",
        (
            Given("L", "length of the corner", length, "m", "path"),
            Given("v_m", "mean speed", mean, "m/s", "lap"),
        ),
        (Step("t", "time", "L/v_m", result.time_in_corner_s, "s"),),
        "t",
        "Length over speed",
    )
