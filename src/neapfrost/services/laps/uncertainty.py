"""Uncertainty in a plan, as the core takes it, and the bands that come of it."""

from pydantic import BaseModel

from neapfrost.core.studies.bands import Uncertainty
from neapfrost.formats.plan import PlanDocument


class Band(BaseModel):
    """From the 10th to the 90th percentile."""

    low: float
    high: float


def uncertainty_of(plan: PlanDocument) -> Uncertainty:
    """The half-widths that a plan states, as shares and in SI."""
    wanted = plan.uncertainty
    return Uncertainty(
        grip=wanted.grip_pct / 100.0,
        downforce=wanted.downforce_pct / 100.0,
        power=wanted.power_pct / 100.0,
        wind_ms=wanted.wind_ms,
        radius=wanted.radius_pct / 100.0,
    )
