"""Files of points on their way in, kept with boards and a plan, and roads on their way out."""

import json
from functools import cache
from pathlib import Path

import numpy as np
import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import CircuitDocument, PlanDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.services.circuits.closing import closure_report
from neapfrost.services.imports.jobs import Imports
from neapfrost.services.imports.keeping import keep_import
from neapfrost.services.imports.preview import (
    STEPS,
    Accepted,
    CornerEdit,
    ImportOptions,
    ImportPreview,
    look_at,
    preview_of,
)
from neapfrost.services.maps.exports import ExportFormat, exported
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.workbench import open_plan
from neapfrost.services.readers import Watch
from neapfrost.store.database import Store

CASES = Path(__file__).parents[1] / "cases"


def demo(plan_id: str) -> PlanDocument:
    plan = demo_plan(plan_id)
    assert plan is not None
    return plan.document


@cache
def written(plan_id: str, format_: ExportFormat) -> bytes:
    return exported(demo(plan_id), format_).encode()


def looked(data: bytes, name: str = "file.gpx", **options: object) -> ImportPreview:
    return preview_of(
        "one", look_at(name, data, ImportOptions.model_validate(options), lambda step: None)
    )


def edit(**given: object) -> CornerEdit:
    return TypeAdapter[CornerEdit](CornerEdit).validate_python(given)


@pytest.mark.parametrize("format_", ["geojson", "gpx", "points.csv"])
def test_a_road_read_back_is_the_same_road(format_: ExportFormat) -> None:
    plan = demo("garganey-samphire")
    preview = looked(written("garganey-samphire", format_), f"road.{format_}")
    assert preview.fit_rms_m < 0.02
    assert preview.closed
    assert preview.crossings == []
    true = [s for s in plan.circuit.segments or [] if s.kind == "corner"]
    for found, wanted in zip(preview.corners, true, strict=True):
        assert found.direction == wanted.direction
        assert found.radius_m == pytest.approx(wanted.radius_m, rel=0.01)
        assert found.angle_deg == pytest.approx(wanted.angle_deg, abs=0.3)
    assert preview.circuit["north_deg"] == pytest.approx(plan.circuit.north_deg, abs=0.2)
    if format_ != "gpx":
        assert preview.has_widths
        assert preview.width_m == pytest.approx(11.0, abs=0.05)


def test_segments_read_back_are_the_same_segments() -> None:
    plan = demo("garganey-samphire")
    preview = looked(written("garganey-samphire", "segments.csv"), "sheet.csv")
    circuit = CircuitDocument.model_validate(preview.circuit)
    for found, wanted in zip(circuit.segments or [], plan.circuit.segments or [], strict=True):
        note = {"note"} if wanted.kind == "corner" else set()
        assert found.model_dump(exclude=note) == wanted.model_dump(exclude=note)
    assert preview.smoothing_m is None


def test_geojson_names_everything_beside_the_road() -> None:
    document = json.loads(written("garganey-samphire", "geojson"))
    roles = [feature["properties"]["role"] for feature in document["features"]]
    for role in ("centreline", "left edge", "right edge", "driven line", "corner", "board"):
        assert role in roles
    assert roles.count("corner") == 9
    assert roles.count("braking") >= 5
    assert roles.count("kerb") == 6
    driven = next(f for f in document["features"] if f["properties"]["role"] == "driven line")
    assert driven["properties"]["line"] == "fastest"


def test_a_road_without_a_place_on_earth_lies_at_latitude_nought() -> None:
    document = json.loads(written("garganey-samphire", "geojson"))
    longitude, latitude, _ = document["features"][0]["geometry"]["coordinates"][0]
    assert (longitude, latitude) == pytest.approx((0.0, 0.0), abs=1e-9)


def test_a_driven_path_is_written_as_well() -> None:
    document = json.loads(exported(demo("dunlin-heath"), "geojson"))
    driven = next(f for f in document["features"] if f["properties"]["role"] == "driven line")
    assert driven["properties"]["line"] == "segments"
    assert "<svg" in exported(demo("dunlin-heath"), "svg")


def test_what_is_kept_closes_has_boards_and_is_driven(store: Store) -> None:
    preview = looked(written("garganey-samphire", "gpx"))
    kept = keep_import(store, preview, Accepted(name="Mere Ring"), kept_plan(store, 1))
    opened = open_plan(store, kept.plan_id)
    assert opened.name == "Kittiwake K4 at Mere Ring"
    assert opened.trouble is None
    circuit = opened.plan.circuit
    assert circuit.segments_describe == "road"
    report = closure_report(circuit)
    assert report is not None
    assert report.gap is not None
    assert report.gap.distance_m < 0.01
    assert {board.label for board in circuit.boards} == {"50", "100", "150"}
    assert circuit.elevation
    assert opened.result is not None
    assert opened.result.line is not None
    assert opened.result.line.wanted == "fastest"


