"""Track files as they come from elsewhere: other encodings, odd shapes, heights with holes."""

import json
from typing import Any

import numpy as np
import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.core.measured.heights import heights_of
from neapfrost.services.imports.preview import ImportOptions, ImportPreview, look_and_show

RING = 2.0 * np.pi * np.arange(90) / 90


def ring(heights: list[float] | None = None) -> bytes:
    z = np.full(len(RING), 12.0) if heights is None else np.resize(heights, len(RING))
    rows = [
        f"{90 * np.cos(a):.3f},{90 * np.sin(a):.3f},{h:g}" for a, h in zip(RING, z, strict=True)
    ]
    return ("x,y,z\n" + "\n".join(rows) + "\n").encode()


def shown(data: bytes, **options: Any) -> ImportPreview:
    given = ImportOptions.model_validate(options)
    return look_and_show("one", "file", data, given, None, lambda step: None)[1]


def refusal(data: bytes) -> str:
    with pytest.raises(InputRefused) as refused:
        shown(data)
    return str(refused.value.faults[0])


@pytest.mark.parametrize(
    "data",
    [
        ring().replace(b"\n", b"\r"),
        ring().replace(b"\n", b"\r\n"),
        ring().decode().encode("utf-16"),
        ring().decode().encode("utf-32"),
        b"\xef\xbb\xbf" + ring(),
    ],
    ids=["CR", "CR LF", "UTF-16", "UTF-32", "mark"],
)
def test_line_ends_and_encodings_change_nothing(data: bytes) -> None:
    assert shown(data).length_m == pytest.approx(shown(ring()).length_m)


def gpx(encoding: str, said: str) -> bytes:
    points = "".join(
        f'<trkpt lat="{50 + 0.001 * np.cos(a):.7f}" lon="{8 + 0.0015 * np.sin(a):.7f}"/>'
        for a in RING
    )
    head = f'<?xml version="1.0" encoding="{said}"?>'
    return f"{head}<gpx><trk><trkseg>{points}</trkseg></trk></gpx>".encode(encoding)


@pytest.mark.parametrize(
    ("encoding", "said"), [("utf-8", "UTF-8"), ("utf-16", "UTF-16"), ("latin-1", "ISO-8859-1")]
)
def test_gpx_in_another_encoding_is_read(encoding: str, said: str) -> None:
    assert shown(gpx(encoding, said)).length_m > 400.0


def test_gpx_in_an_unknown_encoding_is_refused_in_a_sentence() -> None:
    said = refusal(gpx("utf-8", "x-nobody"))
    assert "encoding" in said
    assert "no UTF-16, as the file's mark says" in refusal(b"\xff\xfea")


@pytest.mark.parametrize(
    ("document", "place", "said"),
    [
        ({"type": "FeatureCollection", "features": [5]}, "features[0]", "a number was given"),
        ({"type": "FeatureCollection", "features": "x"}, "features", "a text was given"),
        ({"type": "FeatureCollection"}, "features", "nothing was given"),
        (
            {"type": "Feature", "properties": "x", "geometry": {"type": "Point"}},
            "properties",
            "a text was given",
        ),
        ({"type": "Feature", "properties": {}, "geometry": [1]}, "geometry", "a list was given"),
        ({"type": "LineString", "coordinates": {}}, "coordinates", "an object was given"),
        ({"type": "LineString", "coordinates": []}, "coordinates", "the line is empty"),
        ({"type": "Polygon", "coordinates": [3]}, "coordinates[0]", "a number was given"),
        (
            {"type": "MultiLineString", "coordinates": [[[1, 2], None]]},
            "coordinates[0][1]",
            "two numbers",
        ),
        (
            {"type": "LineString", "coordinates": [[1, 2], [1, 1e300]]},
            "coordinates[1]",
            "two numbers",
        ),
        (
            {"type": "GeometryCollection", "geometries": [{"type": None}]},
            "geometries[0].type",
            '"None" was given',
        ),
    ],
)
def test_malformed_geojson_is_refused_with_its_place(
    document: dict[str, Any], place: str, said: str
) -> None:
    told = refusal(json.dumps(document).encode())
    assert told.startswith(f"{place}: ")
    assert said in told


def test_a_header_shorter_than_the_data_is_no_trouble() -> None:
    rows = "\n".join(f"{90 * np.cos(a):.3f};{90 * np.sin(a):.3f};7" for a in RING)
    preview = shown(f"x;y\n{rows}\n".encode())
    assert preview.length_m > 500.0
    wide = shown(f"x;y\n{rows}\n".encode(), columns={"x": 0, "y": 1, "z": 2})
    assert wide.note.endswith("(x, y, column 3)")


def test_places_that_repeat_are_no_road() -> None:
    two = b"x,y\n" + b"0,0\n30,0\n" * 40
    assert "only 2 points differ" in refusal(two)


def test_points_on_another_continent_are_refused_before_anything_is_fitted() -> None:
    far = ring().replace(b"\n", b"\n9e7,1,0\n", 2)
    assert "km from the first point" in refusal(far)
    wide = "\n".join(f"{20000 * np.cos(a):.1f},{14000 * np.sin(a):.1f}" for a in RING[::2])
    assert "between 100 m and 50 km is expected" in refusal(f"x,y\n{wide}\n".encode())


def test_heights_that_are_none_are_filled_or_left_out() -> None:
    some = shown(ring([12.0, 13.0, -32768.0, 12.5]))
    assert some.has_heights
    assert "filled from their neighbours" in some.heights_said
    assert some.climb_m is not None
    assert some.climb_m < 3.0
    none = shown(ring([-32768.0, -9999.0, 12.0]))
    assert not none.has_heights
    assert "left out" in none.heights_said


def test_heights_in_feet_are_recognised_or_said_to_be() -> None:
    high = shown(ring([9800.0, 9830.0]))
    assert high.heights_in == "ft"
    assert high.heights_said == "read as feet"
    stated = shown(ring([400.0, 430.0]), heights_in="ft")
    assert stated.circuit["altitude_m"] == pytest.approx(415.0 * 0.3048, abs=5.0)
    metres = heights_of(np.array([400.0, 430.0]))
    assert metres.unit == "m"
    assert metres.z_m is not None
    assert metres.z_m.tolist() == [400.0, 430.0]
