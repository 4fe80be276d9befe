"""What the core is given: a vehicle, the conditions and a driver, as frozen records in SI units."""

from dataclasses import dataclass, field
from enum import StrEnum

from neapfrost.core.constants import DEFAULT_OVERRUN_SHARE, STANDARD_GRAVITY_MS2


class VehicleKind(StrEnum):
    """Two or four wheels; a motorcycle leans, which lowers its centre of gravity."""

    CAR = "car"
    MOTORCYCLE = "motorcycle"


class GearSchool(StrEnum):
    """Which gear a corner is driven in: the quickest by the clock, or a school's choice."""

    FASTEST = "fastest"
    LOWER = "lower"
    HIGHER = "higher"


class Aspiration(StrEnum):
    """How an engine takes its air; CONSTANT is one whose torque no air changes."""

    CONSTANT = "constant"
    NATURAL = "natural"
    BOOSTED = "boosted"
    DIESEL = "diesel"
    TURBO_DIESEL = "turbo_diesel"
    ELECTRIC = "electric"


class PowerStandard(StrEnum):
    """The standard by whose formula, and at whose reference air, a torque is stated."""

    ISO_1585 = "iso_1585"
    SAE_J1349 = "sae_j1349"


@dataclass(frozen=True)
class Tyres:
    """Friction at the reference load, its fall with load, radius [m] and rolling resistance.

    `front_reference_n` and `rear_reference_n` are the axle loads at which the friction holds; None
    stands for the static ones without fuel. `cornering_stiffness_*` are each axle's, per newton of
    load [1/rad]; None for tyres whose slip angle drags nothing. `scrub_moment_nm` is what an axle
    without a differential puts up against turning. `width_m` is a motorcycle tyre's, 0 for none.
    """

    mu_lateral: float
    mu_longitudinal: float
    load_sensitivity: float
    rolling_radius_m: float
    rolling_resistance: float
    front_reference_n: float | None = None
    rear_reference_n: float | None = None
    cornering_stiffness_front: float | None = None
    cornering_stiffness_rear: float | None = None
    scrub_moment_nm: float = 0.0
    width_m: float = 0.0


@dataclass(frozen=True)
class Aero:
    """ClA (downforce positive) and CdA [m²], and the front axle's share of the downforce.

    `by_speed` holds (speed [m/s], factor on ClA, factor on CdA, shift of the front share) in rising
    speed, linear between and held beyond; empty where they stay. `lift_lost_*` are the shares of
    the downforce that go with each m/s² that the brakes slow it by, and of turning.
    `braking_drag_area_m2` is a rider's who sits up behind the brakes, with the height [m] of what
    is more of it; None for no more.
    """

    lift_area_m2: float
    drag_area_m2: float
    front_fraction: float
    by_speed: tuple[tuple[float, float, float, float], ...] = ()
    lift_lost_braking: float = 0.0
    lift_lost_turning: float = 0.0
    braking_drag_area_m2: float | None = None
    braking_drag_height_m: float = 0.0


@dataclass(frozen=True)
class Intake:
    """How an engine's torque goes with the air, and in which air it was stated.

    It was stated in the standard's reference air, or in the air given: temperature [°C], pressure
    [hPa], humidity [%]. A boosted engine takes `boost_share` of what a naturally aspirated one
    would, up to `boost_altitude_m`; `diesel_factor` is the exponent f_m of a diesel.
    """

    aspiration: Aspiration = Aspiration.CONSTANT
    standard: PowerStandard = PowerStandard.ISO_1585
    stated_temp_c: float | None = None
    stated_pressure_hpa: float | None = None
    stated_humidity_pct: float | None = None
    boost_share: float = 0.15
    boost_altitude_m: float = 2000.0
    diesel_factor: float = 0.7


@dataclass(frozen=True)
class Inertia:
    """What turns: each axle's wheels with their brakes, the engine with its clutch [kg m²].

    `clutch_in_braking` says whether the engine is slowed along with the wheels.
    """

    front_wheels_kgm2: float = 0.0
    rear_wheels_kgm2: float = 0.0
    engine_kgm2: float = 0.0
    clutch_in_braking: bool = True


