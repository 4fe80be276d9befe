"""Downforce and drag said otherwise than as an area."""

from pydantic import BaseModel

from neapfrost.core.car.starting_car import AIR_KGM3


class AreaQuestion(BaseModel):
    """Downforce or drag said otherwise: as a force at a speed, or a coefficient and an area."""

    force_n: float | None = None
    speed_ms: float | None = None
    coefficient: float | None = None
    frontal_area_m2: float | None = None


def area_m2(question: AreaQuestion) -> float | None:
    """ClA or CdA [m²]: C·A, or 2F/(ρv²) at 1.2 kg/m³; None where something is missing."""
    if question.coefficient is not None and question.frontal_area_m2:
        return question.coefficient * question.frontal_area_m2
    if question.force_n is not None and question.speed_ms:
        return 2.0 * question.force_n / (AIR_KGM3 * question.speed_ms**2)
    return None