def eight(height_m: float | None) -> bytes:
    t = np.linspace(0.0, 2.0 * np.pi, 700)[:-1]
    x, y = 260.0 * np.sin(t), 150.0 * np.sin(2.0 * t)
    lines = ["x,y" if height_m is None else "x,y,z"]
    for i in range(len(t)):
        z = "" if height_m is None else f",{height_m * np.cos(t[i]):.2f}"
        lines.append(f"{x[i]:.3f},{y[i]:.3f}{z}")
    return "\n".join(lines).encode()


def test_a_crossing_is_asked_about_before_anything_is_kept(store: Store) -> None:
    preview = looked(eight(None), "eight.csv")
    assert len(preview.crossings) == 1
    assert preview.crossings[0].endswith("is this a bridge, or an error in the track?")
    with pytest.raises(InputRefused, match="crosses itself"):
        keep_import(store, preview, Accepted(name="Eight"), kept_plan(store, 1))
    kept = keep_import(
        store,
        preview,
        Accepted(name="Eight", crossings_are_bridges=True),
        kept_plan(store, 1),
    )
    assert open_plan(store, kept.plan_id).circuit.name == "Eight"


def test_heights_tell_a_bridge() -> None:
    preview = looked(eight(4.0), "eight.csv")
    assert preview.crossings[0].endswith("a bridge")


def test_a_track_that_makes_no_loop_is_said_to() -> None:
    lines = ["x,y", *(f"{10 * i},{0.02 * i * i}" for i in range(80))]
    data = "\n".join(lines).encode()
    assert not looked(data, "hill.csv").closed
    with pytest.raises(InputRefused, match="so it is not a closed loop"):
        looked(data, "hill.csv", closed=True)


def test_a_jump_is_named_by_its_line() -> None:
    lines = ["x,y", *(f"{10 * i},0" for i in range(30)), *(f"{3000 + 10 * i},0" for i in range(30))]
    with pytest.raises(InputRefused, match="line 32: the track jumps by 2710 m"):
        looked("\n".join(lines).encode(), "jump.csv")


def test_columns_can_be_chosen() -> None:
    rows = [f"{i},{10 * i},{40 * np.tanh(0.2 * (i - 30)):.3f}" for i in range(60)]
    data = ("a,b,c\n" + "\n".join(rows)).encode()
    first = looked(data, "columns.csv")
    assert first.columns is not None
    assert not first.columns.sure
    second = looked(data, "columns.csv", columns={"x": 1, "y": 2})
    assert second.columns is not None
    assert second.columns.sure
    # The circuit's own length: the fit begins and ends a point inside an open track.
    assert second.length_m == pytest.approx(588.0, abs=4.0)


def test_the_path_as_driven_needs_no_line(store: Store) -> None:
    preview = looked(written("dunlin-heath", "gpx"), segments_describe="driven")
    kept = keep_import(store, preview, Accepted(name="As driven"), kept_plan(store, 1))
    opened = open_plan(store, kept.plan_id)
    assert opened.plan.line is None
    assert opened.result is not None
    assert opened.result.line is None


def test_files_are_held_until_they_are_forgotten() -> None:
    imports = Imports()
    data = written("garganey-samphire", "segments.csv")
    first = imports.look("a.csv", data, ImportOptions())
    again = imports.again(first.id, ImportOptions(width_m=9.0))
    assert again.width_m == 9.0
    assert imports.known(first.id).preview.width_m == 9.0
    imports.forget(first.id)
    with pytest.raises(InputRefused, match="no longer in memory"):
        imports.again(first.id, ImportOptions())
    held = [imports.look("a.csv", data, ImportOptions()).id for _ in range(5)]
    with pytest.raises(InputRefused, match="no longer in memory"):
        imports.known(held[0])
    assert imports.known(held[4]).looked.file_name == "a.csv"


def two_radii_csv() -> bytes:
    """A ring of points whose first corner tightens from 80 m to 45 m; the other has one radius."""
    segments = (
        Straight(200.0),
        Bend("", 1, 80.0, 60.0),
        Bend("", 1, 45.0, 120.0),
        Straight(262.0),
        Bend("", 1, 60.0, 180.0),
    )
    path = build_path(Circuit("", False, segments), 2.0)
    rows = "\n".join(f"{x:.3f},{y:.3f}" for x, y in zip(path.x_m, path.y_m, strict=True))
    return f"x,y\n{rows}\n".encode()


