"""What is known of a figure: where it lives, how it is said and stepped, and what it changes."""

from dataclasses import dataclass
from typing import Any, Literal

from neapfrost.core.measures import figure
from neapfrost.core.units import Kind as MeasureKind

#: The kinds of quantity that are said in a person's own units; everything else is said as it is.
#: A share shown in percent is one of them.
Quantity = Literal["none", "percent"] | MeasureKind
#: What a figure in a unit is, where its row says nothing else.
BY_UNIT: dict[str, Quantity] = {
    "m": "dimension",
    "kg": "mass",
    "kW": "power",
    "Nm": "torque",
    "N": "load",
    "bar": "pressure",
    "hPa": "air_pressure",
    "l": "volume",
}

#: Whose figure it is: one of the documents that are kept, or a part of one of them.
Owner = Literal[
    "car",
    "plan",
    "conditions",
    "setup",
    "wing",
    "gear_set",
    "compound",
    "circuit",
    "straight",
    "corner",
    "segment",
    "order",
    "uncertainty",
    "first_laps",
    "race",
    "energy",
    "flap",
]
Kind = Literal["car", "motorcycle"]


#: Units that say what a bare number is, and are not said after it.
BARE = {"", "μ", "times μ", "of 1", "to 1", "of load", "exponent"}


@dataclass(frozen=True)
class Unstated:
    """What holds where a figure is not stated, and what it is stated as when it is to be."""

    says: str
    usual: float | None


@dataclass(frozen=True)
class Figure:
    """One row: name, label, where it lives, unit, steps, what is usual, what it changes.

    `path` leads to it from the plan's document, or from the part that owns it. `usual` is a range
    by kind of vehicle; a kind that is not in it has no such figure. Steps and decimals are in the
    unit that is shown; `width_ch` is how wide it is set. `group` is its place on the full sheet, ""
    for none; `strip` says whether it stands in the strip. With `options`, each as it stands in the
    document and as it is called, it is a choice, and its number is the choice's place.
    """

    name: str
    owner: Owner
    path: tuple[str, ...]
    label: str
    unit: str
    changes: str
    decimals: int
    step: float
    fine: float
    quantity: Quantity = "none"
    usual: tuple[tuple[Kind, float, float], ...] = ()
    group: str = ""
    strip: bool = False
    width_ch: float = 4.4
    unstated: Unstated | None = None
    head: str = ""
    options: tuple[tuple[Any, str], ...] = ()

    def __post_init__(self) -> None:
        if self.quantity == "none":
            object.__setattr__(self, "quantity", BY_UNIT.get(self.unit, "none"))

    def number_of(self, value: Any) -> float | None:
        """What stands in the document as a number: a choice by its place among the options."""
        if not self.options or value is None:
            found: float | None = value
            return found
        return float([one for one, _ in self.options].index(value))

    def value_of(self, number: float | None) -> Any:
        """What is written into the document for a number; None for a choice that there is not."""
        if not self.options or number is None:
            return number
        place = int(number)
        return self.options[place][0] if 0 <= place < len(self.options) else None

    def option(self, number: float) -> str:
        """What a choice is called."""
        return self.options[int(number)][1]

    @property
    def said_unit(self) -> str:
        """The unit as it follows a number in a sentence: " kg", "°"; nothing for a bare ratio."""
        if self.unit in BARE:
            return ""
        return self.unit if self.unit == "°" else f" {self.unit}"

    def in_words(self, value: float | None, decimals: int | None = None, unit: bool = True) -> str:
        """A figure of a document as it stands in a sentence, to be read in a person's units.

        Without decimals as many as it has.
        """
        if value is None:
            return self.unstated.says if self.unstated is not None else "not set"
        if self.quantity in ("none", "percent"):
            value *= 100.0 if self.quantity == "percent" else 1.0
            number = f"{round(value, 4):g}" if decimals is None else f"{value:.{decimals}f}"
            return f"{number}{self.said_unit}" if unit else number
        return figure(value, self.quantity, decimals, unit)  # type: ignore[arg-type]  # a kind then

    def usual_for(self, kind: Kind) -> tuple[float, float] | None:
        """What is usual for a kind of vehicle; None where it has no such figure."""
        return next(((low, high) for one, low, high in self.usual if one == kind), None)

    def applies_to(self, kind: Kind) -> bool:
        """Whether a kind of vehicle has this figure."""
        return not self.usual or self.usual_for(kind) is not None


def both(
    car: tuple[float, float], motorcycle: tuple[float, float]
) -> tuple[tuple[Kind, float, float], ...]:
    """What is usual for a car and for a motorcycle."""
    return (("car", *car), ("motorcycle", *motorcycle))


def alike(low: float, high: float) -> tuple[tuple[Kind, float, float], ...]:
    """What is usual for either kind."""
    return both((low, high), (low, high))


def figure_at(
    owner: Owner,
    name: str,
    path: str,
    label: str,
    unit: str,
    steps: tuple[int, float, float],
    changes: str,
    **more: Any,
) -> Figure:
    """A row of the register: `path` with dots, `steps` as decimals, step and fine step."""
    where = tuple(path.split("."))
    return Figure(name, owner, where, label, unit, changes, *steps, **more)


def of_part(
    owner: Owner,
    field: str,
    label: str,
    unit: str,
    steps: tuple[int, float, float],
    changes: str,
    **more: Any,
) -> Figure:
    """A row of a part of a document, named by its owner and its field."""
    return figure_at(owner, f"{owner}.{field}", field, label, unit, steps, changes, **more)
