"""What a reader of a lap should know before believing it."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import BRAKE_MOST, MASS
from neapfrost.core.kernels.forces import LEAST, force_range
from neapfrost.core.lap.corners import CornerResult, unclaimed_zones
from neapfrost.core.lap.record import Lap, elapsed_s
from neapfrost.core.records import Vehicle, VehicleKind

#: From the end of one corner's full curvature to the other hand's a vehicle takes so long to turn
#: in and settle [s]: its yaw and roll are not modelled.
YAW_S = {VehicleKind.CAR: 0.35, VehicleKind.MOTORCYCLE: 0.6}
FULL_BEND = 0.9  # of a corner's peak curvature
LIGHT_SHARE = 0.4  # of the weight on the flat, below which the vehicle is called light


@dataclass(frozen=True)
class LightCrest:
    """The wheels carry no more than this share of the weight on the flat."""

    at_m: float
    weight_share: float


@dataclass(frozen=True)
class IdleGears:
    """Gears, from 1, that the lap never uses."""

    gears: tuple[int, ...]


@dataclass(frozen=True)
class PowerLimited:
    """A corner whose speed the engine cannot hold."""

    corner: str


@dataclass(frozen=True)
class WeakBrakes:
    """The hardware, not the tyres, bounds the braking somewhere in a zone."""

    at_m: float
    given_n: float
    possible_n: float


@dataclass(frozen=True)
class FuelBeyondTank:
    """More fuel than the tank holds."""

    fuel_kg: float
    tank_kg: float


@dataclass(frozen=True)
class StrayBraking:
    """Braking that ends at no corner."""

    at_m: float


@dataclass(frozen=True)
class Unsettled:
    """A flying lap that does not repeat itself exactly."""


@dataclass(frozen=True)
class SlowStart:
    """A start speed that the first metres do not allow."""

    wanted_ms: float
    reached_ms: float


@dataclass(frozen=True)
class FarAir:
    """The air is so far from the one an engine's torque was stated in that no standard says it."""

    torque_factor: float
    valid_most: float


@dataclass(frozen=True)
class QuickReversals:
    """Pairs of corners whose change of direction leaves less time than a vehicle takes to yaw."""

    pairs: tuple[tuple[str, str], ...]
    shortest_s: float


LapFact = (
    LightCrest
    | IdleGears
    | PowerLimited
    | WeakBrakes
    | FuelBeyondTank
    | StrayBraking
    | Unsettled
    | SlowStart
    | FarAir
    | QuickReversals
)


def lap_facts(lap: Lap, corners: tuple[CornerResult, ...]) -> tuple[LapFact, ...]:
    """What limits this lap in ways the plan may not have meant."""
    vehicle = lap.drive.vehicle
    return (
        *_light_over_crests(lap),
        *_gears_never_used(lap, corners, len(vehicle.gearbox.ratios)),
        *(PowerLimited(corner.name) for corner in corners if corner.limited_by == "power"),
        *_weak_brakes(lap),
        *_fuel_beyond_the_tank(vehicle),
        *(
            StrayBraking(lap.path.ring.fold(zone.brake_start_at_m))
            for zone in unclaimed_zones(lap)
            if not zone.lifted
        ),
        *(() if lap.settled else (Unsettled(),)),
        *_slow_start(lap),
        *_far_air(lap),
        *_quick_reversals(lap),
    )


def _light_over_crests(lap: Lap) -> list[LapFact]:
    """One for each stretch on which the normal force falls below the share."""
    share = lap.normal_n / (lap.packed.case[MASS] * STANDARD_GRAVITY_MS2)
    light = share < LIGHT_SHARE
    if not light.any():
        return []
    starts = np.flatnonzero(light & ~np.concatenate(([False], light[:-1])))
    found: list[LapFact] = []
    for start in starts:
        end = start + int(np.argmin(np.append(light[start:], False)))
        lowest = start + int(np.argmin(share[start:end]))
        found.append(LightCrest(float(lap.s_m[lowest]), float(share[lowest])))
    return found


def _gears_never_used(lap: Lap, corners: tuple[CornerResult, ...], count: int) -> list[LapFact]:
    idle = idle_gears(lap, corners, count)
    return [IdleGears(idle)] if idle else []


