"""Rules that more than one field of a plan has to keep together."""

import math
from collections.abc import Iterator, Sequence

from neapfrost.core.constants import LAP_LONGEST_M, LAP_SHORTEST_M
from neapfrost.core.errors import Fault
from neapfrost.core.measures import metres
from neapfrost.core.path.circuit import Bend
from neapfrost.core.path.plan_view import (
    core_length_m,
    mean_curvature_per_m,
    ramps_m,
)
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.car_rules import attitude_faults, setup_faults
from neapfrost.formats.circuit_facts import circuit_length_m, corner_names
from neapfrost.formats.plan import (
    BoardDocument,
    CircuitDocument,
    ComputedLineDocument,
    CornerDocument,
    PlanDocument,
    ReferenceDocument,
    StationsDocument,
)
from neapfrost.formats.plan_records import segment_record


def plan_faults(plan: PlanDocument) -> list[Fault]:
    """Everything wrong with a plan whose fields are each allowed."""
    faults = [*car_faults(plan.car, plan.setup), *_circuit_faults(plan.circuit)]
    return faults or [*_line_faults(plan)]


def car_faults(car: CarDocument, setup: str | None = None) -> list[Fault]:
    """Everything wrong with a car whose fields are each allowed."""
    return [*_car_faults(car), *attitude_faults(car), *setup_faults(car, setup)]


def circuit_faults(circuit: CircuitDocument) -> list[Fault]:
    """Everything wrong with a circuit whose fields are each allowed."""
    return list(_circuit_faults(circuit))


def _car_faults(car: CarDocument) -> Iterator[Fault]:
    curve = car.engine.torque_curve
    if len(curve) < 2:
        yield Fault(
            "car.engine.torque_curve",
            f"{len(curve)} of its points were given; at least two are needed",
        )
    for index in range(1, len(curve)):
        if curve[index].rpm <= curve[index - 1].rpm:
            yield Fault(
                f"car.engine.torque_curve[{index}].rpm",
                f"{curve[index].rpm:g} was given after {curve[index - 1].rpm:g}; the points must "
                "rise in rpm",
            )
    if curve and car.engine.rev_limit_rpm <= curve[0].rpm:
        yield Fault(
            "car.engine.rev_limit_rpm",
            f"{car.engine.rev_limit_rpm:g} was given, but the torque curve starts at "
            f"{curve[0].rpm:g} rpm; the limit must lie above that",
        )
    boxes = {"car.gearbox": car.gearbox.ratios}
    boxes |= {f"car.gear_sets[{n}]": gears.ratios for n, gears in enumerate(car.gear_sets)}
    for box, ratios in boxes.items():
        yield from _ratio_faults(box, ratios)
    if car.max_lean_deg is not None and car.kind == "car":
        yield Fault("car.max_lean_deg", "a car does not lean; this is for a motorcycle")


def _ratio_faults(box: str, ratios: list[float]) -> Iterator[Fault]:
    for index in range(1, len(ratios)):
        if ratios[index] >= ratios[index - 1]:
            yield Fault(
                f"{box}.ratios[{index}]",
                f"{ratios[index]:g} was given after {ratios[index - 1]:g}; ratios must fall from "
                "first gear to top",
            )


def _circuit_faults(circuit: CircuitDocument) -> Iterator[Fault]:
    if circuit.segments and circuit.stations is not None:
        yield Fault(
            "circuit.stations", "segments are given as well; a circuit has one or the other"
        )
        return
    if not circuit.segments and circuit.stations is None:
        yield Fault("circuit.segments", "no segment is given; at least one, or stations, is needed")
        return
    if circuit.closed and circuit.start_speed_ms is not None:
        yield Fault(
            "circuit.start_speed_ms",
            "a closed circuit is driven as a flying lap and has no start speed; leave it null",
        )
    if circuit.segments:
        faults = list(_segment_faults(circuit))
        yield from faults
        if faults:
            return
        place = "circuit.segments"
    else:
        assert circuit.stations is not None  # one of the two is given, see above
        faults = list(_station_faults(circuit.stations, circuit.closed))
        faults += _road_station_faults(circuit)
        yield from faults
        if faults:
            return
        place = "circuit.stations.at_m"
    length = circuit_length_m(circuit)
    if not LAP_SHORTEST_M <= length <= LAP_LONGEST_M:
        yield Fault(
            place,
            f"the lap is {metres(length, 1)} long; it must be between {metres(LAP_SHORTEST_M)} and "
            f"{LAP_LONGEST_M / 1000:.0f} km",
        )
        return
    yield from _position_faults(circuit, length)


