"""Everything that acts on the vehicle at one point of a lap, as the kernels have it."""

import math
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import LOAD_RATIO_FLOOR, STANDARD_GRAVITY_MS2
from neapfrost.core.kernels import case as c
from neapfrost.core.kernels.forces import (
    aero_at,
    axle_demand,
    axle_use,
    balance,
    limiting_cause,
)
from neapfrost.core.kernels.profile import held_force
from neapfrost.core.kernels.road import DRAG, GRIP, N0, N2, SLOPE, Y0, Y2
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.record import places_on_grid
from neapfrost.core.working.record import Given, Step

AXLES_ALIKE = 0.01  # so close to each other in use, both axles count as the limiting one


@dataclass(frozen=True)
class Place:
    """Values and lines of the arithmetic at one place; `axle` is the one nearer to its limit."""

    v_ms: float
    acceleration_ms2: float
    axle: str
    cause: int
    use: float
    given: tuple[Given, ...]
    steps: tuple[Step, ...]


def point_of_lowest(driven: DrivenLap, corner: int) -> int:
    """Index into the lap's points of the slowest one of a corner."""
    lap = driven.lap
    extent = lap.path.corners[corner]
    at = lap.s_m
    inside = (at >= extent.begins_at_m - 1e-7) & (at <= extent.ends_at_m + 1e-7)
    if lap.path.closed and extent.ends_at_m > lap.path.length_m:
        inside |= at <= extent.ends_at_m - lap.path.length_m + 1e-7
    points = np.flatnonzero(inside)
    return int(points[np.argmin(lap.v_ms[points])])


def place_at_lowest(driven: DrivenLap, corner: int) -> Place:
    """The place of a corner's minimum speed.

    Where braking turns into driving the force jumps; of the two the nearer one that the grip
    allows at this very speed is taken.
    """
    lap = driven.lap
    index = point_of_lowest(driven, corner)
    k, x, v = int(lap.step[index]), float(lap.share[index]), float(lap.v_ms[index])
    lowest = driven.corners[corner].min_speed_ms
    if lowest < v - 1e-6:
        # Slowest where the corner begins or ends, between two points of the lap.
        extent = lap.path.corners[corner]
        edges = np.array([extent.begins_at_m, extent.ends_at_m])
        edges = lap.path.ring.fold(edges)
        speeds = np.interp(edges, lap.s_m, lap.v_ms)
        edge = edges[int(np.argmin(speeds))]
        step, share = places_on_grid(lap.path, np.array([edge]))
        k, x, v = int(step[0]), float(share[0]), float(speeds.min())
        index = max(int(lap.s_m.searchsorted(edge, side="right")) - 1, 0)
    case, road = lap.packed.case, lap.packed.road
    force = float(held_force(case, road, k, x, v * v, float(lap.force_n[index])))
    return place_at(driven, k, x, v, force, driven.corners[corner].limited_by)


def place_between(driven: DrivenLap, index: int) -> Place:
    """The middle of the interval that begins at a point, where its force was found."""
    lap = driven.lap
    middle = 0.5 * (lap.s_m[index] + lap.s_m[index + 1])
    step, share = places_on_grid(lap.path, np.array([middle]))
    v = math.sqrt(0.5 * (lap.v_ms[index] ** 2 + lap.v_ms[index + 1] ** 2))
    return place_at(driven, int(step[0]), float(share[0]), v, float(lap.force_n[index]))


@dataclass(frozen=True)
class _Part:
    """What some vehicles have more of: figures, lines, and what is added to the axle's load."""

    given: tuple[Given, ...] = ()
    steps: tuple[Step, ...] = ()
    load: str = ""


def _turning(case: Floats, is_rear: bool, cost_n: float) -> _Part:
    """What turning costs, as D_y; nothing for tyres that drag nothing in a corner."""
    front, rear = float(case[c.CORNERING_FRONT]), float(case[c.CORNERING_REAR])
    scrub = float(case[c.SCRUB])
    if front + rear + scrub == 0.0:
        return _Part()
    own, other = (rear, front) if is_rear else (front, rear)
    return _Part(
        (
            Given("c_1", "weight share squared over cornering stiffness, here", own, "", "car"),
            Given("c_2", "the same for the other axle", other, "", "car"),
            Given("M_s", "scrub of a locked axle", scrub, "Nm", "car"),
        ),
        (
            Step(
                "D_y",
                "cornering drag",
                "F_y²·(c_1/N_0 + c_2/(W + F_l − N_0)) + M_s·abs(κ·cos(β) − κ_v·sin(β))",
                cost_n,
                "N",
            ),
        ),
    )


