"""Laps as a person drives them, in a car that is not quite what its sheet says: seeded."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.drive import CornerOrder, Drive
from neapfrost.core.lap.record import Lap
from neapfrost.core.lap.solve import solve
from neapfrost.core.wind import components_ms, from_components

#: How far the truth lies from the sheet, as standard deviations of factors and of the wind [m/s].
GRIP_SD, DOWNFORCE_SD, DRAG_SD, POWER_SD, MASS_SD, WIND_SD_MS = 0.025, 0.04, 0.03, 0.02, 0.008, 1.0
#: What the first lap lacks of the driver's own limit, and how many laps learn 63 % of it.
LACKS_AT_FIRST, LEARNT_IN_LAPS = 0.05, 2.0
#: Scatter from lap to lap: of the grip that is used in a corner, and of the braking before it.
CORNER_SD, BRAKING_SD = 0.010, 0.04
#: How often a corner goes wrong, and what it costs of grip or of braking then.
MISTAKES, MISTAKE_LACKS = 0.02, 0.10
#: Grip of cold tyres on the first laps, and what each later lap takes.
WARM_UP, FADE = (0.95, 0.985), 0.0008
#: What a driver leaves unused of the grip once a place is learnt: the scale of it, one-sided.
UNUSED_SD = 0.01
#: How far grip along lies from what grip across would let expect.
ALONG_SD = 0.015


@dataclass(frozen=True)
class Hidden:
    """The truth against the sheet: factors, and what more wind there is from north and east.

    `used` is the share of the grip that the driver uses in corners once the place is learnt,
    `along` what grip along differs by from what the sheet makes of the grip across.
    """

    grip: float
    downforce: float
    drag: float
    power: float
    mass: float
    north_ms: float
    east_ms: float
    used: float = 1.0
    along: float = 1.0


def hidden_by(seed: int) -> Hidden:
    """The truth of a seed."""
    chance = np.random.default_rng([seed, 1])
    grip, downforce, drag, power, mass = (
        1.0 + sd * float(chance.standard_normal())
        for sd in (GRIP_SD, DOWNFORCE_SD, DRAG_SD, POWER_SD, MASS_SD)
    )
    north, east = (WIND_SD_MS * float(chance.standard_normal()) for _ in range(2))
    more = np.random.default_rng([seed, 4])
    used = 1.0 - UNUSED_SD * abs(float(more.standard_normal()))
    along = 1.0 + ALONG_SD * float(more.standard_normal())
    return Hidden(grip, downforce, drag, power, mass, north, east, used, along)


def true_drive(drive: Drive, hidden: Hidden) -> Drive:
    """The drive as it really is."""
    car, air = drive.vehicle, drive.conditions
    curve = tuple((rpm, torque * hidden.power) for rpm, torque in car.engine.torque_curve)
    north, east = components_ms(air.wind_speed_ms, air.wind_from_deg)
    wind, from_deg = from_components(north + hidden.north_ms, east + hidden.east_ms)
    return replace(
        drive,
        vehicle=replace(
            car,
            mass_kg=car.mass_kg * hidden.mass,
            tyres=replace(car.tyres, mu_longitudinal=car.tyres.mu_longitudinal * hidden.along),
            aero=replace(
                car.aero,
                lift_area_m2=car.aero.lift_area_m2 * hidden.downforce,
                drag_area_m2=car.aero.drag_area_m2 * hidden.drag,
            ),
            engine=replace(car.engine, torque_curve=curve),
        ),
        conditions=replace(
            air,
            wind_speed_ms=wind,
            wind_from_deg=from_deg,
            grip_factor=air.grip_factor * hidden.grip,
        ),
    )


def driven_laps(
    drive: Drive,
    count: int,
    seed: int,
    hidden: Hidden | None = None,
    degradation: float = FADE,
) -> list[Lap]:
    """So many laps one after the other: learnt, warmed up, faded, scattered, and gone wrong."""
    hidden = hidden or hidden_by(seed)
    truth = true_drive(drive, hidden)
    chance = np.random.default_rng([seed, 2])
    corners = len(drive.path.corners)
    found = []
    for number in range(count):
        used = 1.0 - LACKS_AT_FIRST * float(np.exp(-number / LEARNT_IN_LAPS))
        worn = degradation * (number - len(WARM_UP))
        warm = WARM_UP[number] if number < len(WARM_UP) else 1.0 - worn
        grips = hidden.used + CORNER_SD * chance.standard_normal(corners)
        brakes = 1.0 - BRAKING_SD * np.abs(chance.standard_normal(corners))
        wrong = chance.random(corners) < MISTAKES
        in_corner = chance.random(corners) < 0.5
        grips = np.where(wrong & in_corner, grips - MISTAKE_LACKS, grips)
        brakes = np.where(wrong & ~in_corner, brakes - 2.0 * MISTAKE_LACKS, brakes)
        air = truth.conditions
        lap = replace(
            truth,
            conditions=replace(air, grip_factor=air.grip_factor * used * warm),
            orders=_orders(grips, brakes),
            road=None,
        )
        found.append(solve(lap))
    return found


def _orders(grips: Floats, brakes: Floats) -> tuple[CornerOrder, ...]:
    return tuple(
        CornerOrder(
            corner=number,
            grip_factor=float(np.clip(grip, 0.7, 1.3)),
            braking=float(np.clip(brake, 0.5, 1.0)),
        )
        for number, (grip, brake) in enumerate(zip(grips, brakes, strict=True))
    )
