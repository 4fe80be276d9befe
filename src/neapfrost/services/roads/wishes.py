"""What is asked of a line at corners, found again by name when others are put in or taken out."""

from neapfrost.formats.circuit_facts import corner_names
from neapfrost.formats.plan import CircuitDocument, LineCornerDocument, LineDocument


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