def _braked(case: Floats, is_rear: bool, by_air: float, force: float, downforce: float) -> _Part:
    """Braking by a rider who sits up, as S, and downforce that a dive takes, as F_d."""
    up, lost = float(case[c.SITS_UP]), float(case[c.LIFT_BRAKING])
    if force >= 0.0 or up + lost == 0.0:
        return _Part()
    goes = lost / float(case[c.MASS]) * downforce * -force
    sign = "+" if is_rear else "−"
    return _Part(
        (
            Given("S", "braking by the air, sitting up", by_air, "N", "car, air and tyres"),
            Given("h_s", "its height over the wheelbase", float(case[c.SITS_UP_ARM]), "", "car"),
            Given("e", "downforce lost for each m/s² of braking", lost, "s²/m", "car"),
        ),
        (Step("F_d", "downforce lost in the dive", "e·F_l·abs(F_x)/m", goes, "N"),),
        f" {sign} h_s·S − a·F_d",
    )


# Long: one line of the arithmetic after the other, as it is read.
def place_at(driven: DrivenLap, k: int, x: float, v: float, force: float, told: str = "") -> Place:
    """Loads, forces and the grip in use at share x of step k, at a speed and a tyre force.

    The axle nearer to its limit is worked out; where both are at it, the one that was `told`.
    Sources: normal and lateral load on a banked, curved road and load transfer after Milliken,
    Race Car Vehicle Dynamics (1995); combined slip by a superellipse of each axle.
    """
    lap = driven.lap
    case, road = lap.packed.case, lap.packed.road
    w = v * v

    def along(column: int) -> float:
        return float(road[k, 0, column] + (road[k, 1, column] - road[k, 0, column]) * x)

    (
        front,
        rear,
        _,
        lateral,
        level,
        resistance,
        transfer,
        grip_front,
        grip_rear,
        downforce,
        aero,
        air,
    ) = (float(value) for value in balance(case, road, k, x, w))
    asked = axle_demand(case, road, k, x, w, force)
    use_front, use_rear, load_front, load_rear = (
        float(value) for value in axle_use(case, road, k, x, w, force)
    )
    alike = abs(use_rear - use_front) < AXLES_ALIKE
    is_rear = told == "rear" if alike and told in ("front", "rear") else use_rear > use_front
    bank = math.atan2(-along(Y0), along(N0))
    slope = math.asin(max(-1.0, min(1.0, along(SLOPE) / STANDARD_GRAVITY_MS2)))
    curvature = along(Y2) * math.cos(bank) + along(N2) * math.sin(bank)
    vertical = along(N2) * math.cos(bank) - along(Y2) * math.sin(bank)
    weight_n = float(case[c.MASS]) * (along(N0) + along(N2) * w)
    half_lift = downforce / (air * air) if air != 0.0 else 0.0
    half_drag = float(case[c.HALF_RHO_CDA]) * float(road[k, 0, DRAG])
    if case[c.AERO_BY_SPEED] > 0.0:
        half_drag *= float(aero_at(case, air, 1))
    vehicle, use = driven.drive.vehicle, driven.drive.driver.use
    braking = force < 0.0
    weight = float(case[c.FRONT_WEIGHT])
    share = 1.0 - weight if is_rear else weight
    reference = float(case[c.REAR_REFERENCE if is_rear else c.FRONT_REFERENCE])
    air_share = 1.0 - aero if is_rear else aero
    load_before = rear if is_rear else front
    load = load_rear if is_rear else load_front
    grip = grip_rear if is_rear else grip_front
    surface = along(GRIP)
    track = float(case[c.MU_LATERAL]) / (vehicle.tyres.mu_lateral * use.cornering)
    part = float(1.0 - asked.on_front if is_rear else asked.on_front)
    mu_along = float(case[c.MU_BRAKING] if braking else case[c.MU_TRACTION])
    used = use.braking if braking else use.traction
    axle = "rear" if is_rear else "front"
    sign = 1.0 if is_rear else -1.0
    resting = level - half_drag * air * abs(air) - float(case[c.ROLLING]) * (weight_n + downforce)
    turning = _turning(case, is_rear, resting)
    braked = _braked(case, is_rear, float(asked.by_air), force, downforce)
    mass = float(case[c.MASS])
    given = (
        Given("v", "speed", v, "m/s", "solved"),
        Given("m", "mass with driver and fuel", mass, "kg", "car and plan"),
        Given("g", "standard gravity", STANDARD_GRAVITY_MS2, "m/s²", "settled"),
        Given("κ", "driven curvature", curvature, "1/m", "path"),
        Given("β", "bank, helping a left turn", bank, "rad", "path"),
        Given("γ", "slope, uphill", slope, "rad", "path"),
        Given("κ_v", "vertical curvature, a dip", vertical, "1/m", "path"),
        Given("v_w", "headwind", air - v, "m/s", "conditions"),
        Given("A_l", "½ρ·ClA", half_lift, "kg/m", "car and air"),
        Given("A_d", "½ρ·CdA", half_drag, "kg/m", "car and air"),
        Given("C_rr", "rolling resistance", float(case[c.ROLLING]), "", "car"),
        Given("F_x", "tyre force along the road", force, "N", "solved"),
        Given("s", f"weight on the {axle}", share, "", "car"),
        Given("a", f"downforce on the {axle}", air_share, "", "car"),
        Given("t", "height of the centre of gravity over the wheelbase", transfer, "", "car"),
        Given("μ_0", "grip sideways", vehicle.tyres.mu_lateral, "", "car"),
        Given("c", "track grip with water", track, "", "conditions"),
        Given("q", "grip of the surface", surface, "", "circuit"),
        Given("u", "share used, cornering", use.cornering, "", "driver"),
        Given("ε", "load sensitivity", float(case[c.LOAD_SENSITIVITY]), "", "car"),
        Given("N_ref", f"reference load, {axle}", reference, "N", "car"),
        Given("μ_l", "grip along, with track", mu_along / used, "", "car and conditions"),
        Given("u_l", "share used, along", used, "", "driver"),
        Given("b", f"force along the road that the {axle} carries", part, "", "car"),
        Given("p", "exponent of combined grip", float(asked.p), "", "driver"),
        *turning.given,
        *braked.given,
    )
    along_n = float(asked.along_rear if is_rear else asked.along_front)
    across_n = float(asked.across_rear if is_rear else asked.across_front)
    moved = transfer * (force - level)
    floor = LOAD_RATIO_FLOOR
    steps = (
        Step("v_a", "speed through the air", "v + v_w", air, "m/s"),
        Step("F_l", "downforce at this speed and attitude", "A_l·v_a²", downforce, "N"),
        Step(
            "W",
            "weight onto the road",
            "m·(g·cos(γ)·cos(β) + v²·(κ_v·cos(β) + κ·sin(β)))",
            weight_n,
            "N",
        ),
        Step(
            "F_y",
            "force across",
            "abs(m·(v²·(κ·cos(β) − κ_v·sin(β)) − g·cos(γ)·sin(β)))",
            lateral,
            "N",
        ),
        Step("N_0", f"load on the {axle} before transfer", "s·W + a·F_l", load_before, "N"),
        *turning.steps,
        Step(
            "D",
            "drag and rolling" + (", and cornering drag" if turning.steps else ""),
            "A_d·v_a·abs(v_a) + C_rr·(W + F_l)" + (" + D_y" if turning.steps else ""),
            level,
            "N",
        ),
        *braked.steps,
        Step(
            "ΔN",
            f"load moved to the {axle}",
            "t·(F_x − D)" if is_rear else "t·(D − F_x)",
            sign * moved,
            "N",
        ),
        Step("N", f"load on the {axle}", "N_0 + ΔN" + braked.load, load, "N"),
        Step(
            "k",
            "grip left by the load and the surface",
            f"q·max(N_0/N_ref, {floor:g})^(−ε)",
            grip,
            "",
        ),
        Step(
            "X",
            "share of the grip used along",
            f"b·{'(abs(F_x) − S)' if braked.steps else 'abs(F_x)'}/(μ_l·u_l·k)",
            along_n,
            "N",
        ),
        Step("Y", "share of the grip used across", "s·F_y/(μ_0·c·u·k)", across_n, "N"),
        Step(
            "a_x",
            "acceleration along the road",
            "(F_x − D − m·g·sin(γ))/m",
            (force - resistance) / mass,
            "m/s²",
        ),
        Step(
            "U",
            f"share of the {axle} grip in use",
            "(X^p + Y^p)^(1/p)/N",
            use_rear if is_rear else use_front,
            "",
        ),
    )
    return Place(
        v_ms=v,
        acceleration_ms2=(force - resistance) / mass,
        axle=axle,
        cause=int(limiting_cause(case, road, k, x, w, force)),
        use=use_rear if is_rear else use_front,
        given=given,
        steps=steps,
    )
