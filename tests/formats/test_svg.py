"""The one writer of pictures: well-formed, escaped, with numbers a reader can read."""

from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st

from neapfrost.formats.svg import add_path, add_text, line_through, number, picture, written

SVG = "{http://www.w3.org/2000/svg}"


def read_back(text: str) -> ElementTree.Element:
    return ElementTree.fromstring(text)


def test_an_empty_picture_has_a_title_and_a_ground() -> None:
    root = read_back(written(picture("Sallow Fen", 400.0), 300.0))
    assert root.tag == f"{SVG}svg"
    assert root.get("viewBox") == "0 0 400 300"
    assert (root.get("width"), root.get("height")) == ("400", "300")
    assert [part.tag for part in root] == [f"{SVG}title", f"{SVG}rect"]
    assert root[0].text == "Sallow Fen"


def test_looks_are_spelt_as_svg_spells_them_and_those_of_none_are_left_out() -> None:
    root = picture("x", 100.0)
    add_path(root, "M0 0H5", stroke_width=1.5, stroke_dasharray=None, stroke="#a8360e")
    add_text(root, 3.0, 4.25, "12", text_anchor="end")
    line, words = read_back(written(root, 50.0))[2:]
    assert line.attrib == {
        "d": "M0 0H5",
        "fill": "none",
        "stroke": "#a8360e",
        "stroke-width": "1.5",
    }
    assert words.attrib == {"x": "3", "y": "4.25", "text-anchor": "end"}
    assert words.text == "12"


@given(st.text(st.characters(min_codepoint=32, max_codepoint=0x2FFF), max_size=40))
def test_any_words_come_back_as_they_were(words: str) -> None:
    """Names are people's own: brackets, quotes and ampersands do not end the picture."""
    root = picture(words, 100.0)
    add_text(root, 0.0, 0.0, words)
    found = read_back(written(root, 50.0))
    assert (found[0].text or "") == words
    assert (found[2].text or "") == words


def test_ways_are_closed_where_they_are_rings() -> None:
    places = [(0.0, 0.0), (10.0, 0.123), (10.0, 5.0)]
    assert line_through(places) == "M0 0L10 0.12L10 5"
    assert line_through(places, closed=True).endswith("L10 5Z")


@pytest.mark.parametrize(
    ("value", "text"), [(0.0, "0"), (100.0, "100"), (1.5, "1.5"), (0.125, "0.12"), (-2.10, "-2.1")]
)
def test_numbers_are_short(value: float, text: str) -> None:
    assert number(value) == text
