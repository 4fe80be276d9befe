"""A file of points laid over one lap, smoothed, made into straights and corners, shown."""

import contextlib
import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.constants import LAP_LONGEST_M, LAP_SHORTEST_M
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measured.crossings import BRIDGE_M, Crossing, find_crossings
from neapfrost.core.measured.heights import Heights, HeightUnit, heights_of
from neapfrost.core.measured.segments import Fitted, fit_segments, fitted_again
from neapfrost.core.measured.smoothing import (
    STRONGEST_M,
    WEAKEST_M,
    SmoothLine,
    smooth_heights,
    smooth_line,
)
from neapfrost.core.measured.track import (
    Laps,
    Track,
    find_laps,
    refuse_bad_track,
    taken_together,
    without_repeats,
)
from neapfrost.core.measures import metres
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.path.plan_view import ramps_m
from neapfrost.formats.document import NAME_MOST, Name
from neapfrost.formats.faults import validated
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.formats.plan_rules import circuit_faults
from neapfrost.formats.tracks.points_csv import Columns, Role
from neapfrost.formats.tracks.read_file import read_points
from neapfrost.formats.tracks.read_track import ReadTrack, degrees, place_of, plain, refuse_size
from neapfrost.formats.tracks.segments_csv import looks_like_segments, read_segments_csv
from neapfrost.services.circuits.circuit_edit import Merge, Rename, Renumber, Split, edited_circuit
from neapfrost.services.circuits.closing import closed_segments
from neapfrost.services.maps.road_map import Way
from neapfrost.services.roads.road import segment_edges_m

DRAWN_MOST = 2500
USUAL_WIDTH_M = 12.0


class ImportOptions(BaseModel):
    """How a file of points is read and made into a circuit; null lets the application choose.

    `smoothing_m` is the length below which detail is smoothed away, `heights_smoothing_m` the same
    for heights; `heights_in` is their unit. `columns` gives the number of the column of each role,
    from 0.
    """

    model_config = ConfigDict(extra="forbid")

    smoothing_m: Annotated[float, Field(ge=WEAKEST_M, le=STRONGEST_M)] | None = None
    heights_smoothing_m: Annotated[float, Field(ge=10.0, le=1000.0)] = 120.0
    use_heights: bool = True
    heights_in: HeightUnit | None = None
    closed: bool | None = None
    width_m: Annotated[float, Field(gt=2.0, le=200.0)] | None = None
    segments_describe: Literal["road", "driven"] = "road"
    columns: dict[Role, int] | None = None


#: What may be done to corners while a file is looked at.
CornerEdit = Annotated[Rename | Split | Merge | Renumber, Field(discriminator="op")]


class FoundCorner(BaseModel):
    """A corner found in the points: name, turn, radius, angle, ramp, and its middle on the map.

    `segment` is its number among straights and corners.
    """

    segment: int
    name: str
    direction: Literal["left", "right"]
    radius_m: float
    angle_deg: float
    transition_m: float
    x_m: float
    y_m: float


class FoundColumns(BaseModel):
    """How a text file was understood; `sure` is False where somebody should look."""

    header: list[str]
    sample: list[list[str]]
    roles: dict[Role, int]
    separator: str
    decimal: str
    sure: bool


class ImportPreview(BaseModel):
    """What would be kept of a file. Nothing is kept before it is accepted."""

    id: str
    file_name: str
    name: str
    note: str
    columns: FoundColumns | None
    laps: int
    closed: bool
    gap_m: float
    length_m: float
    smoothing_m: float | None
    points_rms_m: float
    fit_rms_m: float
    sharpest_per_m: float
    points: Way
    smooth: Way
    fitted: Way
    curvature_at_m: list[float]
    curvature_per_m: list[float]
    has_heights: bool
    heights_in: HeightUnit
    heights_said: str
    has_widths: bool
    width_m: float
    climb_m: float | None
    corners: list[FoundCorner]
    crossings: list[str]
    circuit: dict[str, Any]


