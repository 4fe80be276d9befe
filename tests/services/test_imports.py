"""Files of points on their way in, kept with boards and a plan, and roads on their way out."""

import json
from functools import cache

import numpy as np
import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import CircuitDocument, PlanDocument
from neapfrost.services.closing import closure_report
from neapfrost.services.exchange import export_plan
from neapfrost.services.exports import ExportFormat, exported
from neapfrost.services.import_keeping import keep_import
from neapfrost.services.imports import Accepted, ImportOptions, ImportPreview, Imports, preview_of
from neapfrost.services.workbench import open_plan
from neapfrost.store.database import Store


def demo(plan_id: str) -> PlanDocument:
    plan = demo_plan(plan_id)
    assert plan is not None
    return plan.document


@cache
def written(plan_id: str, format_: ExportFormat) -> bytes:
    return exported(demo(plan_id), format_).encode()


def looked(data: bytes, name: str = "file.gpx", **options: object) -> ImportPreview:
    return preview_of("one", name, data, ImportOptions.model_validate(options))


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
    kept = keep_import(store, preview, Accepted(name="Mere Ring"), export_plan(store, 1))
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
    assert preview.crossings[0].endswith("is there a bridge, or is the track at fault?")
    with pytest.raises(InputRefused, match="crosses itself"):
        keep_import(store, preview, Accepted(name="Eight"), export_plan(store, 1))
    kept = keep_import(
        store,
        preview,
        Accepted(name="Eight", crossings_are_bridges=True),
        export_plan(store, 1),
    )
    assert open_plan(store, kept.plan_id).circuit.name == "Eight"


def test_heights_tell_a_bridge() -> None:
    preview = looked(eight(4.0), "eight.csv")
    assert preview.crossings[0].endswith("a bridge")


def test_a_track_that_makes_no_loop_is_said_to() -> None:
    lines = ["x,y", *(f"{10 * i},{0.02 * i * i}" for i in range(80))]
    data = "\n".join(lines).encode()
    assert not looked(data, "hill.csv").closed
    with pytest.raises(InputRefused, match="so it makes no loop"):
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
    assert second.length_m == pytest.approx(609.0, abs=8.0)


def test_the_path_as_driven_needs_no_line(store: Store) -> None:
    preview = looked(written("dunlin-heath", "gpx"), segments_describe="driven")
    kept = keep_import(store, preview, Accepted(name="As driven"), export_plan(store, 1))
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
    with pytest.raises(InputRefused, match="not held any more"):
        imports.again(first.id, ImportOptions())
    held = [imports.look("a.csv", data, ImportOptions()).id for _ in range(5)]
    with pytest.raises(InputRefused, match="not held any more"):
        imports.known(held[0])
    assert imports.known(held[4]).file_name == "a.csv"
