"""Names that mean something elsewhere: formulas, markup, characters that XML has no place for."""

import csv
import io
from xml.etree.ElementTree import fromstring

import numpy as np
import pytest

from neapfrost.formats.escaping import as_given, harmless, markdown_text, sheet_text, xml_text
from neapfrost.formats.plan import CornerDocument
from neapfrost.formats.svg import add_text, picture, written
from neapfrost.formats.tracks.gpx import write_gpx
from neapfrost.formats.tracks.segments_csv import read_segments_csv, write_segments_csv

FORMULAS = ["=1+1", "+x", "-x", "@SUM(A1)", "\tx", "=cmd|' /C calc'!A0"]


@pytest.mark.parametrize("text", FORMULAS)
def test_no_cell_is_a_formula_and_it_is_read_back_as_given(text: str) -> None:
    sheet = sheet_text([["name", "figure"], [text, "-0.5"]])
    (name, figure) = list(csv.reader(io.StringIO(sheet)))[1]
    assert name[0] == "'"
    assert as_given(name) == text
    assert figure == "-0.5"


def test_numbers_and_plain_words_are_left_alone() -> None:
    for cell in ("-1.5", "+0.312", "1e-3", "T6", "'quoted", 4, None, 0.5):
        assert harmless(cell) == cell
    assert harmless("bell\x07") == "bell"


def test_a_sheet_of_segments_with_such_names_reads_back() -> None:
    corner = CornerDocument(
        kind="corner", name="=Sedge", direction="left", radius_m=40.0, angle_deg=90.0
    )
    text = write_segments_csv([corner])
    assert "'=Sedge" in text
    assert read_segments_csv(text.encode())[0]["name"] == "=Sedge"


def test_markdown_holds_no_markup_of_a_name() -> None:
    said = markdown_text("<img src=x onerror=alert(1)> | *bold* [a](b)\n# next")
    assert "<" not in said
    assert "\n" not in said
    assert r"\|" in said
    assert r"\*bold\*" in said


def test_pictures_and_tracks_with_control_characters_are_xml() -> None:
    name = "Fen\x00\x1b & <Heath>\ud800"
    assert xml_text(name) == "Fen & <Heath>"
    root = picture(name, 100.0)
    add_text(root, 1.0, 2.0, name)
    assert "Fen & <Heath>" in "".join(fromstring(written(root, 50.0)).itertext())
    track = write_gpx(name, np.array([50.0, 50.1]), np.array([8.0, 8.1]), None)
    assert "Fen & <Heath>" in "".join(fromstring(track).itertext())