def idle_gears(lap: Lap, corners: tuple[CornerResult, ...], count: int) -> tuple[int, ...]:
    """Gears of so many, from 1, that a lap never uses."""
    used = set(np.flatnonzero(np.bincount(lap.gear)).tolist())
    for corner in corners:
        used.add(corner.gear)
        used.update(shift.to_gear for shift in corner.downshifts)
    # On a flying lap nobody misses first gear: it is there for the start.
    lowest = 2 if lap.path.closed and count > 1 else 1
    return tuple(gear for gear in range(lowest, count + 1) if gear not in used)


def _weak_brakes(lap: Lap) -> list[LapFact]:
    """Whether the hardware, not the tyres, bounds the braking somewhere in a zone."""
    stronger = lap.packed.case.copy()
    stronger[BRAKE_MOST] = np.inf
    for zone in lap.zones:
        if zone.lifted:
            continue
        at = lap.path.ring.fold(zone.brake_start_at_m)
        index = min(int(np.searchsorted(lap.s_m, at)), len(lap.s_m) - 1)
        place = (lap.packed.road, lap.step[index], lap.share[index], lap.v_ms[index] ** 2, LEAST)
        given = force_range(lap.packed.case, *place)[0]
        possible = force_range(stronger, *place)[0]
        # At the cornering limit some drive is needed and no braking is left at all.
        if possible < 0.0 and given > possible * 0.999:
            return [WeakBrakes(float(at), float(-given), float(-possible))]
    return []


def _fuel_beyond_the_tank(vehicle: Vehicle) -> list[LapFact]:
    if vehicle.fuel_capacity_kg is None or vehicle.fuel_kg <= vehicle.fuel_capacity_kg:
        return []
    return [FuelBeyondTank(vehicle.fuel_kg, vehicle.fuel_capacity_kg)]


def _slow_start(lap: Lap) -> list[LapFact]:
    if lap.path.closed or lap.v_ms[0] >= lap.path.start_speed_ms - 0.05:
        return []
    return [SlowStart(lap.path.start_speed_ms, float(lap.v_ms[0]))]


def _far_air(lap: Lap) -> list[LapFact]:
    """Whether the engine's torque is corrected by more than its standard stands by."""
    drive = lap.drive
    air = engine_air(drive.vehicle.engine.intake, drive.conditions, drive.path.altitude_m)
    return [] if air.is_valid else [FarAir(air.factor, air.valid[1] - 1.0)]


def _quick_reversals(lap: Lap) -> list[LapFact]:
    """Corners of opposite hands between which there is less time than a vehicle takes to yaw."""
    path = lap.path
    bend = 0.5 * (path.curvature_start + path.curvature_end)
    middle = 0.5 * (path.s_m[:-1] + path.s_m[1:])
    full: list[tuple[float, float, float]] = []
    for corner in path.corners:
        inside = (middle >= corner.begins_at_m) & (middle <= corner.ends_at_m)
        if corner.ends_at_m > path.length_m:
            inside |= middle <= corner.ends_at_m - path.length_m
        steps = np.flatnonzero(inside)
        if len(steps) == 0:
            return []
        peak = bend[steps[np.argmax(np.abs(bend[steps]))]]
        # A corner may go on beyond the line: its places are counted on from where it begins.
        along = (middle[steps] - corner.begins_at_m) % path.length_m + corner.begins_at_m
        held = along[bend[steps] / peak >= FULL_BEND]
        full.append((float(held.min()), float(held.max()), float(np.sign(peak))))
    found: list[tuple[str, str]] = []
    shortest = YAW_S[lap.drive.vehicle.kind]
    count = len(full)
    for n in range(count if path.closed and count > 1 else count - 1):
        after = (n + 1) % count
        if full[n][2] == full[after][2]:
            continue
        begins = full[after][0] + (path.length_m if after == 0 else 0.0)
        left, reached = elapsed_s(lap, np.array([full[n][1], begins]))
        if 0.0 <= reached - left < YAW_S[lap.drive.vehicle.kind]:
            found.append((path.corners[n].name, path.corners[after].name))
            shortest = min(shortest, float(reached - left))
    return [QuickReversals(tuple(found), shortest)] if found else []
