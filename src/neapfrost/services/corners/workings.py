"""The working of a plan's figures, as documents."""

from pydantic import BaseModel

from neapfrost.core.working.figures import corner_workings, lap_working
from neapfrost.core.working.record import Working
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.corners.calls import known_corner
from neapfrost.services.laps.predict import recall


class GivenPart(BaseModel):
    """A value put into the arithmetic, and where it comes from."""

    symbol: str
    name: str
    value: float
    unit: str
    source: str


class StepPart(BaseModel):
    """One line of the arithmetic: the formula, the same with its values put in, the value."""

    symbol: str
    name: str
    formula: str
    put_in: str
    value: float
    unit: str


class WorkingPart(BaseModel):
    """How a figure came about; `result` is the symbol that is the figure."""

    figure: str
    title: str
    limit: str
    given: list[GivenPart]
    steps: list[StepPart]
    result: str
    source: str


def plan_workings(plan: PlanDocument, corner: int) -> list[WorkingPart]:
    """The working of every figure of a corner (0 is the first), then of the lap time.

    Raises InputRefused for a corner that the lap does not have, and as `recall` does.
    """
    prediction = recall(plan, None)
    known_corner(prediction, corner)
    driven = prediction.driven
    workings = (*corner_workings(driven, corner), lap_working(driven))
    return [_part(working) for working in workings]


def _part(working: Working) -> WorkingPart:
    values = {given.symbol: given.value for given in working.given}
    values |= {step.symbol: step.value for step in working.steps}
    return WorkingPart(
        figure=working.figure,
        title=working.title,
        limit=working.limit,
        given=[GivenPart(**vars(given)) for given in working.given],
        steps=[
            StepPart(**vars(step), put_in=put_in(step.formula, values)) for step in working.steps
        ],
        result=working.result,
        source=working.source,
    )


#: Words of a formula that are no symbols.
_WORDS = {"sin", "cos", "abs", "max", "min", "π"}


def put_in(formula: str, values: dict[str, float]) -> str:
    """A formula with every symbol replaced by its value, six digits at most."""
    said: list[str] = []
    at = 0
    while at < len(formula):
        end = at
        while end < len(formula) and (formula[end].isalnum() or formula[end] == "_"):
            # A raised 2 counts as a digit; it is a power here.
            if formula[end] in "²½":
                break
            end += 1
        word = formula[at:end]
        if word in values and word not in _WORDS:
            number = _digits(values[word])
            # A negative value wants brackets, unless it has some already.
            alone = at > 0 and formula[at - 1] == "(" and formula[end : end + 1] == ")"
            said.append(f"({number})" if number.startswith("−") and not alone else number)
            at = end
        elif word:
            said.append(word)
            at = end
        else:
            said.append(formula[at])
            at += 1
    return "".join(said)


def _digits(value: float) -> str:
    """Six digits; very small and very large ones times a power of ten, in brackets."""
    if value == 0.0:
        return "0"
    text = f"{value:.6g}"
    if "e" in text:
        mantissa, exponent = text.split("e")
        text = f"({mantissa}·10^({int(exponent)}))"
    return text.replace("-", "−")
