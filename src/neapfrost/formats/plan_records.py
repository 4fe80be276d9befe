"""From a plan document to the core's records."""

from collections.abc import Callable

from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.lap.boards import Mark
from neapfrost.core.path.circuit import (
    Bend,
    Circuit,
    NamedStretch,
    Segment,
    Stations,
    Straight,
)
from neapfrost.core.records import (
    Aero,
    Aspiration,
    Brakes,
    Conditions,
    Driver,
    DriverUse,
    Engine,
    Gearbox,
    GearSchool,
    Inertia,
    Intake,
    PowerStandard,
    Tyres,
    Vehicle,
    VehicleKind,
)
from neapfrost.formats.car_document import CarDocument, IntakeDocument
from neapfrost.formats.plan import (
    BoardDocument,
    CircuitDocument,
    ConditionsDocument,
    DriverDocument,
    ReferenceDocument,
    SegmentDocument,
    StationsDocument,
    StraightDocument,
)


def vehicle_record(car: CarDocument) -> Vehicle:
    """The core's vehicle."""
    return Vehicle(
        name=car.name,
        kind=VehicleKind(car.kind),
        mass_kg=car.mass_kg,
        driver_kg=car.driver_kg,
        fuel_kg=car.fuel_kg,
        wheelbase_m=car.wheelbase_m,
        cg_height_m=cg_height_m(car),
        front_weight_fraction=car.front_weight_fraction,
        tyres=Tyres(**car.tyres.model_dump(exclude={"slip_at_limit_pct"})),
        aero=_aero_record(car),
        engine=Engine(
            torque_curve=tuple((p.rpm, p.torque_nm) for p in car.engine.torque_curve),
            rev_limit_rpm=car.engine.rev_limit_rpm,
            efficiency=car.engine.efficiency,
            overrun_torque_nm=car.engine.overrun_torque_nm,
            intake=intake_record(car.engine.intake),
        ),
        gearbox=Gearbox(
            ratios=tuple(car.gearbox.ratios),
            final_drive=car.gearbox.final_drive,
            upshift_s=car.gearbox.upshift_s,
            downshift_s=car.gearbox.downshift_s,
        ),
        rear_drive_fraction=car.drive.rear_fraction,
        brakes=Brakes(**car.brakes.model_dump()),
        fuel_capacity_kg=car.fuel_capacity_kg,
        max_lean_deg=car.max_lean_deg,
        inertia=Inertia(**car.inertia.model_dump()),
    )


def _aero_record(car: CarDocument) -> Aero:
    attitude = car.attitude
    per_g = 100.0 * STANDARD_GRAVITY_MS2
    return Aero(
        **car.aero.model_dump(),
        by_speed=tuple(
            (one.speed_ms, one.downforce_pct / 100.0, one.drag_pct / 100.0, one.front_shift)
            for one in attitude.by_speed
        ),
        lift_lost_braking=attitude.downforce_lost_braking_pct_per_g / per_g,
        lift_lost_turning=attitude.downforce_lost_turning_pct_per_g / per_g,
        braking_drag_area_m2=attitude.braking_drag_area_m2,
        braking_drag_height_m=attitude.braking_drag_height_m,
    )


def intake_record(intake: IntakeDocument) -> Intake:
    """The core's intake of an engine."""
    values = intake.model_dump(exclude={"aspiration", "standard"})
    return Intake(Aspiration(intake.aspiration), PowerStandard(intake.standard), **values)


def cg_height_m(car: CarDocument) -> float:
    """Height of the centre of gravity with the driver [m]: the mean of both by their masses."""
    if car.driver_height_m is None:
        return car.cg_height_m
    together = car.mass_kg + car.driver_kg
    return (car.mass_kg * car.cg_height_m + car.driver_kg * car.driver_height_m) / together