def _line_faults(plan: PlanDocument) -> Iterator[Fault]:
    line = plan.line
    if line is None:
        return
    if plan.circuit.segments_describe != "road":
        yield Fault("line", "a line is given, but the circuit describes the driven path already")
        return
    corners, length = corner_names(plan.circuit), circuit_length_m(plan.circuit)
    for index, wish in enumerate(line.corners):
        place = f"line.corners[{index}]"
        if wish.name is None and wish.corner >= len(corners):
            yield Fault(
                f"{place}.corner",
                f"{wish.corner} was given; the corners are numbered 0 to {len(corners) - 1}",
            )
        earliest, latest = wish.apex_no_earlier_pct, wish.apex_no_later_pct
        if earliest is not None and latest is not None and earliest > latest:
            yield Fault(
                f"{place}.apex_no_later_pct",
                f"{latest:g} was given, but the apex lies no earlier than {earliest:g}",
            )
    for index, hold in enumerate(line.holds):
        if not 0.0 <= hold.at_m <= length:
            yield Fault(
                f"line.holds[{index}].at_m",
                f"{hold.at_m:g} was given; the road reaches from 0 to {metres(length, 1)}",
            )
    if line.computed is not None:
        yield from _computed_faults(line.computed)


def _computed_faults(computed: ComputedLineDocument) -> Iterator[Fault]:
    at = computed.road_at_m
    for name in ("offset_m", "heading_rad", "curvature_per_m"):
        count = len(getattr(computed, name))
        if count != len(at):
            yield Fault(
                f"line.computed.{name}",
                f"{count} entries were given for {len(at)} positions; one for each is needed",
            )
    for name in ("road_at_m", "edges_m"):
        column = getattr(computed, name)
        for index in range(1, len(column)):
            if column[index] <= column[index - 1]:
                yield Fault(
                    f"line.computed.{name}[{index}]",
                    f"{column[index]:g} was given after {column[index - 1]:g}; positions must rise",
                )
                break


def _segment_faults(circuit: CircuitDocument) -> Iterator[Fault]:
    for index, segment in enumerate(circuit.segments or []):
        if not isinstance(segment, CornerDocument):
            continue
        record = segment_record(segment)
        assert isinstance(record, Bend)
        if any(ramps_m(record)) and core_length_m(record) <= 0.0:
            turned = math.radians(segment.angle_deg)
            longest = turned / mean_curvature_per_m(record)
            yield Fault(
                f"circuit.segments[{index}].transition_m",
                f"{segment.transition_m:g} was given, but {segment.name} turns its "
                f"{segment.angle_deg:g}° in {metres(longest, 1)}; the ramp must be "
                "shorter than that",
            )


def _road_station_faults(circuit: CircuitDocument) -> Iterator[Fault]:
    """Columns that a driven path has and a road has not, and the other way about."""
    assert circuit.stations is not None
    road = circuit.segments_describe == "road"
    of_the_other = ("road_at_m", "offset_m") if road else ("width_left_m", "width_right_m")
    for name in of_the_other:
        if getattr(circuit.stations, name) is not None:
            yield Fault(
                f"circuit.stations.{name}",
                "this is for the driven path, but the stations describe a road's middle"
                if road
                else "this is for a road, but the stations describe the driven path",
            )


