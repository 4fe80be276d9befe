"""All figures together, found by name, by owner and by where they live."""

import difflib

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.services.figures.asked import FIRST_LAPS_FIGURES, ORDER_FIGURES, UNCERTAIN_FIGURES
from neapfrost.services.figures.car import CAR_FIGURES
from neapfrost.services.figures.circuit import (
    CIRCUIT_FIGURES,
    SEGMENT_FIGURES,
    UNCERTAINTY_FIGURES,
)
from neapfrost.services.figures.driving import CONDITIONS_FIGURES, PLAN_FIGURES
from neapfrost.services.figures.figure import Figure, Kind, Owner, Quantity
from neapfrost.services.figures.race import ENERGY_FIGURES, FLAP_FIGURES, RACE_FIGURES
from neapfrost.services.figures.setups import (
    COMPOUND_FIGURES,
    GEAR_SET_FIGURES,
    SETUP_FIGURES,
    WING_FIGURES,
)

#: Figures of a plan that are changed by their names.
PLAN_WIDE: tuple[Figure, ...] = (*CAR_FIGURES, *PLAN_FIGURES, *CONDITIONS_FIGURES)
ALL: tuple[Figure, ...] = (
    *PLAN_WIDE,
    *SETUP_FIGURES,
    *WING_FIGURES,
    *GEAR_SET_FIGURES,
    *COMPOUND_FIGURES,
    *SEGMENT_FIGURES,
    *UNCERTAINTY_FIGURES,
    *CIRCUIT_FIGURES,
    *ORDER_FIGURES,
    *UNCERTAIN_FIGURES,
    *FIRST_LAPS_FIGURES,
    *RACE_FIGURES,
    *ENERGY_FIGURES,
    *FLAP_FIGURES,
)
BY_NAME: dict[str, Figure] = {figure.name: figure for figure in ALL}


class UnstatedPart(BaseModel):
    """What holds where a figure is not stated, and what it is stated as when it is to be."""

    says: str
    usual: float | None


class OptionPart(BaseModel):
    """One of the choices of a figure: as it stands in the document, and as it is called."""

    value: str | bool
    name: str


class FigureRow(BaseModel):
    """A figure as the page needs it; `low`, `high` are usual for the kind of vehicle asked for.

    With `options` it is a choice, and its value the place of one of them.
    """

    name: str
    owner: Owner
    field: str
    label: str
    head: str
    unit: str
    quantity: Quantity
    changes: str
    decimals: int
    step: float
    fine: float
    low: float | None
    high: float | None
    group: str
    strip: bool
    width_ch: float
    unstated: UnstatedPart | None
    options: list[OptionPart]


def figure_rows(kind: Kind = "car") -> list[FigureRow]:
    """Every figure that applies to a kind of vehicle, in the order of the work."""
    return [_row(figure, kind) for figure in ALL if figure.applies_to(kind)]


def figure_named(name: str) -> Figure:
    """A figure of a plan by its name. Raises InputRefused, with the nearest known name."""
    known = {figure.name: figure for figure in PLAN_WIDE}
    if name in known:
        return known[name]
    close = difflib.get_close_matches(name, known, n=1, cutoff=0.6)
    hint = f'; did you mean "{close[0]}"?' if close else ""
    raise InputRefused([Fault("field", f'no figure is named "{name}"{hint}')])


def figures_of(owner: Owner) -> dict[str, Figure]:
    """The figures of one owner by their fields."""
    return {figure.path[-1]: figure for figure in ALL if figure.owner == owner}


def label_at(path: tuple[str | int, ...]) -> Figure | None:
    """The figure that lives at a path, from the plan's document or from inside a part of it."""
    for figure in PLAN_WIDE:
        if path and figure.path[-len(path) :] == path:
            return figure
    return None


#: Parts of a document that are no figure, and what they are called.
PARTS: dict[str, str] = {
    "torque_curve": "torque curve",
    "ratios": "ratio of gear",
    "by_speed": "downforce over speed",
    "segments": "segment",
    "stations": "station",
    "elevation": "height",
    "edges": "edge",
    "boards": "board",
    "references": "reference",
    "sectors_at_m": "sector line",
    "lanes": "lane",
    "setups": "setup",
    "wings": "wing step",
    "gear_sets": "gear set",
    "compounds": "compound",
    "energy": "energy store",
    "flap": "flap",
    "kind": "kind of vehicle",
    "corners": "asked for at a corner",
    "corner_notes": "note on a corner",
    "note": "note",
    "name": "name",
}


def place_in_words(path: tuple[str | int, ...]) -> str:
    """What stands at a path of a document, as a person would call it."""
    known = label_at(path)
    if known is not None:
        return known.label
    words: list[str] = []
    for place, part in enumerate(path):
        last = place + 1 == len(path)
        if isinstance(part, int):
            words.append(f"{part + 1}")
        elif part in PARTS:
            words.append(PARTS[part])
        elif last and "segments" in path and part in OF_SEGMENTS:
            words.append(OF_SEGMENTS[part])
        elif (last or not words) and part not in OWNERS:
            words.append(_plain(part))
    if path[-1:] == ("name",) and len(path) == 2:
        words.insert(0, _plain(str(path[0])))
    text = " ".join(words) or _plain(str(path[-1]) if path else "plan")
    return text[:1].upper() + text[1:]


#: Figures of straights and corners by their fields.
OF_SEGMENTS = {figure.path[-1]: figure.label.lower() for figure in reversed(SEGMENT_FIGURES)}
#: Parts that only hold others.
OWNERS = {"car", "plan", "conditions", "circuit", "driver", "engine", "gearbox", "tyres", "aero"}
#: Units at the end of a field's name, as they follow a word.
UNITS = {
    "z_m": "(m)",
    "at_m": "place (m)",
    "_m": " (m)",
    "_ms": " (m/s)",
    "_s": " (s)",
    "_kg": " (kg)",
    "_pct": " (%)",
    "_deg": " (°)",
    "_n": " (N)",
    "_nm": " (Nm)",
    "_hpa": " (hPa)",
    "_c": " (°C)",
}


def _plain(field: str) -> str:
    """A field's name as words, its unit in brackets."""
    for ending in sorted(UNITS, key=len, reverse=True):
        if field.endswith(ending):
            return (field[: -len(ending)].replace("_", " ") + UNITS[ending]).strip()
    return field.replace("_", " ")


def _row(figure: Figure, kind: Kind) -> FigureRow:
    usual = figure.usual_for(kind)
    unstated = figure.unstated
    return FigureRow(
        name=figure.name,
        owner=figure.owner,
        field=figure.path[-1],
        label=figure.label,
        head=figure.head or figure.label,
        unit=figure.unit,
        quantity=figure.quantity,
        changes=figure.changes,
        decimals=figure.decimals,
        step=figure.step,
        fine=figure.fine,
        low=None if usual is None else usual[0],
        high=None if usual is None else usual[1],
        group=figure.group,
        strip=figure.strip,
        width_ch=figure.width_ch,
        unstated=None
        if unstated is None
        else UnstatedPart(says=unstated.says, usual=_within(unstated.usual, usual)),
        options=[OptionPart(value=value, name=name) for value, name in figure.options],
    )


def _within(value: float | None, usual: tuple[float, float] | None) -> float | None:
    """A value to begin with, no further out than is usual for the kind of vehicle."""
    if value is None or usual is None:
        return value
    return min(max(value, usual[0]), usual[1])
