"""What is asked of a line at corners, found again by name when others are put in or taken out."""

from typing import Any

from neapfrost.formats.plan import (
    CircuitDocument,
    CornerDocument,
    LineCornerDocument,
    LineDocument,
    ReferenceDocument,
)

#: Begins the label of a hold while it is carried along; nobody can type it.
HOLD = "\x00hold "


def corner_names(circuit: CircuitDocument) -> list[str]:
    """Names of a circuit's corners in their order."""
    return [s.name for s in circuit.segments or [] if isinstance(s, CornerDocument)]


def named_wishes(line: LineDocument, circuit: CircuitDocument) -> LineDocument:
    """The line with every wish bearing the name of the corner that it is for now."""
    names = corner_names(circuit)
    wishes = [
        wish.model_copy(update={"name": names[wish.corner]})
        for wish in line.corners
        if wish.corner < len(names)
    ]
    return line.model_copy(update={"corners": wishes})


def present_wishes(line: LineDocument, circuit: CircuitDocument) -> list[LineCornerDocument]:
    """The wishes with the numbers that their corners have now; without those of lost corners."""
    numbers = [(wish, present_number(wish, circuit)) for wish in line.corners]
    return [
        wish.model_copy(update={"corner": number}) for wish, number in numbers if number is not None
    ]


def lost_wishes(line: LineDocument, circuit: CircuitDocument) -> list[str]:
    """Names of corners for which something is asked and that the circuit has no more."""
    return [
        wish.name or f"corner {wish.corner + 1}"
        for wish in line.corners
        if present_number(wish, circuit) is None
    ]


def present_number(wish: LineCornerDocument, circuit: CircuitDocument) -> int | None:
    """The number of a wish's corner: where it was if that has its name, else the only one so."""
    return number_of(wish.corner, wish.name, corner_names(circuit))


def number_of(number: int, name: str | None, names: list[str]) -> int | None:
    """The number that a corner has now: where it was if it has its name, else the only one so."""
    if name is None:
        return number if number < len(names) else None
    if number < len(names) and names[number] == name:
        return number
    return names.index(name) if names.count(name) == 1 else None


def renamed_wishes(
    line: LineDocument, before: CircuitDocument, after: CircuitDocument
) -> LineDocument:
    """The line with its wishes under the corners' new names, where only names have changed."""
    old, new = corner_names(before), corner_names(after)
    if len(old) != len(new) or _without_names(before) != _without_names(after):
        return line
    wishes = [
        wish.model_copy(update={"name": new[number], "corner": number})
        for wish in line.corners
        if (number := present_number(wish, before)) is not None
    ]
    return line.model_copy(update={"corners": wishes})


def _without_names(circuit: CircuitDocument) -> list[object]:
    return [segment.model_dump(exclude={"name"}) for segment in circuit.segments or []]


def with_holds(circuit: CircuitDocument, line: LineDocument | None) -> CircuitDocument:
    """A circuit with the line's holds as references, so that an edit carries them along."""
    holds = [
        ReferenceDocument(label=f"{HOLD}{number}", at_m=hold.at_m)
        for number, hold in enumerate(line.holds if line else [])
    ]
    return circuit.model_copy(update={"references": [*circuit.references, *holds]})


def taken_holds(
    value: dict[str, Any], line: LineDocument | None, other_way: bool
) -> LineDocument | None:
    """The line with its holds where an edited circuit has carried them, taken out of that.

    Driven the other way left is right.
    """
    places = {}
    for thing in value["references"]:
        if thing["label"].startswith(HOLD):
            places[int(thing["label"].removeprefix(HOLD))] = thing["at_m"]
    value["references"] = [t for t in value["references"] if not t["label"].startswith(HOLD)]
    if line is None:
        return None
    sign = -1.0 if other_way else 1.0
    holds = [
        hold.model_copy(update={"at_m": places[number], "offset_m": sign * hold.offset_m})
        for number, hold in enumerate(line.holds)
        if number in places
    ]
    return line.model_copy(update={"holds": holds})
