"""What a car does, as curves: gears, forces, the g-g envelope, runs, grip, balance, brakes."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.car.brake_share import ideal_share
from neapfrost.core.car.engine_air import engine_air
from neapfrost.core.car.envelope import envelope, turning
from neapfrost.core.car.gears import Shift, drive_forces, shifts
from neapfrost.core.car.headline import peak_power_w
from neapfrost.core.car.level import LevelCar, forces_at, level_car, top_speed_ms
from neapfrost.core.car.runs import Run, braking_run, standing_run
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels.case import HALF_RHO_CDA, HALF_RHO_CLA, ROTATING
from neapfrost.core.measures import metres, said
from neapfrost.core.measures import speed as said_speed
from neapfrost.core.records import Conditions, Driver, Vehicle
from neapfrost.core.units import ROUND_SPEEDS, Units, system
from neapfrost.formats.escaping import sheet_text
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import conditions_record, driver_record, vehicle_record
from neapfrost.formats.plan_setup import in_effect

Plot = Literal[
    "gears", "forces", "envelope", "acceleration", "braking", "grip", "balance", "brakes"
]
Quantity = Literal["speed", "time", "length", "rpm", "force", "g", "share"]
CURVE_POINTS = 121


class Series(BaseModel):
    """One curve: its name, and points in SI units; `part` tells stretches of it apart."""

    name: str
    x: list[float]
    y: list[float]
    part: list[str] | None = None


class Mark(BaseModel):
    """A place worth a word on a plot."""

    x: float
    y: float
    text: str


class PlotData(BaseModel):
    """Curves over one quantity, with what to say of them."""

    plot: Plot
    title: str
    x_label: str
    x_quantity: Quantity
    y_label: str
    y_quantity: Quantity
    series: list[Series]
    marks: list[Mark]


class GearRow(BaseModel):
    """A gear with its best change up; `shift_…` and `rpm_after` are null in the last one.

    `turning_pct` is the equivalent mass of what turns along, in percent of the vehicle's.
    """

    gear: int
    limiter_ms: float
    shift_ms: float | None
    shift_rpm: float | None
    rpm_after: float | None
    at_limiter: bool
    turning_pct: float


class Figures(BaseModel):
    """What a car does in a few figures; null where it never gets there.

    `torque_in_air` is what this air leaves of the stated torque; `cornering_drag_1g` what turning
    at 1 g costs along the road, in g. The two marks and the roll are round speeds in a person's
    units; downforce is at the fast one, as the mass that weighs as much.
    """

    top_speed_ms: float
    top_speed_by: str
    slow_mark_ms: float
    fast_mark_ms: float
    roll_from_ms: float
    roll_to_ms: float
    to_slow_s: float | None
    to_fast_s: float | None
    roll_s: float | None
    quarter_mile_s: float | None
    kilometre_s: float | None
    from_slow_m: float
    from_fast_m: float
    lateral_slow_g: float
    lateral_fast_g: float
    downforce_fast_kg: float
    power_per_tonne_kw: float
    torque_in_air: float
    cornering_drag_1g: float


class CarReport(BaseModel):
    """All plots of a plan's car as set up, in the plan's air."""

    figures: Figures
    gears: list[GearRow]
    rev_limit_rpm: float
    plots: list[PlotData]


def car_report(plan: PlanDocument, units: Units | None = None) -> CarReport:
    """Everything that is shown of a car by itself, on a level road without wind.

    Values are in SI; names and marks are said in the units given, or in SI.
    """
    plan = in_effect(plan)
    vehicle = vehicle_record(plan.car)
    conditions, driver = conditions_record(plan.conditions), driver_record(plan.driver)
    car = level_car(vehicle, conditions, driver, plan.circuit.altitude_m)
    top, by = top_speed_ms(car)
    found = shifts(car)
    speeds = np.linspace(4.0, max(top, 10.0), CURVE_POINTS)
    try:
        run = standing_run(vehicle, conditions, driver, altitude_m=plan.circuit.altitude_m)
    except LapImpossible:
        run = None
    braking = braking_run(car, top)
    unit = system(units or "metric")["speed"]
    slow, fast, *roll = (one * unit.size for one in ROUND_SPEEDS[unit.key])
    figures = Figures(
        slow_mark_ms=slow,
        fast_mark_ms=fast,
        roll_from_ms=roll[0],
        roll_to_ms=roll[1],
        top_speed_ms=top,
        top_speed_by=by,
        to_slow_s=None if run is None else run.time_to_s(slow),
        to_fast_s=None if run is None else run.time_to_s(fast),
        roll_s=_roll_s(vehicle, conditions, driver, plan.circuit.altitude_m, (roll[0], roll[1])),
        quarter_mile_s=None if run is None else run.time_at_s(402.336),
        kilometre_s=None if run is None else run.time_at_s(1000.0),
        from_slow_m=float(braking_run(car, slow).s_m[-1]),
        from_fast_m=float(braking_run(car, fast).s_m[-1]),
        lateral_slow_g=turning(car, 14.0).lateral_g,
        lateral_fast_g=turning(car, fast).lateral_g,
        downforce_fast_kg=float(car.case[HALF_RHO_CLA]) * fast**2 / STANDARD_GRAVITY_MS2,
        power_per_tonne_kw=_power_w(vehicle) / vehicle.total_mass_kg,
        torque_in_air=engine_air(vehicle.engine.intake, conditions, plan.circuit.altitude_m).factor,
        cornering_drag_1g=_cornering_drag_g(car),
    )
    plots = [
        _gears(vehicle, found),
        _forces(car, found, top),
        _envelope(car, top),
        _braking(braking, (slow, fast)),
        _grip(car, speeds),
        _balance(car, speeds),
        _brakes(car, vehicle, top),
    ]
    if run is not None:
        keep = np.unique(np.linspace(0, len(run.s_m) - 1, 400).astype(np.int64))
        plots.insert(
            3,
            PlotData(
                plot="acceleration",
                title="From standstill at full throttle",
                x_label="time",
                x_quantity="time",
                y_label="speed",
                y_quantity="speed",
                series=[
                    Series(name="speed", x=_list(run.t_s[keep]), y=_list(run.v_ms[keep])),
                ],
                marks=[
                    Mark(x=time, y=speed, text=f"{time:.1f} s")
                    for speed in (slow, fast)
                    if (time := run.time_to_s(speed)) is not None
                ],
            ),
        )
    return CarReport(
        figures=figures,
        gears=[
            GearRow(**vars(one) | {"turning_pct": 100.0 * float(car.case[ROTATING + one.gear - 1])})
            for one in found
        ],
        rev_limit_rpm=vehicle.engine.rev_limit_rpm,
        plots=[_said(plot, units) for plot in plots],
    )


def _cornering_drag_g(car: LevelCar) -> float:
    """What turning at 1 g costs along the road at a middling speed, in g."""
    v = 25.0
    turned, straight = (
        forces_at(car, v, bend).resistance_n for bend in (STANDARD_GRAVITY_MS2 / (v * v), 0.0)
    )
    return (turned - straight) / (car.mass_kg * STANDARD_GRAVITY_MS2)


def _roll_s(
    vehicle: Vehicle,
    conditions: Conditions,
    driver: Driver,
    altitude_m: float,
    roll_ms: tuple[float, float],
) -> float | None:
    """From one speed to another at full throttle [s]; None where it is not reached."""
    try:
        run = standing_run(
            vehicle,
            conditions,
            driver,
            1000.0,
            from_ms=roll_ms[0],
            altitude_m=altitude_m,
        )
    except LapImpossible:
        return None
    return run.time_to_s(roll_ms[1])


def _power_w(vehicle: Vehicle) -> float:
    return peak_power_w(vehicle.engine.torque_curve, vehicle.engine.rev_limit_rpm)


def _gears(vehicle: Vehicle, found: tuple[Shift, ...]) -> PlotData:
    """Engine speed over road speed: along each gear to its shift, then down to the next."""
    limit = vehicle.engine.rev_limit_rpm
    series, x, y = [], [0.0], [0.0]
    for one in found:
        ends = one.limiter_ms
        series.append(Series(name="", x=[0.0, ends], y=[0.0, ends * one.rpm_per_ms]))
        shift = one.shift_ms if one.shift_ms is not None else ends
        x.append(shift)
        y.append(shift * one.rpm_per_ms)
        if one.rpm_after is not None:
            x.append(shift)
            y.append(one.rpm_after)
    series.append(Series(name="changing up", x=x, y=y))
    marks = [
        Mark(x=place, y=place * one.rpm_per_ms, text=f"{one.gear}")
        for one in found
        for place in [one.limiter_ms if one.shift_ms is None else one.shift_ms]
    ]
    series.append(Series(name="rev limit", x=[0.0, found[-1].limiter_ms], y=[limit, limit]))
    return PlotData(
        plot="gears",
        title="Speed in each gear",
        x_label="speed",
        x_quantity="speed",
        y_label="engine",
        y_quantity="rpm",
        series=series,
        marks=marks,
    )


def _forces(car: LevelCar, found: tuple[Shift, ...], top_ms: float) -> PlotData:
    forces = drive_forces(car)
    series = []
    for index, row in enumerate(forces.by_gear_n):
        on = row > 0.0
        series.append(Series(name=f"gear {index + 1}", x=_list(forces.v_ms[on]), y=_list(row[on])))
    if (forces.engine_n > forces.by_gear_n.max(axis=0)).any():
        on = forces.engine_n > 0.0
        series.append(
            Series(
                name="engine alone",
                x=_list(forces.v_ms[on]),
                y=_list(forces.engine_n[on]),
            )
        )
    series.append(Series(name="resistance", x=_list(forces.v_ms), y=_list(forces.resistance_n)))
    most = 1.15 * float(forces.by_gear_n.max())
    carried = np.minimum(forces.traction_n, most)
    series.append(Series(name="tyre limit", x=_list(forces.v_ms), y=_list(carried)))
    at_top = float(np.interp(top_ms, forces.v_ms, forces.resistance_n))
    return PlotData(
        plot="forces",
        title="Drive force and resistance",
        x_label="speed",
        x_quantity="speed",
        y_label="force at the tyres",
        y_quantity="force",
        series=series,
        marks=[Mark(x=top_ms, y=at_top, text="top speed")],
    )


def _envelope(car: LevelCar, top_ms: float) -> PlotData:
    """The envelope at four speeds, both hands, from braking round to drive."""
    series = []
    for share in (0.25, 0.5, 0.75, 0.97):
        v = max(share * top_ms, 6.0)
        edge = envelope(car, v)
        x = np.concatenate((edge.lateral_g, edge.lateral_g[::-1]))
        y = np.concatenate((edge.brake_g, edge.drive_g[::-1]))
        part = [*edge.brake_limit, *reversed(edge.drive_limit)]
        series.append(
            Series(
                name=said_speed(v),
                x=[*_list(x), *_list(-x[::-1])],
                y=[*_list(y), *_list(y[::-1])],
                part=[*part, *reversed(part)],
            )
        )
    return PlotData(
        plot="envelope",
        title="Acceleration limits by speed",
        x_label="lateral",
        x_quantity="g",
        y_label="longitudinal",
        y_quantity="g",
        series=series,
        marks=[],
    )


def _braking(run: Run, marks_ms: Sequence[float]) -> PlotData:
    left = run.s_m[-1] - run.s_m
    return PlotData(
        plot="braking",
        title="Braking to a stop",
        x_label="distance to standstill",
        x_quantity="length",
        y_label="speed",
        y_quantity="speed",
        series=[Series(name="speed", x=_list(left), y=_list(run.v_ms))],
        marks=[
            Mark(x=away, y=speed, text=metres(away))
            for speed in marks_ms
            if speed < run.v_ms[0]
            for away in [float(np.interp(-speed, -run.v_ms, left))]
        ],
    )


def _grip(car: LevelCar, speeds: Floats) -> PlotData:
    weight = car.mass_kg * STANDARD_GRAVITY_MS2
    across = [turning(car, float(v)).lateral_g for v in speeds]
    down = car.case[HALF_RHO_CLA] * speeds**2 / weight
    drag = car.case[HALF_RHO_CDA] * speeds**2 / weight
    return PlotData(
        plot="grip",
        title="Grip and downforce",
        x_label="speed",
        x_quantity="speed",
        y_label="force over weight",
        y_quantity="g",
        series=[
            Series(name="lateral grip", x=_list(speeds), y=across),
            Series(name="downforce", x=_list(speeds), y=_list(down)),
            Series(name="drag", x=_list(speeds), y=_list(drag)),
        ],
        marks=[],
    )


def _balance(car: LevelCar, speeds: Floats) -> PlotData:
    found = [turning(car, float(v)) for v in speeds]
    return PlotData(
        plot="balance",
        title="Limiting axle in cornering",
        x_label="speed",
        x_quantity="speed",
        y_label="grip in use at the limit",
        y_quantity="share",
        series=[
            Series(name="front", x=_list(speeds), y=[one.front_use for one in found]),
            Series(name="rear", x=_list(speeds), y=[one.rear_use for one in found]),
        ],
        marks=[],
    )


def _brakes(car: LevelCar, vehicle: Vehicle, top_ms: float) -> PlotData:
    series = []
    for share in (0.4, 0.95):
        v = share * top_ms
        most = -envelope(car, v).brake_g[0]
        decels = np.linspace(0.1, max(1.1 * most, 0.5), 40)
        ideal = [ideal_share(car, v, float(decel)).ideal_front for decel in decels]
        series.append(Series(name=said_speed(v), x=_list(decels), y=ideal))
    fixed = vehicle.brakes.front_fraction
    if fixed is not None:
        reach = max(max(one.x) for one in series)
        series.append(Series(name="as set", x=[0.1, reach], y=[fixed, fixed]))
    return PlotData(
        plot="brakes",
        title="Brake bias (front)",
        x_label="deceleration",
        x_quantity="g",
        y_label="neutral front share",
        y_quantity="share",
        series=series,
        marks=[],
    )


def _said(plot: PlotData, units: Units | None) -> PlotData:
    """A plot with its names and marks in words."""
    return plot.model_copy(
        update={
            "series": [
                series.model_copy(update={"name": said(series.name, units)})
                for series in plot.series
            ],
            "marks": [
                mark.model_copy(update={"text": said(mark.text, units)}) for mark in plot.marks
            ],
        }
    )


def plot_csv(data: PlotData) -> str:
    """A plot's curves one under the other: series, x, y, in SI units."""
    rows = [("series", data.x_label, data.y_label, "limited by")]
    for series in data.series:
        for index, (x, y) in enumerate(zip(series.x, series.y, strict=True)):
            part = series.part[index] if series.part else ""
            rows.append((series.name, f"{x:.6g}", f"{y:.6g}", part))
    return sheet_text(rows)


def _list(values: Floats) -> list[float]:
    rounded: list[float] = np.round(values, 5).tolist()
    return rounded
