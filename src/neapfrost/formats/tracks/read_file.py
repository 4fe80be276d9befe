"""Any file of points, by what is in it."""

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.tracks.geojson import read_geojson
from neapfrost.formats.tracks.gpx import read_gpx
from neapfrost.formats.tracks.points_csv import Columns, look_at_columns, read_points_csv
from neapfrost.formats.tracks.read_track import ReadTrack, refuse_size


def read_points(data: bytes, columns: Columns | None = None) -> tuple[ReadTrack, Columns | None]:
    """Read GPX, GeoJSON or text in columns; for the last also how it is laid out.

    `columns` says so where somebody has chosen. Raises InputRefused for anything else.
    """
    refuse_size(data)
    begins = data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1]
    if begins == b"<":
        return read_gpx(data), None
    if begins == b"{":
        return read_geojson(data), None
    if begins == b"[":
        raise InputRefused(
            [Fault("", "the file is a bare JSON list; a GeoJSON object is expected")]
        )
    layout = columns or look_at_columns(data)
    return read_points_csv(data, layout), layout
