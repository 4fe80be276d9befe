"""A vehicle from the few figures that everybody knows, with usual values for the rest."""

import math
from dataclasses import dataclass

from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measures import speed
from neapfrost.core.records import Aspiration, Conditions, Inertia, Intake

AIR_KGM3 = 1.2
DRIVER_KG = 80.0
EFFICIENCY = 0.92
ROLLING_RESISTANCE = 0.013
#: Torque over its peak at shares of the rev limit: a naturally aspirated engine's usual shape.
TORQUE_SHAPE = ((0.35, 0.82), (0.50, 0.93), (0.65, 1.0), (0.80, 0.97), (0.92, 0.89), (1.0, 0.80))
LIMIT_OVER_TOP_SPEED = 1.03  # top gear reaches the rev limit a little above the top speed
FIRST_GEAR_MS = {"car": 17.0, "motorcycle": 28.0}  # speed at the limit in first gear
REV_LIMIT_RPM = {"car": 7500.0, "motorcycle": 12000.0}
ROLLING_RADIUS_M = {"car": 0.32, "motorcycle": 0.31}
GEARS = 6
WHEELBASE_M = {"car": 2.6, "motorcycle": 1.42}
CG_HEIGHT_M = {"car": 0.48, "motorcycle": 0.62}
LOAD_SENSITIVITY = {"car": 0.07, "motorcycle": 0.0}
MAX_LEAN_DEG = 62.0
#: Side force per load and slip angle [1/rad], front and rear: road tyres, and a motorcycle's.
CORNERING_STIFFNESS = {"car": (13.0, 14.0), "motorcycle": (16.0, 18.0)}
#: Equivalent mass of one axle's wheels over the vehicle's: four per cent for both is usual.
WHEELS_OVER_MASS = {"car": 0.02, "motorcycle": 0.03}
#: Inertia of engine and clutch [kg m²]: so much of every one, and so much for each watt of peak.
ENGINE_KGM2 = {"car": (0.05, 0.6e-6), "motorcycle": (0.012, 0.1e-6)}
#: A motorcycle's tyres [m]; its rider who sits up: drag over that tucked in, and its height [m].
TYRE_WIDTH_M, SITS_UP, SITS_UP_HEIGHT_M = 0.16, 1.4, 0.9


@dataclass(frozen=True)
class StartingFigures:
    """What is derived: torque curve of (rpm, Nm), ratios, final drive, CdA [m²]."""

    torque_curve: tuple[tuple[float, float], ...]
    rev_limit_rpm: float
    ratios: tuple[float, ...]
    final_drive: float
    rolling_radius_m: float
    drag_area_m2: float


def starting_figures(
    kind: str,
    mass_kg: float,
    peak_power_w: float,
    top_speed_ms: float,
    intake: Intake | None = None,
) -> StartingFigures:
    """Engine, gearbox and drag that fit a mass, a peak power and a top speed on the level.

    Drag from the power that is left at the top speed after rolling resistance; ratios from first
    gear to top in geometric progression. Raises InputRefused when the power does not even
    overcome the rolling resistance at that speed.
    """
    limit = REV_LIMIT_RPM[kind]
    radius = ROLLING_RADIUS_M[kind]
    rolling_n = ROLLING_RESISTANCE * (mass_kg + DRIVER_KG) * STANDARD_GRAVITY_MS2
    # The power is stated in the standard's air, the top speed reached in that of every day.
    given = engine_air(intake or Intake(Aspiration.NATURAL), Conditions()).factor
    left_w = EFFICIENCY * given * peak_power_w - rolling_n * top_speed_ms
    if left_w <= 0.0:
        raise InputRefused(
            [
                Fault(
                    "car.top_speed_ms",
                    f"{speed(top_speed_ms, None)} was given, but {peak_power_w / 1000:g} kW does "
                    "not even overcome the rolling resistance there; enter a lower top speed or "
                    "more power",
                )
            ]
        )
    shape_peak = max(rpm * torque for rpm, torque in TORQUE_SHAPE)
    torque_nm = peak_power_w / (shape_peak * limit * math.pi / 30.0)
    first = FIRST_GEAR_MS[kind]
    top = max(LIMIT_OVER_TOP_SPEED * top_speed_ms, 1.3 * first)
    step = (top / first) ** (1.0 / (GEARS - 1))
    wheel_rads = top / radius
    overall_top = limit * math.pi / 30.0 / wheel_rads
    return StartingFigures(
        torque_curve=tuple((share * limit, torque_nm * part) for share, part in TORQUE_SHAPE),
        rev_limit_rpm=limit,
        ratios=tuple(step ** (GEARS - 1 - gear) for gear in range(GEARS)),
        final_drive=overall_top,
        rolling_radius_m=radius,
        drag_area_m2=2.0 * left_w / (AIR_KGM3 * top_speed_ms**3),
    )


def usual_inertia(
    kind: str, mass_kg: float, peak_power_w: float, rolling_radius_m: float
) -> Inertia:
    """What turns in a vehicle of which nobody has measured it [kg m²]."""
    wheels = WHEELS_OVER_MASS[kind] * mass_kg * rolling_radius_m**2
    least, for_each_w = ENGINE_KGM2[kind]
    return Inertia(wheels, wheels, least + for_each_w * peak_power_w)


def lift_area_m2(downforce_n: float, speed_ms: float) -> float:
    """ClA of a downforce at a speed [m²], in air of usual density."""
    return 2.0 * downforce_n / (AIR_KGM3 * speed_ms**2)
