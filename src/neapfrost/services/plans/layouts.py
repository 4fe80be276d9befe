"""Layouts of one venue: the road that they share is one road, whichever layout it is edited in."""

from typing import Any

from pydantic import BaseModel
from sqlalchemy.orm import Session

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.plan_rules import circuit_faults
from neapfrost.services.circuits.beside_road import edges_of
from neapfrost.services.circuits.carrying import carry, moves_of_lengths
from neapfrost.services.plans.parts import content_of
from neapfrost.store.items import (
    Content,
    get_document,
    list_items,
    plans_using,
    revise,
)
from neapfrost.store.tables import Kind

#: Places this near to a joint stand on either side of it [m].
NEAR_M = 1e-6


class Layout(BaseModel):
    """Another layout of the venue: its plans, and the stretches of road that it has."""

    circuit_id: int
    name: str
    plan_ids: list[int]
    stretches: list[str]


def other_layouts(session: Session, circuit_id: int, venue: str | None) -> list[Layout]:
    """The other layouts of a venue, by name."""
    layouts = [
        Layout(
            circuit_id=item_id,
            name=circuit.name,
            plan_ids=[plan.id for plan in plans_using(session, "circuit", item_id)],
            stretches=[segment.stretch for segment in circuit.segments or [] if segment.stretch],
        )
        for item_id, circuit in _siblings(session, circuit_id, venue)
    ]
    return sorted(layouts, key=lambda layout: layout.name)


def _siblings(
    session: Session, circuit_id: int, venue: str | None
) -> list[tuple[int, CircuitDocument]]:
    if venue is None:
        return []
    found = []
    for item in list_items(session, "circuit"):
        document = get_document(session, "circuit", item.id)
        if item.id != circuit_id and document.get("venue") == venue:
            found.append((item.id, CircuitDocument.model_validate(document)))
    return found


def revise_with_layouts(
    session: Session, kind: Kind, item_id: int, content: Content, remark: str
) -> int:
    """Write a revision; a circuit's shared stretches are written in the other layouts as well.

    Raises InputRefused where another layout would not be a circuit any more.
    """
    number = revise(session, kind, item_id, content, remark)
    if kind != "circuit" or content.document.get("venue") is None:
        return number
    source = CircuitDocument.model_validate(content.document)
    for other_id, other in _siblings(session, item_id, source.venue):
        value = mirrored(source, other)
        if value == other.model_dump(mode="json"):
            continue
        document = CircuitDocument.model_validate(value)
        faults = circuit_faults(document)
        if faults:
            raise InputRefused(
                [Fault(fault.path, f"in {other.name}: {fault.message}") for fault in faults]
            )
        revise(
            session,
            "circuit",
            other_id,
            content_of("circuit", document.model_dump(mode="json")),
            f"{remark} (in {source.name})",
        )
    return number


def marked(circuit: CircuitDocument, venue: str) -> dict[str, Any]:
    """A circuit as a layout of a venue, every part of it marked as a stretch others may share."""
    value = circuit.model_dump(mode="json")
    value["venue"] = venue
    taken = {segment["stretch"] for segment in value["segments"] or []}
    number = 0
    for segment in value["segments"] or []:
        while segment["stretch"] is None:
            number += 1
            if f"{number}" not in taken:
                segment["stretch"] = f"{number}"
    return value


def mirrored(source: CircuitDocument, target: CircuitDocument) -> dict[str, Any]:
    """A layout with the stretches it shares as they are in another, and what stands beside them.

    Boards and references are shared where they stand on a shared stretch and belong to a corner of
    one; kerbs, dust and walls where both of their ends are on shared stretches in the same order;
    heights where both layouts have them.
    """
    shaped = _shaped(source, target)
    middle = CircuitDocument.model_validate(shaped)
    shared = _Shared(source, middle)
    value = middle.model_dump(mode="json")
    for kind in ("boards", "references"):
        own = [thing for thing in value[kind] if not shared.has(thing, of_source=False)]
        taken = [
            {**thing, "at_m": shared.to_target(thing["at_m"])}
            for thing in source.model_dump(mode="json")[kind]
            if shared.has(thing, of_source=True)
        ]
        value[kind] = _in_order(value[kind], own + taken, "at_m")
    value["corner_notes"] = shared.notes(
        source.model_dump(mode="json")["corner_notes"], value["corner_notes"]
    )
    own_edges = [edge for edge in value["edges"] if not shared.has_edge(edge, of_source=False)]
    edges = [
        {
            **edge,
            "from_m": shared.to_target(edge["from_m"]),
            "to_m": shared.to_target(edge["to_m"], ends=True),
        }
        for edge in source.model_dump(mode="json")["edges"]
        if shared.has_edge(edge, of_source=True)
    ]
    value["edges"] = _in_order(value["edges"], own_edges + edges, "from_m")
    if value["elevation"] and source.elevation:
        own_points = [p for p in value["elevation"] if not shared.on_shared(p["at_m"], False)]
        points = [
            {"at_m": shared.to_target(point.at_m), "z_m": point.z_m}
            for point in source.elevation
            if shared.on_shared(point.at_m, True)
        ]
        value["elevation"] = _in_order(value["elevation"], _rising(own_points + points), "at_m")
    return value