@dataclass(frozen=True, eq=False)
class Looked:
    """A file as it was understood: everything that its preview is made from.

    It has either points laid over one lap or a sheet of straights and corners. `edits` are what was
    done to the `found` straights and corners since, in order.
    """

    file_name: str
    options: ImportOptions
    fitted: Fitted
    closed: bool
    laid: "Laid | None" = None
    sheet: CircuitDocument | None = None
    edits: tuple[CornerEdit, ...] = ()
    found: int = 0
    edits_lost: int = 0


@dataclass(frozen=True, eq=False)
class Laid:
    """Points of a file laid over one lap, and the line smoothed through them."""

    read: ReadTrack
    columns: Columns | None
    track: Track
    laps: Laps
    line: SmoothLine
    at_m: Floats
    heights: tuple[Floats, Floats] | None
    known_heights: Heights | None


#: What is being done to a file, step by step.
STEPS = (
    "Reading the file",
    "Overlaying the laps",
    "Smoothing",
    "Fitting straights and corners",
    "Closing the circuit",
)
Tell = Callable[[int], None]


def look_at(file_name: str, data: bytes, options: ImportOptions, tell: Tell) -> Looked:
    """Understand a file. Raises InputRefused with what is wrong in it."""
    tell(0)
    refuse_size(data)
    data = plain(data)
    if looks_like_segments(data):
        return _sheet(file_name, data, options)
    columns = None
    if options.columns is not None:
        _, found = read_points(data, None)
        if found is not None:
            columns = replace(found, roles=dict(options.columns), sure=True)
    read, layout = read_points(data, columns)
    known = None
    if read.track.z_m is not None:
        known = heights_of(read.track.z_m, options.heights_in)
        read = replace(read, track=replace(read.track, z_m=known.z_m))
    tell(1)
    track, laps = _laid(read, options)
    tell(2)
    line, at = smooth_line(
        track.x_m, track.y_m, laps.at_m, laps.length_m, laps.closed, options.smoothing_m
    )
    tell(3)
    fitted = fit_segments(line, track.x_m, track.y_m)
    tell(4)
    heights = None
    if track.z_m is not None and options.use_heights:
        heights = smooth_heights(
            at, track.z_m, float(line.s_m[-1]), line.closed, options.heights_smoothing_m
        )
    return Looked(
        file_name,
        options,
        fitted,
        line.closed,
        Laid(read, layout, track, laps, line, at, heights, known),
    )


def look_and_show(
    import_id: str,
    file_name: str,
    data: bytes,
    options: ImportOptions,
    before: Looked | None,
    tell: Tell,
) -> tuple[Looked, ImportPreview]:
    """A file understood, and as the circuit it would become. Raises InputRefused.

    What was done to its corners when it was looked at `before` is done again where as many
    straights and corners are found; else the preview says that it was lost.
    """
    looked = look_at(file_name, data, options, tell)
    looked = replace(looked, found=len(looked.fitted.segments))
    if before is not None and before.edits:
        looked = _edited_again(looked, before)
    return looked, preview_of(import_id, looked)


def _edited_again(looked: Looked, before: Looked) -> Looked:
    if looked.found == before.found:
        with contextlib.suppress(InputRefused):
            edited = looked
            for edit in before.edits:
                edited = with_corner_edit(edited, edit)
            return edited
    return replace(looked, edits_lost=len(before.edits))


def edit_and_show(
    import_id: str, looked: Looked, edit: CornerEdit, tell: Tell
) -> tuple[Looked, ImportPreview]:
    """A file with its corners edited, and what it becomes. Raises InputRefused."""
    del tell  # it is one step
    edited = with_corner_edit(looked, edit)
    return edited, preview_of(import_id, edited)


