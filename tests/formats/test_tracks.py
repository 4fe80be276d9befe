"""Files of points: read back as written, recognised however they are laid out, refused clearly."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from neapfrost.core.errors import InputRefused
from neapfrost.formats.plan import CornerDocument, SegmentDocument, StraightDocument
from neapfrost.formats.tracks.geojson import Feature, read_geojson, write_geojson
from neapfrost.formats.tracks.gpx import read_gpx, write_gpx
from neapfrost.formats.tracks.points_csv import (
    look_at_columns,
    read_points_csv,
    write_points_csv,
)
from neapfrost.formats.tracks.read_file import read_points
from neapfrost.formats.tracks.read_track import degrees, local_metres, place_of
from neapfrost.formats.tracks.segments_csv import (
    looks_like_segments,
    read_segments_csv,
    write_segments_csv,
)
from neapfrost.formats.tracks.svg_map import MapLabel, MapLine, svg_map

CASES = Path(__file__).parents[1] / "cases"
ANGLE = np.linspace(0.0, 2.0 * np.pi, 60)
X, Y, Z = 300.0 * np.cos(ANGLE), 200.0 * np.sin(ANGLE), 5.0 + np.sin(ANGLE)


def refusal(data: bytes) -> str:
    with pytest.raises(InputRefused) as refused:
        read_points(data)
    return str(refused.value)


def test_degrees_and_metres_are_each_other_s_way_back() -> None:
    lat, lon = degrees(X, Y, (51.3, -2.7))
    x, y, origin = local_metres(lat, lon, None)
    back_x, back_y = degrees(x, y, origin)
    np.testing.assert_allclose(back_x, lat, atol=1e-10)
    np.testing.assert_allclose(back_y, lon, atol=1e-10)


def test_a_degree_of_latitude_is_as_long_as_the_ellipsoid_says() -> None:
    """WGS 84: 110,574 m at the equator, 111,694 m at the pole (published table)."""
    for latitude, metres in ((0.0, 110_574.0), (45.0, 111_132.0), (89.5, 111_694.0)):
        small = 1e-3
        _, y, _ = local_metres(np.array([latitude, latitude + small]), np.zeros(2), None)
        assert y[1] / small == pytest.approx(metres, rel=1e-4)


def test_gpx_reads_back_as_written() -> None:
    """East and north turn with the first point's meridian: some centimetres across the ring."""
    lat, lon = degrees(X, Y, (40.0, 9.0))
    read = read_gpx(write_gpx("Ring & <road>", lat, lon, Z).encode())
    np.testing.assert_allclose(read.track.x_m, X - X[0], atol=0.03)
    np.testing.assert_allclose(read.track.y_m, Y - Y[0], atol=0.03)
    assert read.track.z_m is not None
    np.testing.assert_allclose(read.track.z_m, Z, atol=1e-3)
    assert "60 track points" in read.note
    assert place_of(read, 0) == "point 1"


def test_gpx_routes_and_way_points_are_taken_where_there_is_no_track() -> None:
    points = "".join(f'<rtept lat="{40 + i * 1e-4}" lon="9"/>' for i in range(12))
    read = read_gpx(f'<gpx version="1.1"><rte>{points}</rte></gpx>'.encode())
    assert "12 route points" in read.note
    assert read.track.z_m is None


def test_geojson_with_edges_reads_back_with_widths() -> None:
    lat, lon = degrees(X, Y, (40.0, 9.0))
    outer = degrees(1.02 * X, 1.03 * Y, (40.0, 9.0))
    inner = degrees(0.98 * X, 0.97 * Y, (40.0, 9.0))
    text = write_geojson(
        "ring",
        [
            Feature("LineString", lon, lat, Z, {"role": "centreline"}),
            Feature("LineString", outer[1], outer[0], None, {"role": "right edge"}),
            Feature("LineString", inner[1], inner[0], None, {"role": "left edge"}),
            Feature("LineString", lon[:20], lat[:20], None, {"role": "driven line"}),
            Feature("Point", lon[:1], lat[:1], None, {"role": "corner"}),
        ],
    )
    read = read_geojson(text.encode())
    assert "both edges" in read.note
    np.testing.assert_allclose(read.track.x_m, X - X[0], atol=0.03)
    assert read.track.left_m is not None
    assert read.track.left_m[0] == pytest.approx(6.0, abs=0.1)
    assert read.track.left_m[15] == pytest.approx(6.0, abs=0.1)


def test_a_ring_of_geojson_is_its_outer_line() -> None:
    ring = [[9.0 + 1e-3 * np.cos(a), 40.0 + 1e-3 * np.sin(a)] for a in ANGLE]
    read = read_geojson(json.dumps({"type": "Polygon", "coordinates": [ring]}).encode())
    assert len(read.track.x_m) == 60