@dataclass(frozen=True)
class Engine:
    """Torque curve as (rpm, Nm) pairs rising in rpm, rev limit, driveline efficiency, overrun.

    `overrun_torque_nm` is at the rev limit with the throttle shut and falls linearly to zero
    at standstill; None stands for 12 % of the peak torque.
    """

    torque_curve: tuple[tuple[float, float], ...]
    rev_limit_rpm: float
    efficiency: float
    overrun_torque_nm: float | None = None
    intake: Intake = field(default_factory=Intake)

    @property
    def overrun_nm(self) -> float:
        """Overrun torque at the rev limit, as stated or as usual [Nm]."""
        if self.overrun_torque_nm is not None:
            return self.overrun_torque_nm
        return DEFAULT_OVERRUN_SHARE * max(torque for _, torque in self.torque_curve)


@dataclass(frozen=True)
class Gearbox:
    """Ratios from first to top, final drive, and the time each kind of shift takes [s]."""

    ratios: tuple[float, ...]
    final_drive: float
    upshift_s: float
    downshift_s: float


@dataclass(frozen=True)
class Brakes:
    """Front share of the brake force (None: ideal), and the most the hardware gives [N]."""

    front_fraction: float | None
    max_force_n: float | None


@dataclass(frozen=True)
class Vehicle:
    """A vehicle as the model drives it. `mass_kg` is without driver and fuel."""

    name: str
    kind: VehicleKind
    mass_kg: float
    driver_kg: float
    fuel_kg: float
    wheelbase_m: float
    cg_height_m: float
    front_weight_fraction: float
    tyres: Tyres
    aero: Aero
    engine: Engine
    gearbox: Gearbox
    rear_drive_fraction: float
    brakes: Brakes
    fuel_capacity_kg: float | None = None
    max_lean_deg: float | None = None
    inertia: Inertia = field(default_factory=Inertia)

    @property
    def reference_loads_n(self) -> tuple[float, float]:
        """Front and rear axle load at which the tyres' friction holds [N]: stated, else static.

        The static load is the one on the flat with driver and without fuel.
        """
        standing = (self.mass_kg + self.driver_kg) * STANDARD_GRAVITY_MS2
        front, rear = self.tyres.front_reference_n, self.tyres.rear_reference_n
        return (
            standing * self.front_weight_fraction if front is None else front,
            standing * (1.0 - self.front_weight_fraction) if rear is None else rear,
        )

    @property
    def total_mass_kg(self) -> float:
        """Vehicle, driver and fuel."""
        return self.mass_kg + self.driver_kg + self.fuel_kg


@dataclass(frozen=True)
class Conditions:
    """Air, wind (the bearing it comes from, clockwise from north) and track state.

    `pressure_hpa` None takes the standard atmosphere's pressure at the circuit's altitude.
    """

    air_temp_c: float = 20.0
    pressure_hpa: float | None = None
    humidity_pct: float = 50.0
    wind_speed_ms: float = 0.0
    wind_from_deg: float = 0.0
    track_temp_c: float = 28.0
    wetness_pct: float = 0.0
    grip_factor: float = 1.0


@dataclass(frozen=True)
class DriverUse:
    """Share of the tyres' limit that the driver uses; 1.0 is the vehicle's own limit."""

    braking: float = 1.0
    cornering: float = 1.0
    traction: float = 1.0


@dataclass(frozen=True)
class Driver:
    """How the vehicle is driven.

    `entry_exponent` and `exit_exponent` are the combined-slip exponents p: 2 is the full ellipse,
    towards 1 is a driver who brakes and accelerates straight.
    """

    use: DriverUse = field(default_factory=DriverUse)
    entry_exponent: float = 2.0
    exit_exponent: float = 2.0
    brake_ramp_s: float = 0.2
    transition_s: float = 0.1
    lift_threshold_ms: float = 1.5
    gear_school: GearSchool = GearSchool.FASTEST
