"""Where a plan's brakes should stand."""

from neapfrost.core.studies.brakes import BrakeStudy, brake_study
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.predict import recall


def plan_brake_study(plan: PlanDocument) -> BrakeStudy:
    """Study the brake distribution of a plan's car on its circuit, with the plan’s setup."""
    return brake_study(recall(plan, None).driven)
