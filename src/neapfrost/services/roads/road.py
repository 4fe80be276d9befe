"""A plan's road: its middle line, its edges, and the line that is driven on it."""

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.line.carry import carried
from neapfrost.core.line.corridor import Corridor, EdgeKind, EdgeStretch, KerbUse, corridor
from neapfrost.core.line.driven import DrivenLine, driven_circuit, driven_line
from neapfrost.core.line.shape import Shape, centre_line
from neapfrost.core.path.build import Path, build_path
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.document import Itself, text_of
from neapfrost.formats.plan import (
    CircuitDocument,
    ComputedLineDocument,
    LineDocument,
    LineKind,
    PlanDocument,
    StationsDocument,
)
from neapfrost.formats.plan_records import circuit_record, segment_record
from neapfrost.formats.plan_setup import in_effect
from neapfrost.formats.result import LineEnd, LineResult
from neapfrost.services.roads.wishes import lost_wishes, present_wishes

#: A vehicle whose width is not stated is this wide [m].
USUAL_WIDTH_M = {"car": 1.9, "motorcycle": 0.8}
#: A line has about this many nodes, between the finest and the coarsest steps [m].
LINE_NODES = 1700
LINE_STEPS_M = (1.5, 4.0)
#: What a car has beside what it is driven with.
BESIDE_THE_DRIVING: dict[str, bool | set[str]] = {
    "name": True,
    "note": True,
    "wings": True,
    "gear_sets": True,
    "compounds": True,
    "setups": True,
    "fuel_use": True,
    "fuel_capacity_kg": True,
    "track_width_m": True,
    "lateral_transfer_front": True,
    "energy": True,
    "flap": True,
    "tyres": {"slip_at_limit_pct"},
}
#: What is said of a segment that changes nothing of the road. Figures left at what is usual are
#: not counted either, so that a line stays true when documents learn to say more.
BESIDE_THE_SHAPE = {
    "name",
    "note",
    "stretch",
    "length_uncertainty_pct",
    "radius_uncertainty_pct",
    "angle_uncertainty_pct",
    "grade_uncertainty_pct",
}


@dataclass(frozen=True, eq=False)
class Road:
    """The middle of a road on the line's own grid, how far it reaches to each side, its segments.

    Shapes: `left_m`, `right_m` (n + 1,), `edges_m` where segments meet.
    """

    middle: Path
    left_m: Floats
    right_m: Floats
    edges_m: Floats


@dataclass(frozen=True, eq=False)
class OnRoad:
    """A plan's line on its road, and how it stands to what was asked."""

    road: Road
    field: Corridor
    shape: Shape
    line: DrivenLine
    told: LineResult


def is_road(plan: PlanDocument) -> bool:
    """Whether a line is driven on the plan's circuit, rather than its segments themselves."""
    return plan.circuit.segments_describe == "road"


def vehicle_width_m(plan: PlanDocument) -> float:
    """Width of the plan's vehicle, the usual one where none is stated [m]."""
    return plan.car.width_m or USUAL_WIDTH_M[plan.car.kind]


def segment_edges_m(circuit: CircuitDocument) -> Floats:
    """Where segments begin, and where the last one ends [m]; of stations both ends alone."""
    if circuit.stations is not None:
        return np.array([0.0, circuit.stations.at_m[-1]])
    lengths = [segment_length_m(segment_record(s)) for s in circuit.segments or []]
    return np.concatenate(([0.0], np.cumsum(lengths)))


def road_of(circuit: CircuitDocument) -> Road:
    """The road that a circuit describes; kept for when it is asked for again."""
    return _road(text_of(circuit))


@lru_cache(maxsize=16)
def _road(circuit_json: str) -> Road:
    circuit = CircuitDocument.model_validate_json(circuit_json)
    edges = segment_edges_m(circuit)
    step = float(np.clip(edges[-1] / LINE_NODES, *LINE_STEPS_M))
    middle = build_path(circuit_record(circuit), step)
    if circuit.stations is not None:
        return Road(middle, *_station_widths_m(circuit, circuit.stations, middle), edges)
    widths = [
        segment.width_m if segment.width_m is not None else circuit.width_m
        for segment in circuit.segments or []
    ]
    # A node between two segments belongs to both: what fits the narrower one fits.
    before = np.clip(np.searchsorted(edges, middle.s_m - 1e-6) - 1, 0, len(widths) - 1)
    after = np.clip(np.searchsorted(edges, middle.s_m + 1e-6) - 1, 0, len(widths) - 1)
    if circuit.closed:
        before[0], after[-1] = len(widths) - 1, 0
    width = np.minimum(np.array(widths)[before], np.array(widths)[after])
    return Road(middle, 0.5 * width, 0.5 * width, edges)


def _station_widths_m(
    circuit: CircuitDocument, stations: StationsDocument, middle: Path
) -> tuple[Floats, Floats]:
    """From the middle to the left and to the right edge at its nodes [m]."""

    def at_nodes(widths: list[float] | None) -> Floats:
        half = [0.5 * circuit.width_m] * len(stations.at_m)
        return np.interp(middle.s_m, stations.at_m, half if widths is None else widths)

    return at_nodes(stations.width_left_m), at_nodes(stations.width_right_m)


def corridor_of(plan: PlanDocument) -> Corridor:
    """What the plan's vehicle may use of its road. Raises InputRefused where it does not fit."""
    road = road_of(plan.circuit)
    line = plan.line or LineDocument()
    stretches = [
        EdgeStretch(
            side=1 if edge.side == "left" else -1,
            kind=EdgeKind(edge.kind),
            from_m=edge.from_m,
            to_m=edge.to_m,
            width_m=edge.width_m,
            use=KerbUse(edge.use),
            grip_factor=edge.grip_factor,
            distance_m=edge.distance_m,
        )
        for edge in plan.circuit.edges
    ]
    width = vehicle_width_m(plan)
    return corridor(road.middle, road.left_m, road.right_m, width, line.margin_m, stretches)