def _station_faults(stations: StationsDocument, closed: bool) -> Iterator[Fault]:
    at = stations.at_m
    if at[0] != 0.0:
        yield Fault("circuit.stations.at_m[0]", f"{at[0]:g} was given; stations start at 0")
    for index in range(1, len(at)):
        if at[index] <= at[index - 1]:
            yield Fault(
                f"circuit.stations.at_m[{index}]",
                f"{at[index]:g} was given after {at[index - 1]:g}; stations must rise",
            )
            return
    for name in (
        "curvature_per_m",
        "bank_left_deg",
        "grade_pct",
        "grip_factor",
        "width_left_m",
        "width_right_m",
        "road_at_m",
        "offset_m",
    ):
        column = getattr(stations, name)
        if column is not None and len(column) != len(at):
            yield Fault(
                f"circuit.stations.{name}",
                f"{len(column)} entries were given for {len(at)} stations; one for each is needed",
            )
    for index, corner in enumerate(stations.corners or []):
        place = f"circuit.stations.corners[{index}]"
        if not 0.0 <= corner.begins_at_m <= at[-1]:
            yield Fault(
                f"{place}.begins_at_m",
                f"{corner.begins_at_m:g} was given; the path reaches from 0 to "
                f"{metres(at[-1], None)}",
            )
        if not 0.0 <= corner.ends_at_m <= at[-1]:
            yield Fault(
                f"{place}.ends_at_m",
                f"{corner.ends_at_m:g} was given; the path reaches from 0 to "
                f"{metres(at[-1], None)}",
            )
        elif not closed and corner.ends_at_m <= corner.begins_at_m:
            yield Fault(
                f"{place}.ends_at_m",
                f"{corner.ends_at_m:g} was given; the corner begins at "
                f"{metres(corner.begins_at_m, None)}",
            )


def _position_faults(circuit: CircuitDocument, length: float) -> Iterator[Fault]:
    reach = f"the lap reaches from 0 to {metres(length, 1)}"
    previous = 0.0
    for index, at in enumerate(circuit.sectors_at_m):
        if not previous < at < length:
            yield Fault(
                f"circuit.sectors_at_m[{index}]",
                f"{at:g} was given; sector lines must rise, and {reach}",
            )
            return
        previous = at
    last = -math.inf
    for index, point in enumerate(circuit.elevation or []):
        if not 0.0 <= point.at_m <= length + 1e-6:
            yield Fault(f"circuit.elevation[{index}].at_m", f"{point.at_m:g} was given; {reach}")
            return
        if point.at_m <= last:
            yield Fault(
                f"circuit.elevation[{index}].at_m",
                f"{point.at_m:g} was given after {last:g}; elevation points must rise in position",
            )
            return
        last = point.at_m
    points = circuit.elevation or []
    closing = points and circuit.closed and abs(points[-1].at_m - points[0].at_m - length) < 1e-6
    if closing and abs(points[-1].z_m - points[0].z_m) > 1e-6:
        yield Fault(
            f"circuit.elevation[{len(points) - 1}].z_m",
            f"{points[-1].z_m:g} was given, but the lap starts at "
            f"{metres(points[0].z_m, None)}; a closed lap ends at the height it started from",
        )
    for index, edge in enumerate(circuit.edges):
        for name in ("from_m", "to_m"):
            at = getattr(edge, name)
            if not 0.0 <= at <= length + 1e-6:
                yield Fault(f"circuit.edges[{index}].{name}", f"{at:g} was given; {reach}")
        if not circuit.closed and edge.to_m <= edge.from_m:
            yield Fault(
                f"circuit.edges[{index}].to_m",
                f"{edge.to_m:g} was given; the stretch begins at {metres(edge.from_m, None)}",
            )
    corners = corner_names(circuit)
    beside: dict[str, Sequence[BoardDocument | ReferenceDocument]] = {
        "boards": circuit.boards,
        "references": circuit.references,
    }
    for field, things in beside.items():
        for index, thing in enumerate(things):
            if not 0.0 <= thing.at_m <= length + 1e-6:
                yield Fault(f"circuit.{field}[{index}].at_m", f"{thing.at_m:g} was given; {reach}")
            if thing.corner is not None and thing.corner not in corners:
                yield Fault(
                    f"circuit.{field}[{index}].corner", f'no corner is named "{thing.corner}"'
                )
