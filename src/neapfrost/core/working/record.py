"""What a working is made of, and how its formulas are read."""

import math
from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True)
class Given:
    """A value put into the arithmetic: where it comes from is said in a word or two."""

    symbol: str
    name: str
    value: float
    unit: str
    source: str


@dataclass(frozen=True)
class Step:
    """One line: `symbol = formula`, with the value that the solver itself came to."""

    symbol: str
    name: str
    formula: str
    value: float
    unit: str


@dataclass(frozen=True)
class Working:
    """How a figure came about.

    `figure` is the result's own field; `limit` says what was active; `result` is the symbol whose
    value is the figure, and `source` the law.
    """

    figure: str
    title: str
    limit: str
    given: tuple[Given, ...]
    steps: tuple[Step, ...]
    result: str
    source: str


_READ = {
    "·": "*",
    "−": "-",
    "²": "**2",
    "^": "**",
    "½": "0.5",
    "√": "sqrt",
    "π": "pi",
}
_FUNCTIONS = {
    "sqrt": math.sqrt,
    "sin": math.sin,
    "cos": math.cos,
    "abs": abs,
    "max": max,
    "min": min,
    "pi": math.pi,
}


def evaluate(formula: str, values: Mapping[str, float]) -> float:
    """The value of a formula as it is shown, with these values put in.

    For the checks alone: formulas are written in this package and nowhere else.
    """
    text = formula
    for shown, read in _READ.items():
        text = text.replace(shown, read)
    names: dict[str, object] = {**_FUNCTIONS, **values}
    return float(eval(text, {"__builtins__": {}}, names))


def values_of(working: Working) -> dict[str, float]:
    """Every symbol of a working with its value."""
    return {
        **{given.symbol: given.value for given in working.given},
        **{step.symbol: step.value for step in working.steps},
    }
