"""Loggers' files of many kinds, and every bad one refused with its place."""

import numpy as np
import pytest

from neapfrost.core.driven.log import Log
from neapfrost.core.errors import InputRefused
from neapfrost.formats.log_csv import look_at_log, read_log

COUNT = 300


def rows(line: str, count: int = COUNT) -> str:
    return "".join(line.format(t=0.04 * n, n=n) + "\n" for n in range(count))


def read(text: str) -> Log:
    data = text.encode()
    return read_log(data, look_at_log(data))


def refused(text: str) -> str:
    with pytest.raises(InputRefused) as error:
        read(text)
    return str(error.value)


def test_a_preamble_names_and_units_are_recognised() -> None:
    text = (
        '"Logger","Model 3"\n"Driver","N. N."\n\n'
        "Time,Ground speed,Latitude,Longitude,Lat g,Long g,RPM,Gear,TPS,Brake pressure\n"
        "s,mph,deg,deg,g,g,1/min,,%,kPa\n"
    ) + rows("{t:.2f},60,52.0,4.0,0.5,-0.2,6000,3,80,250")
    layout = look_at_log(text.encode())
    assert dict(layout.about) == {"Logger": "Model 3", "Driver": "N. N."}
    assert layout.columns["speed"].unit == "mph"
    assert layout.columns["brake"].unit == "kPa"
    log = read(text)
    assert log.v_ms[0] == pytest.approx(26.8224)
    assert log.throttle is not None
    assert log.throttle[0] == pytest.approx(0.8)
    assert log.brake is not None
    assert log.brake.max() == 1.0
    assert log.ay_ms2 is not None
    assert log.ay_ms2[0] == pytest.approx(4.903, abs=1e-3)
    assert log.has_places


def test_units_in_brackets_semicolons_and_decimal_commas_are_read() -> None:
    text = "Time [ms];Speed [m/s];Lateral g\n" + "".join(
        f"{40 * n};{30 + 0.01 * n:.2f};0,5\n".replace(".", ",") for n in range(COUNT)
    )
    log = read(text)
    assert log.t_s[1] == pytest.approx(0.04)
    assert log.v_ms[100] == pytest.approx(31.0)
    assert not log.has_places


def test_missing_samples_are_left_open_and_shares_of_a_pedal_are_noticed() -> None:
    text = "Time,Speed,Throttle,Latitude,Longitude\n" + rows("{t:.2f},100,0.5,52.0,4.0")
    lines = text.splitlines()
    lines[6] = "0.20,100,0.5,,"
    log = read("\n".join(lines))
    assert log.east_m is not None
    assert np.isnan(log.east_m[5])
    assert np.isfinite(log.east_m[4])
    assert log.throttle is not None
    assert log.throttle[0] == pytest.approx(0.5)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no line names the channels"),
        ("a,b\n1,2\n", "no line names the channels"),
        ("Time,Latitude,Longitude\n" + rows("{t},52,4"), "no column is chosen for the speed"),
        ("Time,Speed\n" + rows("{t},100", 20), "20 samples were read; 200 at least"),
        ("Time,Speed\n" + rows("{t},900"), "speeds up to 900 km/h were read; the column is hardly"),
        ("Time,Speed,Lat g\n" + rows("{t},100,9.5"), "more than 8 g were read"),
        ("Time,Speed\n" + rows("1,100"), "sample 2: the time 1 s comes after 1 s"),
        (
            "Time,Speed\n0,100\n0.1,fast\n" + rows("{n},100"),
            'line 3, column 2: "fast" is no number',
        ),
        ("Time,Speed,Latitude,Longitude\n" + rows("{t},100,95,4"), "lie outside -90 to 90"),
        ("Time\x00Speed", "the file is binary"),
    ],
)
def test_a_bad_log_is_refused_with_what_was_expected(text: str, said: str) -> None:
    assert said in refused(text), refused(text)
