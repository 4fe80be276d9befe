"""Drives as tracks with times."""

import numpy as np
import pytest

from neapfrost.core.driven.alignment import align
from neapfrost.core.driven.laps import find_laps
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.logs.gpx import is_gpx, read_gpx_log
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import Hidden, driven_laps
from neapfrost.standins.logger.instruments import Instruments, logged

SAME = Hidden(1.0, 1.0, 1.0, 1.0, 1.0, 0.0, 0.0)


def track(points: list[tuple[float, float, str]], name: str = "Morning") -> bytes:
    rows = "".join(
        f'<trkpt lat="{lat:.7f}" lon="{lon:.7f}">{f"<time>{when}</time>" if when else ""}</trkpt>'
        for lat, lon, when in points
    )
    return (
        '<gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1">'
        f"<trk><name>{name}</name><trkseg>{rows}</trkseg></trk></gpx>"
    ).encode()


def stamp(seconds: float) -> str:
    return f"2031-05-17T10:{int(seconds // 60):02d}:{seconds % 60:06.3f}Z"


def test_laps_are_found_in_a_track_and_speed_comes_from_its_places() -> None:
    drive = planned(composed("dunlin-heath")).drive
    laps = driven_laps(drive, 4, 3, SAME)
    tools = Instruments(rate_hz=5.0, place_sd_m=0.2, gaps=0)
    columns = logged(laps, 3, tools)
    points = [
        (lat, lon, stamp(t))
        for lat, lon, t in zip(
            columns["Latitude"], columns["Longitude"], columns["Time"] - 12.5, strict=True
        )
    ]
    data = track(points)
    assert is_gpx("x.xml", data)
    log, name = read_gpx_log(data)
    assert name == "Morning"
    true = np.interp(log.t_s, columns["Time"] - 12.5, columns["Speed"]) / 3.6
    assert np.median(np.abs(log.v_ms - true)) < 0.8
    assert log.throttle is None
    found = find_laps(log, align(log, drive.path), drive.path.length_m)
    timed = [lap.lap_time_s for lap in found if lap.kind == "timed"]
    assert timed == pytest.approx([laps[1].lap_time_s, laps[2].lap_time_s], abs=0.3)


def test_what_is_wrong_with_a_track_is_said_with_its_point() -> None:
    here = [(52.0 + 1e-5 * n, 4.0, stamp(0.5 * n)) for n in range(300)]
    for number, spoiled, said in (
        (3, (52.0, 4.0, ""), "point 4: it has no time"),
        (3, (52.0, 4.0, "noon"), 'point 4: "noon" is not a time'),
        (3, (52.0, 4.0, stamp(0.0)), "point 4: its time is not after"),
    ):
        with pytest.raises(InputRefused, match=said):
            read_gpx_log(track([*here[:number], spoiled, *here[number + 1 :]]))
    with pytest.raises(InputRefused, match="60 s lie between it and the point before"):
        read_gpx_log(
            track(
                [*here[:200], *((a, b, stamp(160.0 + n)) for n, (a, b, _) in enumerate(here[200:]))]
            )
        )
    with pytest.raises(InputRefused, match="no track points"):
        read_gpx_log(track([]))
    with pytest.raises(InputRefused, match="line 1, column"):
        read_gpx_log(b"<gpx><trk>")
