"""Whether a circuit's ring closes, and what least squares would change in its sheet."""

from typing import Any

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.survey.closure import (
    SIGMAS_MOST,
    Adjusted,
    Adjustment,
    close_ring,
    closure_gap,
    survey_figures,
)
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.services.circuits.segment_names import segment_name

UNCERTAINTIES = {
    "length_m": "length_uncertainty_pct",
    "radius_m": "radius_uncertainty_pct",
    "angle_deg": "angle_uncertainty_pct",
    "grade_pct": "grade_uncertainty_pct",
}
SUSPECTS_NAMED = 5


class GapReport(BaseModel):
    """How far the end of the ring lies from its start."""

    distance_m: float
    ahead_m: float
    left_m: float
    heading_deg: float
    height_m: float


class FigureChange(BaseModel):
    """A figure before and after, and by how many standard deviations it would move."""

    segment: int
    name: str
    figure: str
    before: float
    after: float
    sigmas: float


class ClosureReport(BaseModel):
    """The gap, and what closes it; `refused` says why not, or which figures look wrong."""

    gap: GapReport
    changes: list[FigureChange]
    refused: str | None


def closure_report(circuit: CircuitDocument, adjust: bool = True) -> ClosureReport | None:
    """The ring's gap and, with `adjust`, what would close it.

    None for an open course or a path of stations, which need not or cannot be closed.
    """
    if not circuit.closed or circuit.segments is None:
        return None
    gap = closure_gap(circuit_record(circuit))
    report = GapReport(
        distance_m=gap.distance_m,
        ahead_m=gap.ahead_m,
        left_m=gap.left_m,
        heading_deg=gap.heading_deg,
        height_m=gap.height_m,
    )
    if not adjust:
        return ClosureReport(gap=report, changes=[], refused=None)
    try:
        adjustment = _adjust(circuit)
    except InputRefused as error:
        return ClosureReport(gap=report, changes=[], refused=error.faults[0].message)
    return ClosureReport(
        gap=report,
        changes=[_change(circuit, one) for one in adjustment.changes],
        refused=_suspicion(circuit, adjustment),
    )


def closed_segments(circuit: CircuitDocument) -> list[dict[str, Any]]:
    """The circuit's segments with which the ring closes, as JSON values.

    Raises InputRefused when none do, or a figure would have to move too far.
    """
    adjustment = _adjust(circuit)
    refused = _suspicion(circuit, adjustment)
    if refused:
        raise InputRefused([Fault("circuit.segments", refused)])
    segments: list[dict[str, Any]] = circuit.model_dump(mode="json")["segments"]
    for number, segment in enumerate(adjustment.circuit.segments):
        for name in ("length_m", "radius_m", "end_radius_m", "angle_deg", "grade_pct"):
            if name in segments[number]:
                segments[number][name] = getattr(segment, name)
    return segments


def _adjust(circuit: CircuitDocument) -> Adjustment:
    record = circuit_record(circuit)
    stated = {}
    for number, segment in enumerate(circuit.segments or []):
        for figure, field in UNCERTAINTIES.items():
            given = getattr(segment, field, None)
            if given is not None:
                stated[number, figure] = given if figure == "grade_pct" else given / 100.0
    return close_ring(record, survey_figures(record, stated))


def _change(circuit: CircuitDocument, one: Adjusted) -> FigureChange:
    return FigureChange(
        segment=one.figure.segment,
        name=segment_name(circuit, one.figure.segment),
        figure=one.figure.name,
        before=one.figure.value,
        after=one.after,
        sigmas=one.sigmas,
    )


def _suspicion(circuit: CircuitDocument, adjustment: Adjustment) -> str | None:
    """Which figures look wrong, where one would have to move by more than three deviations."""
    if not adjustment.suspects:
        return None
    worst = sorted(adjustment.suspects, key=lambda one: -abs(one.sigmas))[:SUSPECTS_NAMED]
    named = ", ".join(
        f"the {_said(one.figure.name)} of {segment_name(circuit, one.figure.segment)} "
        f"({abs(one.sigmas):.1f} deviations)"
        for one in worst
    )
    return (
        f"closing this circuit takes more than {SIGMAS_MOST:g} standard deviations; these look "
        "wrong: "
        f"{named}"
    )


def _said(figure: str) -> str:
    return figure.rsplit("_", 1)[0]
