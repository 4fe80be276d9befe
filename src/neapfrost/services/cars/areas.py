"""Downforce and drag stated as forces or coefficients."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.car.starting_car import AIR_KGM3
from neapfrost.core.constants import STANDARD_GRAVITY_MS2


class AreaQuestion(BaseModel):
    """Downforce or drag as a force [kgf] at a speed, or as a coefficient and an area."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    force_kg: Annotated[float, Field(ge=-1e5, le=1e5)] | None = None
    speed_ms: Annotated[float, Field(ge=1, le=200)] | None = None
    coefficient: Annotated[float, Field(ge=-50, le=50)] | None = None
    frontal_area_m2: Annotated[float, Field(gt=0.01, le=50)] | None = None


def area_m2(question: AreaQuestion) -> float | None:
    """ClA or CdA [m²]: C·A, or 2F/(ρv²) at 1.2 kg/m³; None where something is missing."""
    if question.coefficient is not None and question.frontal_area_m2:
        return question.coefficient * question.frontal_area_m2
    if question.force_kg is not None and question.speed_ms:
        force_n = STANDARD_GRAVITY_MS2 * question.force_kg
        return 2.0 * force_n / (AIR_KGM3 * question.speed_ms**2)
    return None