def test_points_read_back_as_written() -> None:
    read, layout = read_points(write_points_csv(X, Y, Z, Z, 2.0 * Z).encode())
    assert layout is not None
    assert layout.sure
    np.testing.assert_allclose(read.track.x_m, X - X[0], atol=1e-4)
    assert read.track.right_m is not None
    np.testing.assert_allclose(read.track.right_m, 2.0 * Z, atol=1e-4)
    assert place_of(read, 0) == "line 2"


@pytest.mark.parametrize(
    ("text", "separator", "decimal", "roles", "sure"),
    [
        ("x;y;z\n1,5;2,5;3\n2,5;3,5;3\n", ";", ",", {"x": 0, "y": 1, "z": 2}, True),
        ("Lat (deg)\tLon (deg)\n40.1\t9.1\n40.2\t9.2\n", "\t", ".", {"lat": 0, "lon": 1}, True),
        ("# a remark\nlongitude,latitude\n9,40\n9.1,40.1\n", ",", ".", {"lat": 1, "lon": 0}, True),
        ("1 2\n3 4\n5 7\n9 9\n", " ", ".", {"x": 0, "y": 1}, False),
        ("a,b,c\nq,1,2\nr,3,4\ns,5,9\n", ",", ".", {"x": 1, "y": 2}, False),
        (
            "p,q\n40.001,9.001\n40.002,9.002\n40.003,9.003\n40.004,9.004\n",
            ",",
            ".",
            {"lat": 0, "lon": 1},
            False,
        ),
        (
            "East [m];North [m];Width left;Width right\n1;2;3;4\n5;6;7;8\n",
            ";",
            ".",
            {"x": 0, "y": 1, "left": 2, "right": 3},
            True,
        ),
    ],
)
def test_columns_are_recognised(
    text: str, separator: str, decimal: str, roles: dict[str, int], sure: bool
) -> None:
    found = look_at_columns(text.encode())
    assert (found.separator, found.decimal, found.sure) == (separator, decimal, sure)
    assert found.roles == roles


def test_decimal_commas_are_numbers() -> None:
    data = b"x;y\n" + b"".join(b"%d,5;%d,25\n" % (i, i * i) for i in range(20))
    read = read_points_csv(data, look_at_columns(data))
    assert read.track.y_m[3] == pytest.approx(9.0)


@pytest.mark.parametrize(
    ("data", "expected"),
    [
        (b"", "the file is empty"),
        (b"   \n", "the file is empty"),
        (b"\x00\x01\x02binary", "the file is binary"),
        (b"<gpx><trk>", "line 1, column 11: not XML (no element found)"),
        (b"<gpx>\n  <trkpt lat='1' lon=2/></gpx>", "line 2, column 22: not XML"),
        (b"<kml></kml>", 'begins with "kml"; "gpx" is expected'),
        (b"<gpx></gpx>", "the file has no track points"),
        (
            b'<!DOCTYPE gpx [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gpx>&b;</gpx>',
            "declares a document type or entities",
        ),
        (
            b'<!DOCTYPE gpx SYSTEM "file:///etc/passwd"><gpx></gpx>',
            "declares a document type or entities",
        ),
        (b'<gpx><trkpt lat="x" lon="2"/></gpx>', 'point 1: its lat "x" is not a number'),
        (b'<gpx><trkpt lat="95" lon="2"/></gpx>', "point 1: latitude 95, longitude 2 lie outside"),
        (b'{"type": "FeatureCollection", "features": [', "line 1, column"),
        (b'{"type": "Topology"}', '"Topology" was given'),
        (b'{"type": "Point", "coordinates": [1, 2]}', "no line and no ring"),
        (
            b'{"type": "LineString", "coordinates": [[1, 2], ["a", 3]]}',
            "coordinates[1]: longitude and latitude are expected",
        ),
        (b"[1, 2, 3]", "a bare JSON list"),
        (b"x,y\n", "a header and nothing under it"),
        (b"word\nother\n", "fewer than two columns of numbers"),
        (b"x,y\n1,2\n3,four\n", 'line 3, column 2: "four" is not a number'),
        (b"x,y\n1,2\n3\n", "line 3, column 2: the cell is missing"),
        (b"x,y\n1,2\n3,nan\n", 'line 3, column 2: "nan" is not a number'),
    ],
)
def test_files_that_are_refused(data: bytes, expected: str) -> None:
    assert expected in refusal(data)


def test_limits_of_size_and_number(monkeypatch: pytest.MonkeyPatch) -> None:
    assert "at most 50 MB are read" in refusal(b"x,y\n" + b"1,2\n" * (14 * 1024 * 1024))
    monkeypatch.setattr("neapfrost.formats.tracks.read_track.POINTS_MOST", 10)
    assert "20 points; at most 10 are read" in refusal(b"x,y\n" + b"1,2\n" * 20)