def with_corner_edit(looked: Looked, edit: CornerEdit) -> Looked:
    """The file with its corners split, made one, renamed or renumbered, and fitted anew.

    Both parts of a split corner get the radius that fits the points best. Raises InputRefused.
    """
    circuit = looked.sheet or CircuitDocument.model_validate(
        {"name": "", "closed": looked.closed, "segments": _segment_values(looked.fitted)}
    )
    changed = CircuitDocument.model_validate(edited_circuit(circuit, edit).value)
    edited = circuit_record(changed).segments
    fitted = replace(looked.fitted, segments=edited)
    looked = replace(looked, edits=(*looked.edits, edit), edits_lost=0)
    if looked.laid is None:
        return replace(looked, fitted=fitted, sheet=changed)
    if edit.op in ("split", "merge"):
        laid = looked.laid
        fitted = fitted_again(edited, fitted, laid.line, laid.track.x_m, laid.track.y_m)
    return replace(looked, fitted=fitted)


def preview_of(import_id: str, looked: Looked) -> ImportPreview:
    """A file as the circuit it would become. Raises InputRefused where it would be none."""
    if looked.laid is None:
        assert looked.sheet is not None  # a file is one or the other
        return _of_segments(import_id, looked, looked.sheet)
    laid, options, fitted = looked.laid, looked.options, looked.fitted
    line, track = laid.line, laid.track
    left, right = track.left_m, track.right_m
    width = options.width_m
    if width is None and left is not None and right is not None:
        width = round(float(np.median(left + right)), 1)
    unsure = laid.columns is not None and not laid.columns.sure
    crossings = [] if unsure else find_crossings(line)
    heights = laid.heights
    circuit = _circuit(looked, laid, width or USUAL_WIDTH_M)
    return ImportPreview(
        id=import_id,
        file_name=looked.file_name,
        name=_name(looked),
        note=laid.read.note + _describe_lost(looked),
        columns=None if laid.columns is None else _columns(laid.columns),
        laps=laid.laps.count,
        closed=line.closed,
        gap_m=laid.laps.gap_m,
        length_m=float(segment_edges_m(circuit)[-1]),
        smoothing_m=line.strength_m,
        points_rms_m=line.rms_m,
        fit_rms_m=fitted.rms_m,
        sharpest_per_m=float(np.abs(line.curvature_per_m).max()),
        points=_way(track.x_m, track.y_m),
        smooth=_way(line.x_m, line.y_m),
        fitted=_way(*_over(fitted, line.closed)),
        curvature_at_m=_thin(line.s_m, 2),
        curvature_per_m=_thin(line.curvature_per_m, 6),
        has_heights=track.z_m is not None,
        heights_in="m" if laid.known_heights is None else laid.known_heights.unit,
        heights_said=_describe_heights(laid.known_heights, len(laid.read.track.x_m)),
        has_widths=left is not None,
        width_m=width or USUAL_WIDTH_M,
        climb_m=None if heights is None else float(heights[1].max() - heights[1].min()),
        corners=_found_corners(fitted),
        crossings=[_said(crossing, line, heights) for crossing in crossings],
        circuit=circuit.model_dump(mode="json"),
    )


def _describe_lost(looked: Looked) -> str:
    if looked.edits_lost == 0:
        return ""
    changes = "change" if looked.edits_lost == 1 else "changes"
    return (
        f"; {looked.edits_lost} {changes} to the corners were lost, because other corners were "
        "found: make them again"
    )


def _describe_heights(known: Heights | None, points: int) -> str:
    """What was done to the heights, where that was more than to read them."""
    if known is None:
        return ""
    said = "read as feet" if known.unit == "ft" else ""
    if known.holes == 0:
        return said
    missing = f"{known.holes} of {points} points have an impossible height"
    missing += (
        ", so heights are left out" if known.z_m is None else "; filled from their neighbours"
    )
    return f"{said}; {missing}" if said else missing


