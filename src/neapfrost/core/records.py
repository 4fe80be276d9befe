"""What the core is given: a vehicle, the conditions and a driver, as frozen records in SI units."""

from dataclasses import dataclass, field
from enum import StrEnum

from neapfrost.core.constants import DEFAULT_OVERRUN_SHARE


class VehicleKind(StrEnum):
    """Two or four wheels; a motorcycle leans, which lowers its centre of gravity."""

    CAR = "car"
    MOTORCYCLE = "motorcycle"


class GearSchool(StrEnum):
    """Which gear a corner is driven in: the quickest by the clock, or a school's choice."""

    FASTEST = "fastest"
    LOWER = "lower"
    HIGHER = "higher"


@dataclass(frozen=True)
class Tyres:
    """Friction at the reference load, its fall with load, radius [m] and rolling resistance."""

    mu_lateral: float
    mu_longitudinal: float
    load_sensitivity: float
    rolling_radius_m: float
    rolling_resistance: float


@dataclass(frozen=True)
class Aero:
    """ClA (downforce positive) and CdA [m²], and the front axle's share of the downforce."""

    lift_area_m2: float
    drag_area_m2: float
    front_fraction: float


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