@settings(max_examples=150)
@given(
    st.one_of(
        st.binary(max_size=300),
        st.text(max_size=200).map(lambda text: text.encode("utf-8", "replace")),
        st.text("0123456789,.;-x\n\t eE", max_size=200).map(str.encode),
        st.text("<>gpxtrk/=\"' latlon0123", max_size=120).map(lambda t: b"<gpx>" + t.encode()),
        st.text('{}[]":,typecoordinatesLineString01', max_size=120).map(
            lambda t: b"{" + t.encode()
        ),
    )
)
def test_no_file_does_more_than_be_refused(data: bytes) -> None:
    try:
        x_m = read_points(data)[0].track.x_m
    except InputRefused:
        x_m = np.zeros(1)
    assert np.isfinite(x_m).all()


SEGMENTS: list[SegmentDocument] = [
    StraightDocument(kind="straight", length_m=310.25, grade_pct=1.5),
    CornerDocument(
        kind="corner",
        name='The "Elbow", left',
        direction="left",
        radius_m=41.7,
        angle_deg=93.25,
        transition_m=6.0,
        banking_deg=2.0,
        width_m=11.0,
    ),
    CornerDocument(
        kind="corner",
        name="T2",
        direction="right",
        radius_m=80.0,
        angle_deg=20.0,
        end_radius_m=60.0,
    ),
]


def test_segments_read_back_as_written() -> None:
    text = write_segments_csv(SEGMENTS)
    assert looks_like_segments(text.encode())
    read = read_segments_csv(text.encode())
    assert StraightDocument.model_validate(read[0]) == SEGMENTS[0]
    assert [CornerDocument.model_validate(one) for one in read[1:]] == SEGMENTS[1:]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("kind,length_m,speed\nstraight,1,2\n", 'line 1, column 3: "speed" is not a column'),
        ("kind,length_m\nstraight,long\n", 'line 2, column 2: "long" is not a number'),
        ("kind,length_m\nhill,30\n", 'line 2, column 1: "hill" was given'),
        (
            "kind,length [chain]\nstraight,30\n",
            'line 1, column 2: "chain" is not a unit known here',
        ),
        (
            "kind,radius_m,length_m,angle_deg\nleft,50,50,90\n",
            "line 2: 50 m on a radius of 50 m turn 57.3°, 90° were given",
        ),
    ],
)
def test_sheets_of_segments_that_are_refused(text: str, expected: str) -> None:
    with pytest.raises(InputRefused) as refused:
        read_segments_csv(text.encode())
    assert expected in str(refused.value)


def test_semicolons_and_decimal_commas_make_segments_too() -> None:
    assert read_segments_csv(b"kind;length_m\nstraight;30,5\n") == [
        {"kind": "straight", "length_m": 30.5}
    ]


def test_a_sheet_is_read_in_the_words_of_whoever_typed_it() -> None:
    sheet = (CASES / "circuit_sheet_of_a_newcomer.csv").read_bytes()
    assert looks_like_segments(sheet)
    read = read_segments_csv(sheet)
    assert read[:2] == [
        {"kind": "straight", "length_m": 620.0},
        {
            "kind": "corner",
            "name": "One",
            "direction": "right",
            "radius_m": 48.0,
            "angle_deg": 95.0,
        },
    ]
    assert sum(1 if one.get("direction") == "right" else -1 for one in read[1::2]) == 3
    assert len(read) == 19


@pytest.mark.parametrize(
    ("text", "encoding"),
    [
        ("Type,Name,Radius (ft),Length [yd]\nStraight,Main,,300\nLeft,,150,50\n", "utf-8"),
        ("# a club's\n\ntype\tradius\tlength\n\tft\tyd\nStr\t\t300\nL\t150,0\t50\n", "utf-16"),
        (
            "KIND;Side;Radius_ft;Angle °;Length yd\nstraight;;;;300\nbend;LH;150;57,29578;\n",
            "cp1252",
        ),
    ],
)
def test_units_stand_behind_the_names_or_under_them(text: str, encoding: str) -> None:
    assert looks_like_segments(text.encode(encoding))
    straight, corner = read_segments_csv(text.encode(encoding))
    assert straight == {"kind": "straight", "length_m": pytest.approx(274.32)}
    assert corner.pop("angle_deg") == pytest.approx(57.29578)
    assert corner == {
        "kind": "corner",
        "name": "T1",
        "direction": "left",
        "radius_m": pytest.approx(45.72),
    }


def test_a_map_holds_every_line_and_word_to_scale() -> None:
    text = svg_map(
        "A & B", [MapLine(X, Y, 2.0, "#000000", closed=True)], [MapLabel(0.0, 0.0, "<T1>")]
    )
    assert "<title>A &amp; B</title>" in text
    assert "&lt;T1&gt;" in text
    assert text.count("<path") == 2
    across = 1000.0 - 2 * 60.0
    assert f"h{100.0 * across / float(np.ptp(X)):.2f}" in text