def _sheet(file_name: str, data: bytes, options: ImportOptions) -> Looked:
    """A sheet of straights and corners, which needs no fitting."""
    closed = options.closed is not False
    value: dict[str, Any] = {
        "name": _bare(file_name),
        "closed": closed,
        "segments": read_segments_csv(data),
        "start_speed_ms": None if closed else 0.0,
    }
    circuit = validated(CircuitDocument, value, "circuit")
    faults = circuit_faults(circuit)
    if faults:
        raise InputRefused(faults)
    fitted = Fitted(circuit_record(circuit).segments, 0.0, 0.0, 0.0, 0.0, 0.0)
    return Looked(file_name, options, fitted, closed, sheet=circuit)


def _of_segments(import_id: str, looked: Looked, sheet: CircuitDocument) -> ImportPreview:
    options, fitted, closed = looked.options, looked.fitted, looked.closed
    width_m = options.width_m or USUAL_WIDTH_M
    described = {"width_m": width_m, "segments_describe": options.segments_describe}
    circuit = sheet.model_copy(update=described)
    path = build_path(circuit_record(circuit), 2.0)
    bend = np.append(path.curvature_start, path.curvature_end[-1])
    return ImportPreview(
        id=import_id,
        file_name=looked.file_name,
        name=_name(looked),
        note=f"{len(fitted.segments)} straights and corners{_describe_lost(looked)}",
        columns=None,
        laps=1,
        closed=closed,
        gap_m=path.closing_gap_m if closed else 0.0,
        length_m=path.length_m,
        smoothing_m=None,
        points_rms_m=0.0,
        fit_rms_m=0.0,
        sharpest_per_m=float(np.abs(bend).max()),
        points=Way(x_m=[], y_m=[]),
        smooth=Way(x_m=[], y_m=[]),
        fitted=_way(*_over(fitted, closed)),
        curvature_at_m=_thin(path.s_m, 2),
        curvature_per_m=_thin(bend, 6),
        has_heights=False,
        heights_in="m",
        heights_said="",
        has_widths=False,
        width_m=circuit.width_m,
        climb_m=None,
        corners=_found_corners(fitted),
        crossings=[],
        circuit=circuit.model_dump(mode="json"),
    )


def _name(looked: Looked) -> str:
    """What the file calls the track, else the file's own name."""
    named = looked.laid.read.name if looked.laid is not None else ""
    return named or _bare(looked.file_name)


def _bare(file_name: str) -> str:
    return file_name.rsplit(".", 1)[0][:NAME_MOST] or "Imported"


def _laid(read: ReadTrack, options: ImportOptions) -> tuple[Track, Laps]:
    track, kept = without_repeats(read.track)
    names = [place_of(read, int(index)) for index in kept[:1]] if len(kept) < 10 else None
    if names is None and len(kept) < 200_000:
        names = [place_of(read, int(index)) for index in kept]
    refuse_bad_track(track, names)
    if track.left_m is not None and track.right_m is not None:
        track = _recentred(track, track.left_m, track.right_m)
    track = taken_together(track)
    laps = find_laps(track)
    if not LAP_SHORTEST_M <= laps.length_m <= LAP_LONGEST_M:
        raise InputRefused(
            [
                Fault(
                    "",
                    f"a lap of these points is {metres(laps.length_m)} long; between "
                    f"{metres(LAP_SHORTEST_M)} and {LAP_LONGEST_M / 1000:.0f} km is expected",
                )
            ]
        )
    if options.closed is True and not laps.closed:
        raise InputRefused(
            [
                Fault(
                    "closed",
                    f"the track ends {metres(laps.gap_m)} from where it began, so it is not a "
                    "closed loop; read it as a point-to-point course, or add the missing part",
                )
            ]
        )
    if options.closed is False and laps.closed and laps.count == 1:
        laps = Laps(laps.at_m, float(laps.at_m[-1]), 1, False, laps.gap_m)
    return track, laps


