"""A vehicle as a document, with its setups."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.starting_kinds import DrivenWheels, StartingKind
from neapfrost.core.records import Intake
from neapfrost.formats.document import Document, Name, NotNegative, Positive, Ratio, Seconds, Share


class TyresDocument(Document):
    """Friction at the axles' reference load, its fall with load (ε), radius, rolling resistance.

    `slip_at_limit_pct` is the slip at which a tyre gives all it has: what slides there wears it.
    `front_reference_n`, `rear_reference_n` are the axle loads at which the friction was stated;
    null for the static ones of this very car without fuel, which move with its mass.
    `cornering_stiffness_front`, `_rear` are the axles' per newton of load [1/rad], null for tyres
    that drag nothing in a corner; `scrub_moment_nm` is what a locked axle puts up against turning.
    `width_m` is a motorcycle's: rolling onto its side it leans further; 0 for none.
    """

    mu_lateral: Annotated[float, Field(gt=0, le=5)]
    mu_longitudinal: Annotated[float, Field(gt=0, le=5)]
    load_sensitivity: Annotated[float, Field(ge=0, le=0.5)] = 0.0
    rolling_radius_m: Annotated[float, Field(gt=0.05, le=2)]
    rolling_resistance: Annotated[float, Field(ge=0, le=0.2)] = 0.013
    slip_at_limit_pct: Annotated[float, Field(gt=0, le=50)] = 10.0
    front_reference_n: Annotated[float, Field(ge=50, le=300_000)] | None = None
    rear_reference_n: Annotated[float, Field(ge=50, le=300_000)] | None = None
    cornering_stiffness_front: Annotated[float, Field(ge=2, le=100)] | None = None
    cornering_stiffness_rear: Annotated[float, Field(ge=2, le=100)] | None = None
    scrub_moment_nm: Annotated[float, Field(ge=0, le=20_000)] = 0.0
    width_m: Annotated[float, Field(ge=0, le=0.4)] = 0.0


class AeroDocument(Document):
    """ClA (downforce positive) and CdA, and the front axle's share of the downforce."""

    lift_area_m2: Annotated[float, Field(ge=-5, le=30)] = 0.0
    drag_area_m2: Annotated[float, Field(ge=0, le=20)]
    front_fraction: Share = 0.5


class AirPoint(Document):
    """At a speed: downforce and drag in percent of the stated ones, and the balance's shift."""

    speed_ms: Annotated[float, Field(ge=0, le=200)]
    downforce_pct: Annotated[float, Field(ge=0, le=300)] = 100.0
    drag_pct: Annotated[float, Field(ge=20, le=300)] = 100.0
    front_shift: Annotated[float, Field(ge=-0.3, le=0.3)] = 0.0


class AttitudeDocument(Document):
    """How the air's figures go with speed and attitude; as it stands nothing changes them.

    `downforce_lost_*` are percent of the downforce lost with every g of braking or turning.
    `braking_drag_area_m2` is the CdA of a rider who sits up behind the brakes, null for one who
    does not, and `braking_drag_height_m` how high what is more of it acts.
    """

    by_speed: Annotated[list[AirPoint], Field(max_length=20)] = Field(default_factory=list)
    downforce_lost_braking_pct_per_g: Annotated[float, Field(ge=0, le=40)] = 0.0
    downforce_lost_turning_pct_per_g: Annotated[float, Field(ge=0, le=40)] = 0.0
    braking_drag_area_m2: Annotated[float, Field(ge=0, le=20)] | None = None
    braking_drag_height_m: Annotated[float, Field(ge=0, le=3)] = 0.9


class InertiaDocument(Document):
    """Moments of inertia of each axle's wheels with their brakes, and of the engine and clutch.

    `clutch_in_braking` says whether the engine is slowed along with the wheels.
    """

    front_wheels_kgm2: Annotated[float, Field(ge=0, le=100)] = 0.0
    rear_wheels_kgm2: Annotated[float, Field(ge=0, le=100)] = 0.0
    engine_kgm2: Annotated[float, Field(ge=0, le=20)] = 0.0
    clutch_in_braking: bool = True


