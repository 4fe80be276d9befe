"""What a file is by what it holds, not by what it is called."""

import io
import zipfile
from typing import Literal

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.activity import MARK, MARK_AT
from neapfrost.formats.logs.mdf import MARKS as MDF_MARKS
from neapfrost.formats.logs.nmea import is_nmea

LogKind = Literal["text", "gpx", "mdf", "fit", "nmea", "parquet", "arrow", "workbook"]
#: How each kind is called.
KIND_NAMES: dict[LogKind, str] = {
    "text": "text in columns",
    "gpx": "GPX track",
    "mdf": "ASAM MDF",
    "fit": "FIT activity",
    "nmea": "NMEA 0183",
    "parquet": "Parquet",
    "arrow": "Arrow",
    "workbook": "spreadsheet",
}
HEAD_BYTES = 8192
#: Files of other kinds, by what they begin with, and what to do with them instead.
PICTURE = "a picture; a log of samples is expected here"
OTHERS: tuple[tuple[bytes, str], ...] = (
    (b"\x89PNG\r\n", PICTURE),
    (b"\xff\xd8\xff", PICTURE),
    (b"GIF8", PICTURE),
    (b"II*\x00", PICTURE),
    (b"MM\x00*", PICTURE),
    (b"BM", PICTURE),
    (b"%PDF", "a PDF document; export the log as a table instead"),
    (b"\x1f\x8b", "compressed with gzip; unpack it first"),
    (b"BZh", "compressed with bzip2; unpack it first"),
    (b"\xfd7zXZ", "compressed with xz; unpack it first"),
    (b"7z\xbc\xaf", "a 7z archive; unpack it and choose one file"),
    (b"Rar!", "a RAR archive; unpack it and choose one file"),
    (b"SQLite format 3", "a database; export the log as a table"),
    (b"\x7fELF", "a program"),
    (b"MZ", "a program"),
    (b"RIFF", "a sound, film or picture file; a log of samples is expected here"),
    (b"\x00\x00\x00\x18ftyp", "a film; a log of samples is expected here"),
    (b"\x00\x00\x00 ftyp", "a film; a log of samples is expected here"),
)
#: So many files of an archive are named.
NAMED_MOST = 3


def recognised(data: bytes) -> LogKind:
    """The kind of log a file is. Raises InputRefused, saying what it looks like, for no log."""
    head = data[:HEAD_BYTES]
    if not data:
        raise InputRefused([Fault("", "the file is empty; a log of samples is expected")])
    if head[: len(MDF_MARKS[0])] in MDF_MARKS:
        return "mdf"
    if head[MARK_AT : MARK_AT + len(MARK)] == MARK:
        return "fit"
    if head.startswith(b"PAR1"):
        return "parquet"
    if head.startswith(b"ARROW1"):
        return "arrow"
    if head.startswith(b"PK\x03\x04"):
        return _archived(data)
    if head.startswith(b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"):
        return "workbook"
    for mark, what in OTHERS:
        # Letters alone may begin a text as well: then no byte of it is zero.
        if head.startswith(mark) and (len(mark) > 2 or b"\x00" in head):
            raise InputRefused([Fault("", f"this file is {what}")])
    return _text(head)


def _archived(data: bytes) -> LogKind:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = archive.namelist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError):
        raise InputRefused([Fault("", "this file is a damaged ZIP archive")]) from None
    if "xl/workbook.xml" in names or "xl/workbook.bin" in names or "content.xml" in names:
        return "workbook"
    files = [name for name in names if not name.endswith("/")]
    listed = ", ".join(name[:60] for name in files[:NAMED_MOST])
    more = f" and {len(files) - NAMED_MOST} more" if len(files) > NAMED_MOST else ""
    count = "1 file" if len(files) == 1 else f"{len(files)} files"
    raise InputRefused(
        [
            Fault(
                "",
                f"this file is a ZIP archive with {count}: {listed}{more}; unpack it and choose "
                "one of them",
            )
        ]
    )


def _text(head: bytes) -> LogKind:
    if b"<gpx" in head:
        return "gpx"
    start = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    if start.startswith(b"<?xml") or start.startswith(b"<!DOCTYPE") or start.startswith(b"<kml"):
        raise InputRefused(
            [Fault("", "this file is XML but not a GPX track; a log of samples is expected")]
        )
    if start.startswith((b'{"', b"{\n", b"{\r", b"{ ", b"[{", b"[\n")):
        raise InputRefused([Fault("", "this file is JSON; a log of samples is expected")])
    return "nmea" if is_nmea(head.decode("latin-1")) else "text"
