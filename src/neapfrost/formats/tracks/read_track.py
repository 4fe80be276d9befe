"""What a file of points was read to."""

import re
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.measured.track import Track

POINTS_MOST = 1_000_000
BYTES_MOST = 50 * 1024 * 1024


@dataclass(frozen=True, eq=False)
class ReadTrack:
    """Points in local metres, where each stands in its file, and where on earth they are.

    `origin` is the latitude and longitude [deg] of x = y = 0, None for points that came in metres.
    `note` says in words what was read, `name` what the file calls it, if anything.
    """

    track: Track
    origin: tuple[float, float] | None
    note: str
    place_word: str
    first_place: int
    name: str = ""


def place_of(read: ReadTrack, index: int) -> str:
    """Where a point stands in its file: "line 12", "point 5"."""
    return f"{read.place_word} {read.first_place + index}"


def local_metres(
    lat_deg: Floats, lon_deg: Floats, z_m: Floats | None
) -> tuple[Floats, Floats, tuple[float, float]]:
    """East and north of the first point [m] on the ellipsoid WGS 84, and that point (lat, lon).

    Heights are measured across the map, so they do not count here. Raises InputRefused for
    coordinates outside their range.
    """
    import pymap3d

    outside = np.flatnonzero((np.abs(lat_deg) > 90.0) | (np.abs(lon_deg) > 180.0))
    if len(outside) > 0:
        k = int(outside[0])
        raise InputRefused(
            [
                Fault(
                    f"point {k + 1}",
                    f"latitude {lat_deg[k]:g}, longitude {lon_deg[k]:g} lie outside -90 to 90 and "
                    "-180 to 180 degrees; are these metres?",
                )
            ]
        )
    origin = (float(lat_deg[0]), float(lon_deg[0]))
    level = np.zeros(len(lat_deg))
    east, north, _ = pymap3d.geodetic2enu(lat_deg, lon_deg, level, origin[0], origin[1], 0.0)
    return np.asarray(east), np.asarray(north), origin


def degrees(x_m: Floats, y_m: Floats, origin: tuple[float, float]) -> tuple[Floats, Floats]:
    """Latitude and longitude [deg] of local metres; the way back of `local_metres`."""
    import pymap3d

    # On the tangent plane a point at height zero lies below it; two turns find it.
    up = np.zeros(len(x_m))
    for _ in range(3):
        lat, lon, height = pymap3d.enu2geodetic(x_m, y_m, up, origin[0], origin[1], 0.0)
        up = up - np.asarray(height)
    return np.asarray(lat), np.asarray(lon)


#: Byte order marks of the encodings that have one, the longer ones first.
MARKS = (
    (b"\xff\xfe\x00\x00", "utf-32"),
    (b"\x00\x00\xfe\xff", "utf-32"),
    (b"\xff\xfe", "utf-16"),
    (b"\xfe\xff", "utf-16"),
)


def plain(data: bytes) -> bytes:
    """A file's text in UTF-8 with lines ended by LF, whatever mark and line ends it came with.

    Raises InputRefused where a mark promises an encoding that the text is not in.
    """
    encoding = next((name for mark, name in MARKS if data.startswith(mark)), None)
    if encoding is not None:
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError as error:
            raise InputRefused(
                [Fault("", f"byte {error.start} is no {encoding.upper()}, as the file's mark says")]
            ) from None
        # What XML says of its own encoding was true of the bytes before.
        text = re.sub(r"^(<\?xml[^>]*?)\s+encoding=[\"'][^\"']*[\"']", r"\1", text)
        data = text.encode("utf-8", "replace")
    return data.removeprefix(b"\xef\xbb\xbf").replace(b"\r\n", b"\n").replace(b"\r", b"\n")


def refuse_size(data: bytes) -> None:
    """Refuse a file that is empty or larger than 50 MB. Raises InputRefused."""
    if not data.strip():
        raise InputRefused([Fault("", "the file is empty; points of a road are expected")])
    if len(data) > BYTES_MOST:
        raise InputRefused(
            [Fault("", f"the file has {len(data) / 2**20:.0f} MB; at most 50 MB are read")]
        )


def refuse_count(count: int) -> None:
    """Refuse more than a million points. Raises InputRefused."""
    if count > POINTS_MOST:
        raise InputRefused(
            [Fault("", f"the file has {count} points; at most {POINTS_MOST} are read")]
        )