Aspiration = Literal["constant", "natural", "boosted", "diesel", "turbo_diesel", "electric"]
PowerStandard = Literal["iso_1585", "sae_j1349"]


class IntakeDocument(Document):
    """How the torque goes with the air, and in which air it was stated.

    In the standard's reference air (99 kPa of dry air, 25 °C), unless one of `stated_*` says that
    it was measured in another. `boost_share` is the part of a naturally aspirated engine's loss
    that a boosted one has, up to `boost_altitude_m`; `diesel_factor` the engine factor f_m.
    """

    aspiration: Literal["constant", "natural", "boosted", "diesel", "turbo_diesel", "electric"] = (
        "constant"
    )
    standard: PowerStandard = "iso_1585"
    stated_temp_c: Annotated[float, Field(ge=-30, le=60)] | None = None
    stated_pressure_hpa: Annotated[float, Field(ge=500, le=1100)] | None = None
    stated_humidity_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    boost_share: Share = Intake.boost_share
    boost_altitude_m: Annotated[float, Field(ge=0, le=8_000)] = Intake.boost_altitude_m
    diesel_factor: Annotated[float, Field(ge=0.3, le=1.2)] = Intake.diesel_factor


class TorquePoint(Document):
    """One point of the full-throttle torque curve."""

    rpm: Annotated[float, Field(gt=0, le=30_000)]
    torque_nm: Annotated[float, Field(gt=0, le=20_000)]


class EngineDocument(Document):
    """Torque curve, rev limit, driveline efficiency, overrun torque at the rev limit."""

    torque_curve: Annotated[list[TorquePoint], Field(max_length=500)]
    rev_limit_rpm: Annotated[float, Field(gt=0, le=30_000)]
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.93
    overrun_torque_nm: NotNegative | None = None
    intake: IntakeDocument = Field(default_factory=IntakeDocument)


class GearboxDocument(Document):
    """Ratios from first gear to top, final drive, shift times."""

    ratios: Annotated[list[Ratio], Field(min_length=1, max_length=16)]
    final_drive: Annotated[float, Field(gt=0, le=50)]
    upshift_s: Seconds = 0.08
    downshift_s: Seconds = 0.12


class DriveDocument(Document):
    """Share of the drive on the rear axle: 1 rear, 0 front, between a fixed split."""

    rear_fraction: Share = 1.0


class BrakesDocument(Document):
    """Front share of the brake force (null: ideal), the hardware's largest force (null: none)."""

    front_fraction: Share | None = None
    max_force_n: Positive | None = None


class PowerPoint(Document):
    """One point of a machine's power at the tyres against speed."""

    speed_ms: Annotated[float, Field(ge=0, le=200)]
    power_kw: NotNegative


class EnergyDocument(Document):
    """An electric machine at the wheels, and the store behind it.

    `efficiency` is that of each way, out and in. From braking it takes at most `recovery_kw` at the
    tyres, and `recovery_share` of what the `recovery_axle` brakes with; from the engine, with the
    throttle down, `engine_charging_kw`. `discharge_kw` and `charge_kw` bound what leaves and enters
    the store. Limits of a lap, null where there are none: `spent_most_mj`, `recovered_most_mj`.
    """

    power: Annotated[list[PowerPoint], Field(min_length=1, max_length=50)]
    efficiency: Annotated[float, Field(gt=0.1, le=1)] = 0.92
    usable_mj: Annotated[float, Field(gt=0, le=10_000)]
    discharge_kw: Positive | None = None
    charge_kw: Positive | None = None
    recovery_kw: NotNegative = 0.0
    recovery_axle: Literal["front", "rear"] = "rear"
    recovery_share: Share = 1.0
    engine_charging_kw: NotNegative = 0.0
    spent_most_mj: Positive | None = None
    recovered_most_mj: Positive | None = None


