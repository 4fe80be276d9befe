"""The Brief: one line for each corner, what a driver takes along; as data and as text."""

from typing import Literal

import numpy as np
from pydantic import BaseModel

from neapfrost.core.path.ring import Ring
from neapfrost.core.studies.bands import LOW_PCT
from neapfrost.core.studies.first_laps import Confidence
from neapfrost.core.units import Units
from neapfrost.formats.brief_svg import MapMark, SheetCell, brief_svg
from neapfrost.formats.circuit_facts import note_of
from neapfrost.formats.escaping import markdown_table, markdown_text, sheet_text
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import CornerResultPart, ResultDocument, Revisions
from neapfrost.services.corners.bands import CornerBand, PlanBands, plan_bands
from neapfrost.services.corners.first_laps import FirstLaps, first_laps
from neapfrost.services.laps.orders import ASKED
from neapfrost.services.laps.predict import TRACE_POINTS, recall
from neapfrost.services.laps.uncertainty import Band
from neapfrost.services.plans.parts import present_revisions
from neapfrost.services.plans.workbench import plan_at
from neapfrost.services.roads.wishes import number_of
from neapfrost.services.words.cautions import CAUTIONS, describe_hazards
from neapfrost.services.words.corners import corner_words, sentence_for, throttle_after_m
from neapfrost.services.words.lap import lap_time
from neapfrost.services.words.notes import describe_boards, describe_note
from neapfrost.services.words.saying import Saying
from neapfrost.store.database import Store, reading

BriefFormat = Literal["md", "csv", "json", "svg"]
BRIEF_MEDIA: dict[str, str] = {
    "md": "text/markdown; charset=utf-8",
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
    "svg": "image/svg+xml",
}


class BriefStep(BaseModel):
    """A corner on one of the first laps, said."""

    lap: int
    braking: str
    earlier_m: float | None
    min_speed_ms: float


class BriefCorner(BaseModel):
    """A corner's line: what to look for, where to brake, how hard, which gear, how fast, power."""

    number: int
    name: str
    direction: str
    sentence: str
    approach: str
    reference: str
    action: str
    braking: str
    braking_distance_m: float | None
    peak_decel_g: float | None
    gears: str
    downshifts: list[str]
    turn_in_ms: float
    min_speed_ms: float
    min_speed_band: Band | None
    brake_band_m: Band | None
    gear_in_doubt: str
    throttle_after_m: float | None
    exit_speed_ms: float
    look_at: str
    kerb: str
    limit: str
    hazards: list[str]
    asked: list[str]
    first_laps: list[BriefStep]
    slowest_x_m: float
    slowest_y_m: float


class Brief(BaseModel):
    """One sheet; `band` says what was uncertain, in words."""

    plan: str
    car: str
    setup: str | None
    circuit: str
    conditions: str
    revisions: Revisions
    solver_version: str
    units: Units
    said_conditions: str
    lap_time_s: float
    lap_band: Band | None
    sector_times_s: list[float]
    band: str
    confidence: Confidence
    corners: list[BriefCorner]
    warnings: list[str]
    cautions: list[str]
    map_x_m: list[float]
    map_y_m: list[float]


def brief(
    store: Store, plan_id: int, units: Units, confidence: Confidence, with_bands: bool
) -> Brief:
    """The brief of a kept plan as it stands. Raises NotThere and as `recall` does."""
    with reading(store) as session:
        revisions = present_revisions(session, plan_id)
    plan = plan_at(store, plan_id, revisions)
    bands = plan_bands(plan) if with_bands else None
    return brief_of(plan, revisions, units, first_laps(plan, confidence, units), bands)


def brief_of(
    plan: PlanDocument,
    revisions: Revisions,
    units: Units,
    steps: FirstLaps,
    bands: PlanBands | None,
) -> Brief:
    """The brief of a plan at some revisions, with its first laps, and its bands where wanted."""
    prediction = recall(plan, TRACE_POINTS)
    result, say = prediction.result, Saying(units)
    wanted = plan.uncertainty
    air = plan.conditions
    said = (
        f"Fuel {say.figure(plan.car.fuel_kg, 'mass', 1)}, air {say.temperature(air.air_temp_c)}, "
        f"track {say.temperature(air.track_temp_c)}, "
        f"wind {say.wind(air.wind_speed_ms)} from {air.wind_from_deg:.0f}°, "
        f"wetness {air.wetness_pct:g} %, grip {plan.car.tyres.mu_lateral:g}"
    )
    spread = (
        f"10 to 90 % of {bands.laps} laps with grip ±{wanted.grip_pct:g} %, downforce "
        f"±{wanted.downforce_pct:g} %, power ±{wanted.power_pct:g} %, wind "
        f"±{say.wind(wanted.wind_ms)}, each driven radius ±{wanted.radius_pct:g} %"
        if bands is not None
        else ""
    )
    return Brief(
        plan=plan.name,
        car=plan.car.name,
        setup=plan.setup,
        circuit=plan.circuit.name,
        conditions=air.name,
        revisions=revisions,
        solver_version=result.solver_version,
        units=units,
        said_conditions=said,
        lap_time_s=result.lap_time_s,
        lap_band=None if bands is None else bands.lap_time_s,
        sector_times_s=result.sector_times_s,
        band=spread,
        confidence=steps.confidence,
        corners=[
            _corner(plan, result, number, say, steps, bands)
            for number in range(len(result.corners))
        ],
        warnings=[
            *describe_boards(plan.circuit, say),
            *(describe_note(note, say) for note in prediction.notes),
        ],
        cautions=list(CAUTIONS),
        map_x_m=result.trace.x_m,
        map_y_m=result.trace.y_m,
    )