def on_road(plan: PlanDocument) -> OnRoad:
    """The line of a plan: as it was computed, carried along with its road, or the middle.

    Raises InputRefused where the vehicle does not fit between the edges.
    """
    key = (
        text_of(plan.circuit),
        None if plan.line is None else text_of(plan.line),
        vehicle_width_m(plan),
    )
    road, field, shape, line, followed = _laid(*key, plan.car.kind)
    return OnRoad(road, field, shape, line, _told(plan, followed))


def laid_on(computed: ComputedLineDocument, road: Road) -> Shape | None:
    """A computed line carried along to a road; None where it does not fit."""
    shape = Shape(
        np.array(computed.offset_m),
        np.array(computed.heading_rad),
        np.array(computed.curvature_per_m),
    )
    old_at_m, old_edges_m = np.array(computed.road_at_m), np.array(computed.edges_m)
    return carried(shape, old_at_m, old_edges_m, road.middle, road.edges_m)


def line_before(plan: PlanDocument) -> Shape | None:
    """The line that a plan had before, carried along to its road as it is; None without one."""
    line = plan.line
    if line is None or line.computed is None:
        return None
    return laid_on(line.computed, road_of(plan.circuit))


@lru_cache(maxsize=16)
def _laid(
    circuit_json: str, line_json: str | None, width_m: float, kind: str
) -> tuple[Road, Corridor, Shape, DrivenLine, bool]:
    """What `on_road` gives but for what it tells, and whether a computed line is followed."""
    circuit = CircuitDocument.model_validate_json(circuit_json)
    line = None if line_json is None else LineDocument.model_validate_json(line_json)
    bare = PlanDocument.model_construct(circuit=circuit, line=line, car=_Wide(width_m, kind))
    field = corridor_of(bare)
    road = road_of(circuit)
    shape = None
    if line is not None and line.computed is not None and line.kind != "centre":
        shape = laid_on(line.computed, road)
    followed = shape is not None
    if shape is None:
        shape = centre_line(road.middle)
    return road, field, shape, driven_line(field, shape), followed


@dataclass(frozen=True)
class _Wide:
    """All that a corridor asks of a vehicle."""

    width_m: float
    kind: str


def driven_path(circuit: CircuitDocument, line: DrivenLine, step_m: float) -> Path:
    """A line on a circuit's road as a path for the lap solver."""
    return build_path(
        driven_circuit(circuit_record(circuit), line, road_of(circuit).middle), step_m
    )


def to_line(laid: OnRoad) -> Callable[[float], float]:
    """From a road position to the distance along the line beside it [m]."""
    return lambda at_m: float(np.interp(at_m, laid.road.middle.s_m, laid.line.at_m))


def made_for(plan: PlanDocument) -> dict[str, str]:
    """Marks of all that a line of the plan's kind is computed from, part by part."""
    plan = in_effect(plan)
    line = plan.line or LineDocument()
    circuit = plan.circuit
    fastest = line.kind == "fastest"
    wishes = [
        line.margin_m,
        [
            wish.model_dump(exclude={"name"}, exclude_defaults=True)
            for wish in present_wishes(line, circuit)
        ],
        [hold.model_dump() for hold in line.holds],
    ]
    marks = {"road": _road_mark(Itself(circuit), fastest), "wishes": _mark(wishes)}
    if not fastest:
        return marks | {"vehicle": _mark(vehicle_width_m(plan))}
    conditions = [
        plan.conditions.model_dump(exclude={"name"}, exclude_defaults=True),
        circuit.north_deg,
        circuit.altitude_m,
    ]
    return marks | {
        "vehicle": _mark(plan.car.model_dump(exclude=BESIDE_THE_DRIVING, exclude_defaults=True)),
        "conditions": _mark(conditions),
        "driver": _mark(plan.driver.model_dump(exclude_defaults=True)),
    }


@lru_cache(maxsize=32)
def _road_mark(itself: Itself[CircuitDocument], fastest: bool) -> str:
    """Mark of a circuit's road; for the fastest line with all that bears on the speed."""
    circuit = itself.document
    road = [
        circuit.closed,
        circuit.width_m,
        [
            s.model_dump(exclude=BESIDE_THE_SHAPE, exclude_defaults=True)
            for s in circuit.segments or []
        ],
        [edge.model_dump(exclude_defaults=True) for edge in circuit.edges],
        *([] if circuit.stations is None else [circuit.stations.model_dump()]),
    ]
    if not fastest:
        return _mark(road)
    elevation = [point.model_dump() for point in circuit.elevation or []]
    return _mark([road, circuit.grade_blend_m, circuit.start_speed_ms, elevation])


def _mark(value: object) -> str:
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()[:16]


def _told(plan: PlanDocument, followed: bool) -> LineResult:
    """How the line that is driven stands to the one that is wanted."""
    line = plan.line or LineDocument()
    lost = lost_wishes(line, plan.circuit)
    driven: LineKind = "centre"
    changed: list[str] = []
    ended: LineEnd | None = None
    if line.kind != "centre" and followed and line.computed is not None:
        driven, ended = line.computed.kind, line.computed.ended
        made = line.computed.made_for
        changed = [name for name, mark in made_for(plan).items() if made.get(name) != mark]
    return LineResult(
        wanted=line.kind, driven=driven, changed_since=changed, lost_wishes=lost, ended=ended
    )
