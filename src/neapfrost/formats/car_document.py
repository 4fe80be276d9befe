"""A vehicle as a document, with its setups."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.formats.document import Document, Name, NotNegative, Positive, Ratio, Seconds, Share


class TyresDocument(Document):
    """Friction at the axles' reference load, its fall with load (ε), radius, rolling resistance."""

    mu_lateral: Annotated[float, Field(gt=0, le=5)]
    mu_longitudinal: Annotated[float, Field(gt=0, le=5)]
    load_sensitivity: Annotated[float, Field(ge=0, le=0.5)] = 0.0
    rolling_radius_m: Annotated[float, Field(gt=0.05, le=2)]
    rolling_resistance: Annotated[float, Field(ge=0, le=0.2)] = 0.013


class AeroDocument(Document):
    """ClA (downforce positive) and CdA, and the front axle's share of the downforce."""

    lift_area_m2: Annotated[float, Field(ge=-5, le=30)] = 0.0
    drag_area_m2: Annotated[float, Field(ge=0, le=20)]
    front_fraction: Share = 0.5


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
    dry tyre holds.
    """

    name: Annotated[Name, Field(min_length=1)]
    grip_factor: Annotated[float, Field(gt=0, le=2)] = 1.0
    warm_up: Annotated[list[Annotated[float, Field(gt=0, le=1.2)]], Field(max_length=20)] = Field(
        default_factory=lambda: [0.93, 0.98]
    )
    fade_pct: Annotated[float, Field(ge=0, le=20)] = 0.15
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


class CarDocument(Document):
    """A vehicle; `mass_kg` is without driver and fuel. Setups name its wings, gears, compounds.

    With `driver_height_m`, the height of the driver's own centre of gravity, `cg_height_m` is the
    vehicle's without its driver; else it is that of both together.
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
    max_lean_deg: Annotated[float, Field(gt=0, lt=90)] | None = None
    tyres: TyresDocument
    aero: AeroDocument
    engine: EngineDocument
    gearbox: GearboxDocument
    drive: DriveDocument = Field(default_factory=DriveDocument)
    brakes: BrakesDocument = Field(default_factory=BrakesDocument)
    wings: Annotated[list[WingStep], Field(max_length=100)] = Field(default_factory=list)
    gear_sets: Annotated[list[GearSetDocument], Field(max_length=50)] = Field(default_factory=list)
    compounds: Annotated[list[CompoundDocument], Field(max_length=30)] = Field(default_factory=list)
    setups: Annotated[list[SetupDocument], Field(max_length=200)] = Field(default_factory=list)
    fuel_use: FuelUseDocument = Field(default_factory=FuelUseDocument)
    note: Annotated[str, Field(max_length=2000)] = ""