def _corner(
    plan: PlanDocument,
    result: ResultDocument,
    number: int,
    say: Saying,
    steps: FirstLaps,
    bands: PlanBands | None,
) -> BriefCorner:
    corner = result.corners[number]
    ring = Ring(result.length_m, plan.circuit.closed)
    note = note_of(plan.circuit, corner.name)
    band = None if bands is None else bands.corners[number]
    words = corner_words(corner, say)
    call = corner.board_call
    held = corner.gear >= corner.gear_before
    return BriefCorner(
        number=number + 1,
        name=corner.name,
        direction=corner.direction,
        sentence=sentence_for(corner, say, ring),
        approach=f"from the {'left' if corner.direction == 'right' else 'right'}",
        reference=call.label if call is not None else "",
        action=corner.action,
        braking=words.place or words.action,
        braking_distance_m=corner.braking_distance_m,
        peak_decel_g=corner.peak_decel_g,
        gears=f"{corner.gear}" if held else f"{corner.gear_before} to {corner.gear}",
        downshifts=[_shift(shift.to_gear, shift.at_m, corner, say) for shift in corner.downshifts],
        turn_in_ms=corner.turn_in_speed_ms,
        min_speed_ms=corner.min_speed_ms,
        min_speed_band=None if band is None else band.min_speed_ms,
        brake_band_m=None if band is None else band.brake_start_to_corner_m,
        gear_in_doubt=_doubt(band, corner.gear),
        throttle_after_m=throttle_after_m(corner, ring),
        exit_speed_ms=corner.exit_speed_ms,
        look_at=note.look_at,
        kerb=note.kerb,
        limit=note.limit,
        hazards=describe_hazards(note),
        asked=_asked(plan, result, number, say),
        first_laps=[
            BriefStep(
                lap=lap.number,
                braking=lap.corners[number].said,
                earlier_m=lap.corners[number].earlier_m,
                min_speed_ms=lap.corners[number].min_speed_ms,
            )
            for lap in steps.laps[:-1]
        ],
        slowest_x_m=float(np.interp(corner.min_speed_at_m, result.trace.s_m, result.trace.x_m)),
        slowest_y_m=float(np.interp(corner.min_speed_at_m, result.trace.s_m, result.trace.y_m)),
    )


def _shift(gear: int, at_m: float, corner: CornerResultPart, say: Saying) -> str:
    start = corner.brake_start_at_m if corner.brake_start_at_m is not None else corner.lift_at_m
    if start is None or at_m < start:
        return f"{gear}"
    return f"{gear} after {say.length(at_m - start)}"


def _doubt(band: CornerBand | None, planned: int) -> str:
    """Which other gears may be the better ones, in words; nothing where the gear is sure."""
    if band is None or not band.gear_in_doubt:
        return ""
    shares = sorted(band.gears, key=lambda one: -one.share_pct)
    parts = [
        f"{one.gear} in {one.share_pct:.0f} %"
        for one in shares
        if one.gear != planned and one.share_pct >= LOW_PCT
    ]
    return ", ".join(parts)


def _asked(plan: PlanDocument, result: ResultDocument, number: int, say: Saying) -> list[str]:
    names = [corner.name for corner in result.corners]
    said = []
    for order in plan.corners:
        if number_of(order.corner, order.name, names) != number:
            continue
        for field, label in ASKED.items():
            value = getattr(order, field)
            if value is None:
                continue
            if field == "driven_radius_m":
                said.append(f"{label} {say.length(value)}")
            elif field in ("braking", "grip_factor"):
                said.append(f"{label} {100.0 * value:.0f} %")
            else:
                said.append(f"{label} {value:g}")
    return said


def brief_text(sheet: Brief, form: BriefFormat) -> str:
    """A brief as Markdown, CSV, JSON or SVG."""
    if form == "json":
        return sheet.model_dump_json(indent=2)
    if form == "csv":
        return _csv(sheet)
    if form == "svg":
        return _svg(sheet)
    return _markdown(sheet)


def _revisions(sheet: Brief) -> str:
    at = sheet.revisions
    return (
        f"Car {sheet.car} revision {at.car}, circuit {sheet.circuit} revision {at.circuit}, "
        f"conditions {sheet.conditions} revision {at.conditions}, plan revision {at.plan}"
    )