def _shaped(source: CircuitDocument, target: CircuitDocument) -> dict[str, Any]:
    """The target with its shared segments as in the source; a split one is split here as well."""
    own = {s.stretch: s for s in source.segments or [] if s.stretch is not None}
    value = target.model_dump(mode="json")
    segments: list[dict[str, Any]] = []
    for segment in value["segments"] or []:
        stretch = segment["stretch"] or ""
        parts = [name for name in own if name.startswith(f"{stretch}.")] if stretch else []
        whole = [name for name in own if stretch.startswith(f"{name}.")]
        if stretch in own:
            segments.append(_with_name(own[stretch].model_dump(mode="json"), segment, target))
        elif len(parts) > 1:
            segments += [own[name].model_dump(mode="json") for name in parts]
        elif whole:
            # Made one again: the first of its parts stands for all of them.
            if not segments or segments[-1]["stretch"] != whole[0]:
                segments.append(own[whole[0]].model_dump(mode="json"))
        else:
            segments.append(segment)
    if len(segments) == len(value["segments"] or []):
        value["segments"] = segments
        carry(target, value, moves_of_lengths(target, value))
    else:
        value["segments"] = segments  # a split leaves every place where it is
    return value


def _with_name(
    shared: dict[str, Any], own: dict[str, Any], target: CircuitDocument
) -> dict[str, Any]:
    """The shared segment under its own name, unless another corner of the layout has it."""
    name = shared.get("name")
    others = {
        segment.name
        for segment in target.segments or []
        if segment.kind == "corner" and segment.stretch != own["stretch"]
    }
    return {**shared, "name": own["name"]} if name in others else shared


class _Shared:
    """The stretches that two layouts share, and places carried from one to the other."""

    def __init__(self, source: CircuitDocument, target: CircuitDocument) -> None:
        self.circuits = {True: source, False: target}
        self.edges = {True: edges_of(source), False: edges_of(target)}
        names = [
            {s.stretch: number for number, s in enumerate(circuit.segments or []) if s.stretch}
            for circuit in (source, target)
        ]
        self.pairs = {names[0][name]: names[1][name] for name in names[0] if name in names[1]}
        self.numbers = {True: set(self.pairs), False: set(self.pairs.values())}

    def number_at(self, at_m: float, of_source: bool, ends: bool = False) -> int:
        """The segment at a place; at a joint the one that begins there, or that ends there."""
        edges = self.edges[of_source]
        near = -NEAR_M if ends else NEAR_M
        number = sum(edge <= at_m + near for edge in edges) - 1
        return min(max(number, 0), len(edges) - 2)

    def on_shared(self, at_m: float, of_source: bool, ends: bool = False) -> bool:
        return self.number_at(at_m, of_source, ends) in self.numbers[of_source]

    def has(self, thing: dict[str, Any], of_source: bool) -> bool:
        """Whether a board or reference stands on a shared stretch, for a corner of one."""
        segments = self.circuits[of_source].segments or []
        names = {getattr(segments[number], "name", None) for number in self.numbers[of_source]}
        mine = thing["corner"] is None or thing["corner"] in names
        return mine and self.on_shared(thing["at_m"], of_source)

    def notes(
        self, of_source: list[dict[str, Any]], own: list[dict[str, Any]]
    ) -> list[dict[str, Any]]:
        """What is known of corners: of shared ones as in the source, of others as it was."""
        names = {
            whose: {
                getattr((self.circuits[whose].segments or [])[number], "name", None)
                for number in self.numbers[whose]
            }
            for whose in (True, False)
        }
        kept = [note for note in own if note["corner"] not in names[False]]
        taken = [note for note in of_source if note["corner"] in names[True] & names[False]]
        return own if kept + taken == own else kept + taken

    def has_edge(self, edge: dict[str, Any], of_source: bool) -> bool:
        """Whether a stretch of edge lies along road that both layouts have in the same order."""
        first = self.number_at(edge["from_m"], of_source)
        last = self.number_at(edge["to_m"], of_source, ends=True)
        if not self.on_shared(edge["from_m"], of_source):
            return False
        if edge["to_m"] <= edge["from_m"] or last < first:
            return False
        back = {target: source for source, target in self.pairs.items()}
        other = self.pairs if of_source else back
        run = range(first, last + 1)
        if any(number not in other for number in run):
            return False
        return [other[number] - other[first] for number in run] == [n - first for n in run]

    def to_target(self, at_m: float, ends: bool = False) -> float:
        """The place in the target of a place on a shared stretch of the source [m]."""
        number = self.number_at(at_m, True, ends)
        begins = self.edges[False][self.pairs[number]]
        return round(begins + at_m - self.edges[True][number], 6)


def _in_order(
    before: list[dict[str, Any]], after: list[dict[str, Any]], place: str
) -> list[dict[str, Any]]:
    """The list as it was where nothing has changed, else in the order of the road."""
    rounded = [_rounded(thing, place) for thing in before]
    left = list(rounded)
    for thing in after:
        if _rounded(thing, place) not in left:
            return sorted(after, key=lambda one: float(one[place]))
        left.remove(_rounded(thing, place))
    return before if not left else sorted(after, key=lambda one: float(one[place]))


def _rounded(thing: dict[str, Any], place: str) -> dict[str, Any]:
    places = {name: round(thing[name], 3) for name in (place, "to_m") if name in thing}
    return {**thing, **places}


def _rising(points: list[dict[str, float]]) -> list[dict[str, float]]:
    kept: list[dict[str, float]] = []
    for point in sorted(points, key=lambda one: one["at_m"]):
        if not kept or point["at_m"] - kept[-1]["at_m"] > 0.01:
            kept.append(point)
    return kept
