"""Files that are not even JSON, each refused in a sentence."""

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.formats.json_text import parse_json_object


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "the file is empty; a JSON document is expected"),
        (b"  \n ", "the file is empty; a JSON document is expected"),
        (b"\x00\x01\x02", "the file is binary; a JSON document in UTF-8 is expected"),
        (b"\xff\xfe{}", "byte 0 is not UTF-8 text; a JSON document in UTF-8 is expected"),
        (b'{\n  "a": 1,\n  oops\n}', "line 3, column 3: not JSON ("),
        (b"<gpx>", "this is not JSON; a document in braces, as exported, is expected"),
        (b'{"a" 1}', "line 1, column 6: not JSON (a colon is expected)"),
        (b"{} {}", "line 1, column 4: not JSON (something follows the document)"),
        (b"[]", "the document is a list; an object in braces is expected"),
        (b"3", "the document is a number; an object in braces is expected"),
        (b'"x"', "the document is a text; an object in braces is expected"),
        (b"null", "the document is null; an object in braces is expected"),
        (b'{"a": NaN}', "a: NaN is not a number that a document can hold; a finite number"),
        (b'{"a": {"b": [1, -Infinity]}}', "a.b[1]: -Infinity is not a number that a document"),
        (b'{"a": 1e999}', "a: 1e999 is not a number that a document can hold"),
        (b'{"a": ' + b"9" * 400 + b"}", "a: 99999999999999999999\u2026 is not a number"),
        (b'{"a": 1, "a": 2}', 'the key "a" is given twice in one object'),
        (b"[" * 100_000, "the document is nested more than 64 levels deep"),
        (b'{"a":' * 100_000 + b"1" + b"}" * 100_000, "the document is nested more than 64"),
    ],
)
def test_refusals(data: bytes, message: str) -> None:
    with pytest.raises(InputRefused) as refusal:
        parse_json_object(data)
    assert str(refusal.value).startswith(message)


def test_every_figure_that_is_none_is_told_with_its_place() -> None:
    document = b'{"car": {"mass_kg": NaN, "name": "NaN"}, "segments": [{}, {"length_m": Infinity}]}'
    with pytest.raises(InputRefused) as refusal:
        parse_json_object(document)
    assert [fault.path for fault in refusal.value.faults] == [
        "car.mass_kg",
        "segments[1].length_m",
    ]


def test_brackets_in_a_text_are_no_nesting() -> None:
    assert parse_json_object(b'{"a": "' + b"[" * 1000 + b'\\""}') == {"a": "[" * 1000 + '"'}


def test_a_byte_order_mark_is_nothing_to_refuse() -> None:
    assert parse_json_object(b"\xef\xbb\xbf{}") == {}