def test_a_corner_split_while_looking_gets_two_radii_of_its_own() -> None:
    imports = Imports()
    first = imports.look("ring.csv", two_radii_csv(), ImportOptions(closed=False))
    # However many corners were found, joined the long one has one radius and lies off the points.
    while len(first.corners) > 2:
        first = imports.edit(first.id, edit(op="merge", segment=first.corners[0].segment))
    assert first.fit_rms_m > 0.2
    parted = imports.edit(first.id, edit(op="split", segment=first.corners[0].segment, share=0.5))
    assert parted.fit_rms_m < 0.05
    assert [corner.radius_m for corner in parted.corners] == pytest.approx([80, 45, 60], rel=0.03)
    assert [corner.angle_deg for corner in parted.corners][:2] == pytest.approx([60, 120], abs=1)
    named = imports.edit(
        first.id, edit(op="rename", segment=parted.corners[1].segment, name="Tighter")
    )
    assert [corner.name for corner in named.corners][1] == "Tighter"
    assert named.circuit["segments"][parted.corners[1].segment]["name"] == "Tighter"
    again = imports.edit(first.id, edit(op="renumber"))
    assert [corner.name for corner in again.corners] == ["T1", "T2", "T3"]
    with pytest.raises(InputRefused, match="no corner that turns left as well follows"):
        imports.edit(first.id, edit(op="merge", segment=again.corners[2].segment))
    assert imports.known(first.id).preview == again


def test_corners_of_a_sheet_are_edited_and_its_widths_stay() -> None:
    imports = Imports()
    sheet = b"kind,name,radius_m,angle_deg,direction,length_m,width_m\n"
    sheet += b"straight,,,,,300,9\ncorner,A,50,180,left,,8\nstraight,,,,,300,\n"
    sheet += b"corner,B,50,180,left,,\n"
    first = imports.look("sheet.csv", sheet, ImportOptions())
    parted = imports.edit(first.id, edit(op="split", segment=1))
    assert [corner.name for corner in parted.corners] == ["A", "A exit", "B"]
    assert [segment["width_m"] for segment in parted.circuit["segments"]][:3] == [9, 8, 8]


def test_progress_is_told_and_a_file_is_stopped_between_steps() -> None:
    imports = Imports()
    steps: list[int] = []
    look_at("a.csv", two_radii_csv(), ImportOptions(closed=False), steps.append)
    assert steps == list(range(len(STEPS)))
    assert imports.progress("not-yet-sent").doing == STEPS[0]
    watched: list[str] = []

    def stop_at_smoothing(step: int) -> None:
        watched.append(imports.progress("watch-one").doing)
        if step == 2:
            imports.stop("watch-one")

    with pytest.MonkeyPatch.context() as patch:
        tell = Watch.tell

        def told(self: Watch, step: int) -> None:
            stop_at_smoothing(step)
            tell(self, step)

        patch.setattr(Watch, "tell", told)
        with pytest.raises(InputRefused, match="stopped; nothing of the file was saved"):
            imports.look("a.csv", two_radii_csv(), ImportOptions(closed=False), "watch-one")
    assert watched == [STEPS[0], STEPS[0], STEPS[1]]
    assert imports._held == {}


def test_what_was_done_to_corners_stays_while_other_choices_are_made(store: Store) -> None:
    """Four laps at 1 Hz of somebody else's receiver."""
    imports = Imports()
    first = imports.look("club.gpx", (CASES / "club_circuit.gpx").read_bytes(), ImportOptions())
    joined = imports.edit(first.id, edit(op="merge", segment=first.corners[-2].segment))
    named = imports.edit(
        first.id, edit(op="rename", segment=joined.corners[0].segment, name="Gate")
    )
    assert len(joined.corners) == len(first.corners) - 1
    other = imports.again(first.id, ImportOptions(segments_describe="driven", width_m=9.0))
    assert [one.name for one in other.corners] == [one.name for one in named.corners]
    assert other.corners[0].name == "Gate"
    kept = keep_import(store, other, Accepted(name="Club"), demo("k4-dry"))
    circuit = kept_plan(store, kept.plan_id).circuit
    names = [one.name for one in circuit.segments or [] if one.kind == "corner"]
    assert names == [one.name for one in named.corners]
    # What the preview says of the length is what is kept.
    path = build_path(circuit_record(circuit), 1.0)
    assert path.length_m == pytest.approx(other.length_m, abs=0.2)
    # Where other corners are found it is said that the changes are lost.
    smoother = imports.again(first.id, ImportOptions(smoothing_m=400.0))
    assert len(smoother.corners) != len(first.corners)
    assert "2 changes to the corners were lost" in smoother.note
