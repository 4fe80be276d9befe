"""What a reader of a lap should know before believing it."""

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.kernels.balance import air_speed, pressed
from neapfrost.core.kernels.case import BRAKE_MOST, MASS
from neapfrost.core.kernels.forces import LEAST, force_range
from neapfrost.core.kernels.jit import plain
from neapfrost.core.kernels.road import EAST, LIFT, N0, N2, NORTH
from neapfrost.core.lap.corners import CornerResult, unclaimed_zones
from neapfrost.core.lap.record import Lap, along_grid
from neapfrost.core.records import Vehicle

LIGHT_SHARE = 0.4  # of the weight on the flat, below which the vehicle is called light


def lap_warnings(lap: Lap, corners: tuple[CornerResult, ...]) -> tuple[str, ...]:
    """Sentences on what limits this lap in ways the plan may not have meant."""
    vehicle = lap.drive.vehicle
    return (
        *_light_over_crests(lap),
        *_gears_never_used(lap, corners, len(vehicle.gearbox.ratios)),
        *(
            f"{corner.name} is limited by power: the engine cannot hold the speed that the tyres "
            "would allow there."
            for corner in corners
            if corner.limited_by == "power"
        ),
        *_weak_brakes(lap),
        *_fuel_beyond_the_tank(vehicle),
        *(
            f"Braking at {lap.path.ring.fold(zone.brake_start_at_m):.0f} m ends at no corner: a "
            "crest or a change of grip asks for it."
            for zone in unclaimed_zones(lap)
            if not zone.lifted
        ),
        *(
            ()
            if lap.settled
            else ("The flying lap does not repeat itself exactly; the last one driven is shown.",)
        ),
        *_slow_start(lap),
    )


def _light_over_crests(lap: Lap) -> list[str]:
    """One sentence for each stretch on which the normal force falls below the share."""
    road, case = lap.packed.road, lap.packed.case

    def along(column: int) -> Floats:
        values: Floats = along_grid(road[:, 0, column], road[:, 1, column], lap.step, lap.share)
        return values

    air = plain(air_speed)(case, lap.v_ms, along(NORTH), along(EAST))
    lift = road[lap.step, 0, LIFT]
    weight, downforce = plain(pressed)(case, along(N0), along(N2), lift, lap.v_ms**2, air)
    share = (weight + downforce) / (case[MASS] * STANDARD_GRAVITY_MS2)
    light = share < LIGHT_SHARE
    starts = np.flatnonzero(light & ~np.concatenate(([False], light[:-1])))
    sentences = []
    for start in starts:
        end = start + int(np.argmin(np.append(light[start:], False)))
        lowest = start + int(np.argmin(share[start:end]))
        sentences.append(
            f"Light over the crest at {lap.s_m[lowest]:.0f} m: {100 * share[lowest]:.0f} % of the "
            "weight is left on the wheels there; settle before braking."
        )
    return sentences


def _gears_never_used(lap: Lap, corners: tuple[CornerResult, ...], count: int) -> list[str]:
    used = set(lap.gear.tolist())
    for corner in corners:
        used.add(corner.gear)
        used.update(shift.to_gear for shift in corner.downshifts)
    # On a flying lap nobody misses first gear: it is there for the start.
    lowest = 2 if lap.path.closed and count > 1 else 1
    idle = [str(gear) for gear in range(lowest, count + 1) if gear not in used]
    if not idle:
        return []
    if len(idle) == 1:
        return [f"Gear {idle[0]} is never used."]
    return [f"Gears {', '.join(idle[:-1])} and {idle[-1]} are never used."]


def _weak_brakes(lap: Lap) -> list[str]:
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
            return [
                f"The brakes are too weak to reach the tyres' limit: {-given / 1000:.1f} kN of "
                f"{-possible / 1000:.1f} kN at {at:.0f} m."
            ]
    return []


def _fuel_beyond_the_tank(vehicle: Vehicle) -> list[str]:
    if vehicle.fuel_capacity_kg is None or vehicle.fuel_kg <= vehicle.fuel_capacity_kg:
        return []
    return [
        f"{vehicle.fuel_kg:g} kg of fuel is more than the tank's {vehicle.fuel_capacity_kg:g} kg."
    ]


def _slow_start(lap: Lap) -> list[str]:
    if lap.path.closed or lap.v_ms[0] >= lap.path.start_speed_ms - 0.05:
        return []
    return [
        f"The start speed of {lap.path.start_speed_ms:.1f} m/s is more than the first metres "
        f"allow; the lap starts at {lap.v_ms[0]:.1f} m/s."
    ]