class FlapDocument(Document):
    """Low-drag flap: what is left of drag and downforce when it is open."""

    drag_left_pct: Annotated[float, Field(ge=20, le=100)] = 88.0
    downforce_left_pct: Annotated[float, Field(ge=0, le=100)] = 80.0


class WingStep(Document):
    """A step of the wing: what the whole vehicle's downforce and drag are with it."""

    name: Annotated[Name, Field(min_length=1)]
    lift_area_m2: Annotated[float, Field(ge=-5, le=30)]
    drag_area_m2: Annotated[float, Field(ge=0, le=20)]
    front_fraction: Share


class GearSetDocument(Document):
    """A set of gears by name."""

    name: Annotated[Name, Field(min_length=1)]
    ratios: Annotated[list[Ratio], Field(min_length=1, max_length=16)]
    final_drive: Annotated[float, Field(gt=0, le=50)]


class WetPoint(Document):
    """Grip of a compound at a wetness, as a share of its grip in the dry."""

    wetness_pct: Annotated[float, Field(ge=0, le=100)]
    grip_factor: Annotated[float, Field(gt=0, le=1.5)]


class CompoundDocument(Document):
    """A tyre compound: its grip against the stated one, warm-up, fade, window, and water.

    `warm_up` are the factors of the out lap and the laps after it until it is warm; `fade_pct` is
    lost with every lap from then on. Inside the window of track temperatures it has all of its
    grip; outside it loses `off_window_pct` for every 10 °C. Without `wetness` the usual curve of a
    dry tyre holds. `fade_pct_per_mj` is lost with every MJ that slides into the set, beside what
    goes by laps; `life_laps` is how many laps a set lasts, null where only the fade ends it.
    """

    name: Annotated[Name, Field(min_length=1)]
    grip_factor: Annotated[float, Field(gt=0, le=2)] = 1.0
    warm_up: Annotated[list[Annotated[float, Field(gt=0, le=1.2)]], Field(max_length=20)] = Field(
        default_factory=lambda: [0.93, 0.98]
    )
    fade_pct: Annotated[float, Field(ge=0, le=20)] = 0.15
    fade_pct_per_mj: Annotated[float, Field(ge=0, le=20)] = 0.0
    life_laps: Annotated[int, Field(ge=1, le=2_000)] | None = None
    window_low_c: Annotated[float, Field(ge=-40, le=120)] = 15.0
    window_high_c: Annotated[float, Field(ge=-40, le=120)] = 45.0
    off_window_pct: Annotated[float, Field(ge=0, le=50)] = 2.0
    wetness: Annotated[list[WetPoint], Field(min_length=2, max_length=20)] | None = None


class FuelUseDocument(Document):
    """Fuel burnt: for each kWh at the crank, or stated for a lap; and how heavy a litre is."""

    g_per_kwh: Annotated[float, Field(gt=50, le=2_000)] = 290.0
    litres_per_lap: Annotated[float, Field(gt=0, le=500)] | None = None
    kg_per_litre: Annotated[float, Field(gt=0.2, le=2)] = 0.745


class SetupDocument(Document):
    """A named way of setting the vehicle up; what is null stays as the vehicle has it.

    `brakes_ideal` has the brakes shared ideally, whatever the vehicle's own share.

    `record` holds what the model does not compute (springs, bars, pressures …) in the user's own
    words and units.
    """

    name: Annotated[Name, Field(min_length=1)]
    wing: Name | None = None
    gear_set: Name | None = None
    compound: Name | None = None
    brake_front_fraction: Share | None = None
    brakes_ideal: bool = False
    fuel_kg: Annotated[float, Field(ge=0, le=5_000)] | None = None
    ballast_kg: Annotated[float, Field(ge=0, le=2_000)] = 0.0
    ballast_front_fraction: Share = 0.5
    record: dict[Annotated[str, Field(max_length=80)], Annotated[str, Field(max_length=200)]] = (
        Field(default_factory=dict)
    )
    remark: Annotated[str, Field(max_length=2000)] = ""