def _rows(sheet: Brief) -> tuple[list[str], list[list[str]]]:
    """Heading and one row of words for each corner."""
    say = Saying(sheet.units)
    laps = [f"lap {step.lap}" for step in sheet.corners[0].first_laps] if sheet.corners else []
    heading = [
        "",
        "Corner",
        "Turn",
        "Braking point",
        f"Distance, {say.length_unit}",
        "Peak, g",
        "Gear",
        f"Turn-in, {say.speed_unit}",
        f"Minimum, {say.speed_unit}",
        f"Throttle, {say.length_unit} after",
        f"Exit, {say.speed_unit}",
        "Notes",
        *(f"First laps: {lap}" for lap in laps),
    ]
    rows = []
    for corner in sheet.corners:
        band = corner.min_speed_band
        slow = say.number(corner.min_speed_ms)
        if band is not None:
            slow += f" ({say.number(band.low)} to {say.number(band.high)})"
        spread = corner.brake_band_m
        place = corner.braking
        if spread is not None and spread.high - spread.low >= 1.0:
            place += f" (±{say.metres(0.5 * (spread.high - spread.low))})"
        rows.append(
            [
                f"{corner.number}",
                corner.name,
                corner.direction,
                place,
                "" if corner.braking_distance_m is None else say.metres(corner.braking_distance_m),
                "" if corner.peak_decel_g is None else f"{corner.peak_decel_g:.1f}",
                corner.gears + (f" (or {corner.gear_in_doubt})" if corner.gear_in_doubt else ""),
                say.number(corner.turn_in_ms),
                slow,
                "" if corner.throttle_after_m is None else say.metres(corner.throttle_after_m),
                say.number(corner.exit_speed_ms),
                describe_notes(corner),
                *(f"{step.braking}, {say.number(step.min_speed_ms)}" for step in corner.first_laps),
            ]
        )
    return heading, rows


def describe_notes(corner: BriefCorner) -> str:
    """A corner's notes on one line."""
    parts = [
        f"look at {corner.look_at}" if corner.look_at else "",
        f"kerb: {corner.kerb}" if corner.kerb else "",
        f"limit: {corner.limit}" if corner.limit else "",
        ", ".join(corner.hazards),
        f"asked: {', '.join(corner.asked)}" if corner.asked else "",
    ]
    return "; ".join(part for part in parts if part)


def _csv(sheet: Brief) -> str:
    heading, rows = _rows(sheet)
    return sheet_text([["number", *heading[1:]], *rows])


def _markdown(sheet: Brief) -> str:
    heading, rows = _rows(sheet)

    band = sheet.lap_band
    lap = lap_time(sheet.lap_time_s)
    if band is not None:
        lap += f" ({lap_time(band.low)} to {lap_time(band.high)})"
    sectors = ", ".join(f"S{n} {t:.3f}" for n, t in enumerate(sheet.sector_times_s, start=1))
    parts = [
        "# " + markdown_text(f"{sheet.circuit}: {sheet.car}"),
        "",
        markdown_text(
            f"{sheet.plan}. {_revisions(sheet)}."
            + (f" Setup {sheet.setup}." if sheet.setup else "")
        ),
        "",
        markdown_text(f"{sheet.said_conditions}."),
        "",
        f"**{lap}**" + (f"  {sectors}" if sectors else ""),
        "",
    ]
    if sheet.band:
        parts += [f"Bands: {sheet.band}.", ""]
    parts += [*markdown_table(heading, rows), ""]
    parts += [
        f"{c.number}. **{markdown_text(c.name)}**: {markdown_text(c.sentence)}"
        for c in sheet.corners
    ]
    parts += [""]
    if sheet.warnings:
        parts += [*(f"- {markdown_text(warning)}" for warning in sheet.warnings), ""]
    for caution in sheet.cautions:
        parts += [f"> {caution}", ""]
    parts.append(f"Neapfrost {sheet.solver_version}")
    return "\n".join(parts) + "\n"


def _svg(sheet: Brief) -> str:
    heading, rows = _rows(sheet)
    shown: tuple[int, ...] = (0, 1, 3, 4, 6, 8, 9, 10)
    if sheet.corners and sheet.corners[0].first_laps:
        shown = (*shown, 12)
    table = [[SheetCell(row[n], n == 3) for n in shown] for row in rows]
    band = sheet.lap_band
    under = "" if band is None else f"{lap_time(band.low)} to {lap_time(band.high)}"
    return brief_svg(
        title=f"{sheet.circuit}: {sheet.car}",
        lines=[sheet.plan, f"{_revisions(sheet)}.", f"{sheet.said_conditions}."],
        lap=lap_time(sheet.lap_time_s),
        under_lap=under,
        map_m=(sheet.map_x_m, sheet.map_y_m),
        marks=[MapMark(c.number, c.slowest_x_m, c.slowest_y_m) for c in sheet.corners],
        heading=[heading[n] for n in shown],
        rows=table,
        cautions=sheet.cautions,
    )