def _recentred(track: Track, left: Floats, right: Floats) -> Track:
    """The middle between both edges, where a line with unequal widths does not run along it."""
    heading = np.arctan2(np.gradient(track.y_m), np.gradient(track.x_m))
    off = 0.5 * (left - right)
    half = 0.5 * (left + right)
    return Track(
        track.x_m - off * np.sin(heading), track.y_m + off * np.cos(heading), track.z_m, half, half
    )


def _segment_values(fitted: Fitted) -> list[dict[str, Any]]:
    """Straights and corners as documents have them, to a millimetre."""
    values: list[dict[str, Any]] = []
    for segment in fitted.segments:
        if isinstance(segment, Straight):
            value: dict[str, Any] = {"kind": "straight", "length_m": round(segment.length_m, 3)}
        else:
            value = {
                "kind": "corner",
                "name": segment.name,
                "direction": "left" if segment.turn > 0 else "right",
                "radius_m": round(segment.radius_m, 3),
                "angle_deg": round(segment.angle_deg, 4),
                "transition_m": round(segment.transition_m, 3),
                "banking_deg": segment.banking_deg,
            }
            for name in ("end_radius_m", "end_transition_m"):
                figure = getattr(segment, name)
                value[name] = None if figure is None else round(figure, 3)
        values.append({**value, "grade_pct": segment.grade_pct, "grip_factor": segment.grip_factor})
    return values


def _circuit(looked: Looked, laid: Laid, width_m: float) -> CircuitDocument:
    """The circuit's document: straights and corners, closed to a millimetre where it is a ring."""
    fitted, options, line = looked.fitted, looked.options, laid.line
    track, read, heights = laid.track, laid.read, laid.heights
    value: dict[str, Any] = {
        "name": _name(looked),
        "closed": line.closed,
        "width_m": width_m,
        "north_deg": round((90.0 - math.degrees(fitted.heading_rad) + 180.0) % 360.0 - 180.0, 3),
        "segments_describe": options.segments_describe,
        "segments": _segment_values(fitted),
        "start_speed_ms": None if line.closed else 0.0,
    }
    if track.z_m is not None:
        value["altitude_m"] = round(float(np.clip(np.median(track.z_m), -500.0, 6000.0)), 1)
    if read.origin is not None:
        lat, lon = degrees(np.array([fitted.x_m]), np.array([fitted.y_m]), read.origin)
        value["start_lat_deg"], value["start_lon_deg"] = float(lat[0]), float(lon[0])
    document = validated(CircuitDocument, value, "circuit")
    faults = circuit_faults(document)
    if faults:
        raise InputRefused(faults)
    # The heights shorten the ring in plan by millimetres, and closing it moves them along.
    for _ in range(2 if heights is not None else 1):
        if heights is not None:
            value["elevation"] = _elevation(document, line, fitted, heights)
        document = validated(CircuitDocument, value, "circuit")
        if line.closed:
            # A ring that will not close stays as it is; the Circuit view says what is in the way.
            with contextlib.suppress(InputRefused):
                value["segments"] = closed_segments(document)
        document = CircuitDocument.model_validate(value)
    return CircuitDocument.model_validate(value)


def _elevation(
    circuit: CircuitDocument, line: SmoothLine, fitted: Fitted, heights: tuple[Floats, Floats]
) -> list[dict[str, float]]:
    """Heights at positions along the segments, which begin where the fit begins."""
    total = float(segment_edges_m(circuit)[-1])
    places, z = heights
    index = int(np.argmin(np.hypot(line.x_m - fitted.x_m, line.y_m - fitted.y_m)))
    begins = float(line.s_m[index])
    length = float(line.s_m[-1])
    at = np.mod(places - begins, length) if line.closed else np.maximum(places - begins, 0.0)
    at = at * total / length
    order = np.argsort(at)
    points: list[dict[str, float]] = []
    for k in order:
        if points and at[k] - points[-1]["at_m"] < 1.0:
            continue
        if at[k] < total - 0.5 or not line.closed:
            points.append(
                {"at_m": round(float(min(at[k], total)), 2), "z_m": round(float(z[k]), 2)}
            )
    return points


