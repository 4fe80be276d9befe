"""A vehicle at one speed on a level road: forces along it, and how hard it may turn."""

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import SPEED_CEILING_MS, STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.case import GEARS, LIMITER_W, ROTATING
from neapfrost.core.kernels.forces import BOTH, force_range, limiting_cause
from neapfrost.core.kernels.jit import plain
from neapfrost.core.kernels.powertrain import (
    engine_force,
    left_at_tyres,
    strongest_at_tyres,
    strongest_force,
)
from neapfrost.core.kernels.road import COEFFICIENTS, GRIP, N0, NORTH, Y2
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import leave_ways_alone
from neapfrost.core.records import Conditions, Driver, Vehicle

#: Tightest curvature looked at, and how exactly the limit is found [1/m].
CURVATURE_MOST_PER_M = 1.0
LIMITS = {0: "none", 1: "front", 2: "rear", 3: "unloading", 4: "lean"}


@dataclass(frozen=True, eq=False)
class LevelCar:
    """A vehicle packed with air, track and driver, without any wind's help on a level road."""

    case: Floats
    mass_kg: float


@dataclass(frozen=True)
class Forces:
    """Along the road at one speed [N]: least (braking) and greatest tyre force, resistance.

    `possible` is False above the speed at which any force holds the vehicle.
    """

    least_n: float
    greatest_n: float
    resistance_n: float
    possible: bool


def level_car(
    vehicle: Vehicle, conditions: Conditions, driver: Driver | None = None, altitude_m: float = 0.0
) -> LevelCar:
    """A vehicle ready to be asked; wind is left out."""
    calm = Conditions(**{**vars(conditions), "wind_speed_ms": 0.0})
    return LevelCar(pack_case(vehicle, calm, driver or Driver(), altitude_m), vehicle.total_mass_kg)


def level_road(curvature_per_m: float = 0.0) -> Floats:
    """One step of a level road of some curvature, as the kernels read it; shape (1, 2, 16)."""
    road = np.zeros((1, 2, COEFFICIENTS))
    road[:, :, N0] = STANDARD_GRAVITY_MS2
    road[:, :, Y2] = curvature_per_m
    road[:, :, NORTH] = 1.0
    road[:, :, GRIP] = 1.0
    leave_ways_alone(road)
    return road


def forces_at(car: LevelCar, v_ms: float, curvature_per_m: float = 0.0) -> Forces:
    """What the tyres allow along the road, and what resists, at a speed and curvature."""
    least, greatest, resistance, possible = force_range(
        car.case, level_road(curvature_per_m), 0, 0.0, v_ms * v_ms, BOTH
    )
    return Forces(float(least), float(greatest), float(resistance), bool(possible))


def turning_limit(car: LevelCar, v_ms: float) -> tuple[float, str]:
    """The greatest lateral acceleration at a speed for an instant [m/s²], and what limits it.

    Any force along the road is allowed, braking as well; `steady_limit` holds the speed.
    """
    limit = _tightest(car, v_ms, lambda found: found.possible)
    found = forces_at(car, v_ms, limit)
    return _caused(car, v_ms, limit, min(max(0.0, found.least_n), found.greatest_n))


def steady_limit(car: LevelCar, v_ms: float) -> tuple[float, str]:
    """The greatest lateral acceleration at a speed that is held [m/s²], and what limits it.

    As on a skidpad: the drive overcomes the resistance, as far as the engine has it.
    """
    engine = engine_force_n(car, v_ms)

    def holds(found: Forces) -> bool:
        drive = min(found.resistance_n, engine)
        return found.possible and found.least_n <= drive <= found.greatest_n

    limit = _tightest(car, v_ms, holds)
    return _caused(car, v_ms, limit, min(forces_at(car, v_ms, limit).resistance_n, engine))


def _tightest(car: LevelCar, v_ms: float, holds: Callable[[Forces], bool]) -> float:
    """The greatest curvature that can be driven at a speed [1/m]."""
    low = 0.0
    high = min(CURVATURE_MOST_PER_M, 100.0 * STANDARD_GRAVITY_MS2 / max(v_ms * v_ms, 1.0))
    if not holds(forces_at(car, v_ms, low)):
        return 0.0
    if holds(forces_at(car, v_ms, high)):
        return high
    # Loaded once it is wanted: it takes a second, which every start of the application would wait.
    from scipy.optimize import bisect

    # A yes or no has no slope for a quicker search to use.
    found = bisect(lambda k: 1.0 if holds(forces_at(car, v_ms, k)) else -1.0, low, high, rtol=1e-9)
    return float(found)


def _caused(
    car: LevelCar, v_ms: float, curvature_per_m: float, force_n: float
) -> tuple[float, str]:
    w = v_ms * v_ms
    road = level_road(curvature_per_m)
    cause = int(limiting_cause(car.case, road, 0, 0.0, w, force_n))
    return curvature_per_m * w, LIMITS[cause]


def engine_force_n(car: LevelCar, v_ms: float, gear: int | None = None) -> float:
    """Full-throttle force at the wheels [N] in a gear (0 is first), or the most of any.

    0 above the limiter. At a speed that is held all of it is left for the road.
    """
    if gear is None:
        return float(strongest_force(car.case, v_ms))
    if v_ms * v_ms > car.case[LIMITER_W + gear]:
        return 0.0
    return float(engine_force(car.case, gear, v_ms))


def pull_n(car: LevelCar, v_ms: float, resistance_n: float, gear: int | None = None) -> float:
    """What full throttle brings to the road [N] against a resistance, in a gear or the best of all.

    Less than `engine_force_n` by what turns the wheels and the engine faster.
    """
    if gear is None:
        return float(strongest_at_tyres(car.case, v_ms, resistance_n))
    if v_ms * v_ms > car.case[LIMITER_W + gear]:
        return 0.0
    force, rotating = float(engine_force(car.case, gear, v_ms)), float(car.case[ROTATING + gear])
    return plain(left_at_tyres)(rotating, force, resistance_n) if force > 0.0 else 0.0


def gear_count(car: LevelCar) -> int:
    """How many gears the vehicle has."""
    return int(car.case[GEARS])


def top_speed_ms(car: LevelCar) -> tuple[float, str]:
    """The greatest speed on the level [m/s], and whether `drag` or the `limiter` ends it.

    Where drive and resistance meet, looked for downwards from the highest limiter.
    """
    limiter = min(
        float(np.sqrt(car.case[LIMITER_W : LIMITER_W + gear_count(car)].max())), SPEED_CEILING_MS
    )

    def spare(v: float) -> float:
        found = forces_at(car, v)
        return min(engine_force_n(car, v), found.greatest_n) - found.resistance_n

    if spare(limiter) >= 0.0:
        return limiter, "limiter"
    speeds = np.linspace(limiter, 1.0, 80)
    for above, below in itertools.pairwise(speeds):
        if spare(float(below)) >= 0.0:
            # Loaded once it is wanted, as above.
            from scipy.optimize import brentq

            return float(brentq(spare, float(below), float(above))), "drag"
    return 0.0, "drag"