def segment_record(segment: SegmentDocument) -> Segment:
    """The core's straight or bend."""
    if isinstance(segment, StraightDocument):
        return Straight(segment.length_m, segment.grade_pct, segment.grip_factor)
    return Bend(
        name=segment.name,
        turn=1 if segment.direction == "left" else -1,
        radius_m=segment.radius_m,
        angle_deg=segment.angle_deg,
        end_radius_m=segment.end_radius_m,
        transition_m=segment.transition_m,
        end_transition_m=segment.end_transition_m,
        banking_deg=segment.banking_deg,
        grade_pct=segment.grade_pct,
        grip_factor=segment.grip_factor,
    )


def circuit_record(circuit: CircuitDocument) -> Circuit:
    """The core's circuit."""
    return Circuit(
        name=circuit.name,
        closed=circuit.closed,
        segments=tuple(segment_record(segment) for segment in circuit.segments or []),
        stations=None if circuit.stations is None else _stations(circuit.stations),
        north_deg=circuit.north_deg,
        altitude_m=circuit.altitude_m,
        start_speed_ms=circuit.start_speed_ms,
        grade_blend_m=circuit.grade_blend_m,
        elevation=tuple((point.at_m, point.z_m) for point in circuit.elevation or []),
        sectors_at_m=tuple(circuit.sectors_at_m),
    )


def _stations(stations: StationsDocument) -> Stations:
    return Stations(
        at_m=tuple(stations.at_m),
        curvature_per_m=tuple(stations.curvature_per_m),
        bank_left_deg=tuple(stations.bank_left_deg or ()),
        grade_pct=tuple(stations.grade_pct or ()),
        grip_factor=tuple(stations.grip_factor or ()),
        road_at_m=tuple(stations.road_at_m or ()),
        offset_m=tuple(stations.offset_m or ()),
        corners=tuple(
            NamedStretch(corner.name, corner.begins_at_m, corner.ends_at_m)
            for corner in stations.corners or []
        ),
    )


def conditions_record(conditions: ConditionsDocument) -> Conditions:
    """The core's conditions."""
    values = conditions.model_dump(exclude={"name", "tyre_lap", "rubber_factor"})
    values["grip_factor"] = conditions.grip_factor * conditions.rubber_factor
    return Conditions(**values)


def driver_record(driver: DriverDocument) -> Driver:
    """The core's driver."""
    return Driver(
        use=DriverUse(**driver.use.model_dump()),
        entry_exponent=driver.entry_exponent,
        exit_exponent=driver.exit_exponent,
        brake_ramp_s=driver.brake_ramp_s,
        transition_s=driver.transition_s,
        lift_threshold_ms=driver.lift_threshold_ms,
        gear_school=GearSchool(driver.gear_school),
    )


def mark_records(
    circuit: CircuitDocument, to_path: Callable[[float], float] | None = None
) -> list[Mark]:
    """Boards and references as marks along the driven path.

    They stand at road positions; `to_path`, or a path by stations that knows its road, carries
    them to the path's own distance.
    """
    things: list[BoardDocument | ReferenceDocument] = [*circuit.boards, *circuit.references]
    if to_path is not None:
        return [Mark(thing.label, thing.corner, to_path(thing.at_m)) for thing in things]
    stations = circuit.stations
    if stations is None or not stations.road_at_m:
        return [Mark(thing.label, thing.corner, thing.at_m) for thing in things]
    return [Mark(thing.label, thing.corner, _along_path(thing.at_m, stations)) for thing in things]


def _along_path(road_at_m: float, stations: StationsDocument) -> float:
    """Path position beside a road position, linear between stations."""
    road = stations.road_at_m or []
    for index in range(1, len(road)):
        if road[index] >= road_at_m:
            span = road[index] - road[index - 1]
            share = (road_at_m - road[index - 1]) / span if span > 0.0 else 0.0
            first, last = stations.at_m[index - 1], stations.at_m[index]
            return first + min(max(share, 0.0), 1.0) * (last - first)
    return stations.at_m[-1]