def _over(fitted: Fitted, closed: bool) -> tuple[Floats, Floats]:
    """The fitted segments laid over the points."""
    path = build_path(Circuit("", closed, fitted.segments), 2.0)
    cos, sin = math.cos(fitted.heading_rad), math.sin(fitted.heading_rad)
    return (
        fitted.x_m + cos * path.x_m - sin * path.y_m,
        fitted.y_m + sin * path.x_m + cos * path.y_m,
    )


def _found_corners(fitted: Fitted) -> list[FoundCorner]:
    path = build_path(Circuit("", False, fitted.segments), 2.0)
    cos, sin = math.cos(fitted.heading_rad), math.sin(fitted.heading_rad)
    bends = [(n, bend) for n, bend in enumerate(fitted.segments) if isinstance(bend, Bend)]
    corners = []
    for corner, (number, bend) in zip(path.corners, bends, strict=True):
        x = float(np.interp(corner.apex_at_m, path.s_m, path.x_m))
        y = float(np.interp(corner.apex_at_m, path.s_m, path.y_m))
        corners.append(
            FoundCorner(
                segment=number,
                name=bend.name,
                direction="left" if bend.turn > 0 else "right",
                radius_m=bend.radius_m,
                angle_deg=bend.angle_deg,
                transition_m=max(ramps_m(bend)),
                x_m=round(fitted.x_m + cos * x - sin * y, 2),
                y_m=round(fitted.y_m + sin * x + cos * y, 2),
            )
        )
    return corners


def _said(crossing: Crossing, line: SmoothLine, heights: tuple[Floats, Floats] | None) -> str:
    """A crossing as a question, or as the bridge that the heights say it is."""
    first, second = crossing.first_at_m, crossing.second_at_m
    places = f"the road crosses itself at {metres(first)} and {metres(second)}"
    if heights is not None:
        period = float(line.s_m[-1]) if line.closed else None
        z = np.interp([first, second], heights[0], heights[1], period=period)
        apart = abs(float(z[1] - z[0]))
        if apart >= BRIDGE_M:
            return f"{places}, {metres(apart, 1)} apart in height: a bridge"
    return f"{places}: is this a bridge, or an error in the track?"


def _columns(layout: Columns) -> FoundColumns:
    return FoundColumns(
        header=list(layout.header),
        sample=[list(row) for row in layout.sample],
        roles=dict(layout.roles),
        separator=layout.separator,
        decimal=layout.decimal,
        sure=layout.sure,
    )


def _way(x_m: Floats, y_m: Floats) -> Way:
    return Way(x_m=_thin(x_m, 2), y_m=_thin(y_m, 2))


def _thin(values: Floats, decimals: int) -> list[float]:
    pick = np.unique(np.linspace(0, len(values) - 1, min(len(values), DRAWN_MOST)).astype(np.int64))
    thinned: list[float] = np.round(values[pick], decimals).tolist()
    return thinned


class Accepted(BaseModel):
    """What to keep an import as, and whether its crossings are bridges."""

    model_config = ConfigDict(extra="forbid")

    name: Annotated[Name, Field(min_length=1)]
    crossings_are_bridges: bool = False


def accepted_circuit(preview: ImportPreview, accepted: Accepted) -> dict[str, Any]:
    """The circuit to keep. Raises InputRefused while a crossing is not answered for."""
    asked = [said for said in preview.crossings if said.endswith("?")]
    if asked and not accepted.crossings_are_bridges:
        raise InputRefused([Fault("crossings_are_bridges", said) for said in asked])
    return {**preview.circuit, "name": accepted.name}
