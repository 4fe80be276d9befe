"""Radius helpers: a corner's radius from whichever measurement there is."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.measures import metres, speed
from neapfrost.core.survey.radius import (
    MeasuredRadius,
    radius_from_arc,
    radius_from_chord,
    radius_from_lateral_g,
    radius_from_points,
)
from neapfrost.core.units import KMH_PER_MS

Metres = Annotated[float, Field(ge=-1e6, le=1e6)]


class _Measured(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class ByChord(_Measured):
    """Chord of an arc and its height over the chord's middle [m]."""

    method: Literal["chord"]
    chord_m: Metres
    height_m: Metres


class ByLateralG(_Measured):
    """Speed [m/s], lateral acceleration [g] as the car feels it, bank [degrees]."""

    method: Literal["lateral_g"]
    speed_ms: Annotated[float, Field(ge=0, le=200)]
    lateral_g: Annotated[float, Field(ge=-10, le=10)]
    bank_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0


class ByPoints(_Measured):
    """Three points along the corner on a map, x and y [m]."""

    method: Literal["points"]
    points_m: list[tuple[Metres, Metres]]


class ByArc(_Measured):
    """Length of the arc [m] and the angle it turns through [degrees]."""

    method: Literal["arc"]
    length_m: Metres
    angle_deg: Annotated[float, Field(ge=-720, le=720)]


RadiusQuestion = Annotated[ByChord | ByLateralG | ByPoints | ByArc, Field(discriminator="method")]


class RadiusAnswer(BaseModel):
    """A radius, the formula, and what one unit more of each measurement makes of it."""

    radius_m: float
    formula: str
    sensitivities: list[str]


def measured_radius(question: RadiusQuestion) -> RadiusAnswer:
    """Answer a question for a radius. Raises InputRefused as the core's helpers do."""
    found = _measure(question)
    return RadiusAnswer(
        radius_m=found.radius_m,
        formula=found.formula,
        sensitivities=[
            f"{_one(one.unit)} more of {one.measurement} is "
            f"{_metres(one.radius_m_per_unit)} of radius"
            for one in found.sensitivities
        ],
    )


def _measure(question: RadiusQuestion) -> MeasuredRadius:
    match question:
        case ByChord():
            return radius_from_chord(question.chord_m, question.height_m)
        case ByLateralG():
            return radius_from_lateral_g(question.speed_ms, question.lateral_g, question.bank_deg)
        case ByPoints():
            return radius_from_points(tuple(question.points_m))
        case ByArc():
            return radius_from_arc(question.length_m, question.angle_deg)


def _one(unit: str) -> str:
    """One of a unit, in words: "1 km/h", "1 °", "0.1 g"."""
    if unit == "km/h":
        return speed(1.0 / KMH_PER_MS, None)
    if unit == "m":
        return metres(1.0, None)
    return f"1 {unit}" if unit[0].isalpha() or unit == "°" else unit


def _metres(value: float) -> str:
    return f"{'+' if value >= 0.0 else '−'}{metres(abs(value), 2)}"