class StatedDocument(Document):
    """One thing that is known; `at` is the speed [m/s] or distance [m] it belongs to."""

    quantity: Annotated[Quantity, Field(strict=False)]
    value: Annotated[float, Field(gt=0, strict=True)]
    at: Annotated[float, Field(gt=0, le=10_000)] | None = None


class KnownDocument(Document):
    """What a person knows of a vehicle, from which the rest of it is found.

    Gear ratios, highest first gear to top, and a final drive are taken as they stand.
    """

    kind: StartingKind = "car"
    driven: DrivenWheels = "rear"
    gears: Annotated[int, Field(ge=1, le=10)] = 6
    power_rpm: Annotated[float, Field(ge=1_000, le=25_000)] | None = None
    rev_limit_rpm: Annotated[float, Field(ge=1_000, le=25_000)] | None = None
    tyre_code: Annotated[str, Field(max_length=40)] = ""
    ratios: Annotated[list[Positive], Field(max_length=10)] = Field(default_factory=list)
    final_drive: Positive | None = None
    stated: Annotated[list[StatedDocument], Field(max_length=40)] = Field(default_factory=list)


class CarDocument(Document):
    """A vehicle; `mass_kg` is without driver and fuel. Setups name its wings, gears, compounds.

    With `driver_height_m`, the height of the driver's own centre of gravity, `cg_height_m` is the
    vehicle's without its driver; else it is that of both together. `track_width_m` lies between the
    middles of the tyres of an axle, `lateral_transfer_front` is the front axle's share of the load
    that a corner moves across (null: as the weight); without a track width left and right are not
    told apart.
    """

    name: Name
    kind: Literal["car", "motorcycle"] = "car"
    mass_kg: Annotated[float, Field(gt=0, le=50_000)]
    driver_kg: Annotated[float, Field(ge=0, le=500)] = 75.0
    driver_height_m: Annotated[float, Field(ge=0, le=5)] | None = None
    fuel_kg: Annotated[float, Field(ge=0, le=5_000)] = 0.0
    fuel_capacity_kg: Positive | None = None
    wheelbase_m: Annotated[float, Field(gt=0.3, le=20)]
    cg_height_m: Annotated[float, Field(ge=0, le=5)]
    front_weight_fraction: Annotated[float, Field(gt=0, lt=1)]
    width_m: Annotated[float, Field(gt=0, le=5)] | None = None
    track_width_m: Annotated[float, Field(gt=0.3, le=4)] | None = None
    lateral_transfer_front: Share | None = None
    energy: EnergyDocument | None = None
    flap: FlapDocument | None = None
    max_lean_deg: Annotated[float, Field(gt=0, lt=90)] | None = None
    tyres: TyresDocument
    aero: AeroDocument
    attitude: AttitudeDocument = Field(default_factory=AttitudeDocument)
    inertia: InertiaDocument = Field(default_factory=InertiaDocument)
    engine: EngineDocument
    gearbox: GearboxDocument
    drive: DriveDocument = Field(default_factory=DriveDocument)
    brakes: BrakesDocument = Field(default_factory=BrakesDocument)
    wings: Annotated[list[WingStep], Field(max_length=100)] = Field(default_factory=list)
    gear_sets: Annotated[list[GearSetDocument], Field(max_length=50)] = Field(default_factory=list)
    compounds: Annotated[list[CompoundDocument], Field(max_length=30)] = Field(default_factory=list)
    setups: Annotated[list[SetupDocument], Field(max_length=200)] = Field(default_factory=list)
    fuel_use: FuelUseDocument = Field(default_factory=FuelUseDocument)
    known: KnownDocument | None = None
    note: Annotated[str, Field(max_length=2000)] = ""
