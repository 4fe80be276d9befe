"""Routes about a circuit that keep nothing: its closure, and radii from measurements."""

from typing import Annotated

from fastapi import APIRouter, Body
from pydantic import BaseModel

from neapfrost.core.errors import InputRefused
from neapfrost.core.path.plan_view import segment_length_m
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.plan_records import segment_record
from neapfrost.formats.plan_rules import circuit_faults
from neapfrost.services.circuits.closing import ClosureReport, closure_report
from neapfrost.services.circuits.profile import Profile, height_profile, metres_before
from neapfrost.services.circuits.radius_help import RadiusAnswer, RadiusQuestion, measured_radius
from neapfrost.services.circuits.segment_names import segment_name
from neapfrost.services.maps.road_map import RoadMap, road_map

router = APIRouter()


class SurveyReport(BaseModel):
    """What each segment is called and how long it is, and the closure of the ring if it is one.

    `…_before_m` is how far each mark stands before the corner it belongs to; beyond its beginning
    it is negative, and null without a corner.
    """

    names: list[str]
    lengths_m: list[float]
    closure: ClosureReport | None
    profile: Profile
    road: RoadMap | None
    boards_before_m: list[float | None]
    references_before_m: list[float | None]


@router.post("/api/survey")
def survey(circuit: CircuitDocument, adjust: bool = False) -> SurveyReport:
    """The segments as a survey; with `adjust`, what least squares would change to close it."""
    faults = circuit_faults(circuit)
    if faults:
        raise InputRefused(faults)
    segments = circuit.segments or []
    return SurveyReport(
        names=[segment_name(circuit, number) for number in range(len(segments))],
        lengths_m=[segment_length_m(segment_record(segment)) for segment in segments],
        closure=closure_report(circuit, adjust),
        profile=height_profile(circuit),
        road=road_map(circuit) if segments else None,
        boards_before_m=metres_before(circuit, circuit.boards),
        references_before_m=metres_before(circuit, circuit.references),
    )


@router.post("/api/radius")
def radius(question: Annotated[RadiusQuestion, Body()]) -> RadiusAnswer:
    """A radius from what was measured."""
    return measured_radius(question)
