"""The figures of a car's sheet: what each is called, what is usual, and what it does to a lap."""

from typing import Literal

from pydantic import BaseModel

from neapfrost.core.car.starting_car import AIR_KGM3

Kind = Literal["car", "motorcycle"]


class CarField(BaseModel):
    """A figure: its path in the car's document, unit, usual range, steps, and what it changes."""

    path: list[str]
    group: str
    label: str
    unit: str
    quantity: Literal["none", "length", "speed"]
    low: float
    high: float
    decimals: int
    step: float
    fine: float
    optional: bool
    changes: str


def _field(
    path: str,
    group: str,
    label: str,
    unit: str,
    usual: tuple[float, float],
    steps: tuple[int, float, float],
    changes: str,
    optional: bool = False,
) -> CarField:
    return CarField(
        path=path.split("."),
        group=group,
        label=label,
        unit=unit,
        quantity="none",
        low=usual[0],
        high=usual[1],
        decimals=steps[0],
        step=steps[1],
        fine=steps[2],
        optional=optional,
        changes=changes,
    )


def car_fields(kind: Kind) -> list[CarField]:
    """The figures that apply to a kind of vehicle, with ranges usual for it."""
    bike = kind == "motorcycle"
    return [
        _field(
            "mass_kg",
            "Masses",
            "Mass without driver and fuel",
            "kg",
            (140, 260) if bike else (450, 1700),
            (1, 5, 1),
            "Less of it brakes, turns and accelerates better everywhere",
        ),
        _field(
            "driver_kg",
            "Masses",
            "Rider with gear" if bike else "Driver with gear",
            "kg",
            (65, 110),
            (1, 1, 0.5),
            "Counts like any other mass",
        ),
        _field(
            "driver_height_m",
            "Masses",
            "Height of the rider's own centre of gravity" if bike else "… of the driver's own",
            "m",
            (0.9, 1.2) if bike else (0.3, 0.7),
            (2, 0.01, 0.01),
            "Tucked in or upright: moves the height of both together; empty, the height above is "
            "with it",
            optional=True,
        ),
        _field(
            "fuel_capacity_kg",
            "Masses",
            "Tank holds",
            "kg",
            (10, 25) if bike else (30, 110),
            (1, 5, 1),
            "Bounds the fuel one can start with",
            optional=True,
        ),
        _field(
            "wheelbase_m",
            "Masses",
            "Wheelbase",
            "m",
            (1.35, 1.5) if bike else (2.2, 3.1),
            (3, 0.01, 0.005),
            "A longer one moves less load between the axles",
        ),
        _field(
            "cg_height_m",
            "Masses",
            "Height of the centre of gravity",
            "m",
            (0.55, 0.7) if bike else (0.25, 0.6),
            (3, 0.01, 0.005),
            "Lifts a wheel sooner, braking and out of corners"
            if bike
            else "Moves load forwards when braking and rearwards under power",
        ),
        _field(
            "front_weight_fraction",
            "Masses",
            "Weight on the front",
            "share",
            (0.48, 0.54) if bike else (0.4, 0.63),
            (3, 0.005, 0.001),
            "More of it on the driven axle helps out of slow corners",
        ),
        _field(
            "width_m",
            "Masses",
            "Width",
            "m",
            (0.7, 0.9) if bike else (1.5, 2.0),
            (2, 0.01, 0.01),
            "A narrower vehicle has more road to use for its line",
            optional=True,
        ),
        *(
            [
                _field(
                    "max_lean_deg",
                    "Masses",
                    "Greatest lean",
                    "°",
                    (48, 64),
                    (1, 1, 0.5),
                    "Ends every corner in which the tyres would carry more",
                    optional=True,
                )
            ]
            if bike
            else []
        ),
        _field(
            "tyres.mu_lateral",
            "Tyres",
            "Grip across",
            "μ",
            (1.1, 1.6) if bike else (0.9, 1.7),
            (3, 0.01, 0.002),
            "Decides every corner's minimum speed",
        ),
        _field(
            "tyres.mu_longitudinal",
            "Tyres",
            "Grip along",
            "μ",
            (1.1, 1.6) if bike else (0.95, 1.8),
            (3, 0.01, 0.002),
            "Decides how late the brakes and how early the throttle",
        ),
        _field(
            "tyres.load_sensitivity",
            "Tyres",
            "Fall of grip with load",
            "exponent",
            (0.0, 0.05) if bike else (0.03, 0.15),
            (3, 0.005, 0.001),
            "Makes downforce, fuel and load transfer worth less",
        ),
        _field(
            "tyres.rolling_radius_m",
            "Tyres",
            "Rolling radius",
            "m",
            (0.29, 0.33) if bike else (0.25, 0.36),
            (4, 0.002, 0.0005),
            "A larger one gears the car longer",
        ),
        _field(
            "tyres.rolling_resistance",
            "Tyres",
            "Rolling resistance",
            "share of load",
            (0.01, 0.025),
            (4, 0.001, 0.0002),
            "Costs a little speed at the end of every straight",
        ),
        _field(
            "aero.lift_area_m2",
            "Air",
            "Downforce",
            "m² ClA",
            (-0.05, 0.1) if bike else (-0.2, 5.0),
            (3, 0.05, 0.01),
            "Grows with speed squared: fast corners, and braking from high speed",
        ),
        _field(
            "aero.drag_area_m2",
            "Air",
            "Drag",
            "m² CdA",
            (0.25, 0.5) if bike else (0.5, 1.5),
            (3, 0.02, 0.005),
            "Costs top speed, helps the brakes at high speed",
        ),
        _field(
            "aero.front_fraction",
            "Air",
            "Downforce on the front",
            "share",
            (0.3, 0.55),
            (3, 0.005, 0.001),
            "Away from the weight's own share one axle ends fast corners early",
        ),
        _field(
            "engine.rev_limit_rpm",
            "Engine",
            "Rev limit",
            "rpm",
            (9000, 15000) if bike else (5500, 10500),
            (0, 50, 10),
            "Decides how long each gear can be held",
        ),
        _field(
            "engine.efficiency",
            "Engine",
            "Driveline efficiency",
            "share",
            (0.85, 0.97),
            (3, 0.01, 0.002),
            "The part of the engine's power that reaches the tyres",
        ),
        _field(
            "engine.overrun_torque_nm",
            "Engine",
            "Drag of the engine, throttle shut",
            "Nm",
            (5, 25) if bike else (15, 100),
            (1, 2, 0.5),
            "Slows a lift, before the brakes come",
            optional=True,
        ),
        _field(
            "gearbox.final_drive",
            "Gears",
            "Final drive",
            "",
            (2.2, 3.4) if bike else (2.8, 5.0),
            (3, 0.05, 0.01),
            "Shorter pulls harder and runs out of revs earlier",
        ),
        _field(
            "gearbox.upshift_s",
            "Gears",
            "Upshift takes",
            "s",
            (0.0, 0.35),
            (3, 0.01, 0.005),
            "Time without drive at every change up",
        ),
        _field(
            "gearbox.downshift_s",
            "Gears",
            "Downshift takes",
            "s",
            (0.03, 0.4),
            (3, 0.01, 0.005),
            "How close together downshifts can follow; too slow means a higher gear",
        ),
        *(
            []
            if bike
            else [
                _field(
                    "drive.rear_fraction",
                    "Drive and brakes",
                    "Drive on the rear",
                    "share",
                    (0.0, 1.0),
                    (2, 0.05, 0.01),
                    "1 rear, 0 front, between: a fixed split",
                ),
                _field(
                    "brakes.front_fraction",
                    "Drive and brakes",
                    "Brakes on the front",
                    "share",
                    (0.5, 0.78),
                    (3, 0.005, 0.001),
                    "Off the ideal share one axle locks early; empty is ideal",
                    optional=True,
                ),
            ]
        ),
        _field(
            "brakes.max_force_n",
            "Drive and brakes",
            "Largest brake force",
            "N",
            (2500, 5000) if bike else (8000, 30000),
            (0, 500, 100),
            "The hardware's own limit; matters at high speed with downforce",
            optional=True,
        ),
        _field(
            "fuel_use.g_per_kwh",
            "Fuel",
            "Fuel for a kWh at the crank",
            "g",
            (230, 400),
            (0, 5, 1),
            "Decides the fuel for a lap and a stint",
        ),
        _field(
            "fuel_use.litres_per_lap",
            "Fuel",
            "Fuel for a lap, where known",
            "l",
            (0.5, 6),
            (2, 0.1, 0.02),
            "Stands instead of what the engine's work gives",
            optional=True,
        ),
        _field(
            "fuel_use.kg_per_litre",
            "Fuel",
            "A litre weighs",
            "kg",
            (0.7, 0.8),
            (3, 0.005, 0.001),
            "Turns litres into mass",
        ),
    ]


class AreaQuestion(BaseModel):
    """Downforce or drag said otherwise: as a force at a speed, or a coefficient and an area."""

    force_n: float | None = None
    speed_ms: float | None = None
    coefficient: float | None = None
    frontal_area_m2: float | None = None


def area_m2(question: AreaQuestion) -> float | None:
    """ClA or CdA [m²]: C·A, or 2F/(ρv²) at 1.2 kg/m³; None where something is missing."""
    if question.coefficient is not None and question.frontal_area_m2:
        return question.coefficient * question.frontal_area_m2
    if question.force_n is not None and question.speed_ms:
        return 2.0 * question.force_n / (AIR_KGM3 * question.speed_ms**2)
    return None
