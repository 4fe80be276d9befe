"""Loggers' files of many kinds, and every bad one refused with its place."""

import csv
import io
import re
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import polars as pl
import pytest

from neapfrost.core.driven.log import Log
from neapfrost.core.errors import InputRefused
from neapfrost.formats.logs.channels import LogColumn
from neapfrost.formats.logs.text import look_at_log, read_log

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
        ("", "No table of samples was found"),
        ("a,b\n1,2\n", "No table of samples was found"),
        ("Time,Latitude,Longitude\n" + rows("{t},52,4"), "Speed is missing: choose the column"),
        ("Time,Speed\n" + rows("{t},100", 20), "20 samples were read; a lap needs at least 200"),
        (
            "Time,Speed\n" + rows("{t},900"),
            "speeds up to 900 km/h were read; the column is probably not",
        ),
        ("Time,Speed,Lat g\n" + rows("{t},100,9.5"), "more than 8 g were read"),
        ("Time,Speed\n" + rows("1,100"), "sample 2: the time 1 s comes after 1 s"),
        (
            "Time,Speed\n0,100\n0.1,fast\n" + rows("{n},100"),
            'line 3, column 2: "fast" is not a number',
        ),
        ("Time,Speed,Latitude,Longitude\n" + rows("{t},100,95,4"), "lie outside -90 to 90"),
        ("Time\x00Speed", "the file is binary"),
    ],
)
def test_a_bad_log_is_refused_with_what_was_expected(text: str, said: str) -> None:
    assert said in refused(text), refused(text)


@pytest.mark.parametrize("separator", [",", ";", "\t"])
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "latin-1"])
def test_any_column_may_be_unknown_wherever_it_stands(separator: str, encoding: str) -> None:
    """Written by the standard library's own writer, with names that hold the separator."""
    names = [f"Öl{separator} Temp [°C]", "Time [s]", "Battery", "Speed [km/h]", "Note", "Gear"]
    sheet = io.StringIO()
    writer = csv.writer(sheet, delimiter=separator)
    writer.writerow(names)
    for n in range(COUNT):
        writer.writerow([80 + n % 3, f"{0.04 * n:.3f}", 12.6, 100 + n % 7, f'a{separator} "b"', 3])
    data = sheet.getvalue().encode(encoding)
    layout = look_at_log(data)
    assert layout.header[0] == names[0]
    log = read_log(data, layout)
    assert len(log.t_s) == COUNT
    assert log.t_s[1] == pytest.approx(0.04)
    assert log.v_ms[3] == pytest.approx(103 / 3.6)
    assert log.gear is not None
    assert set(log.gear) == {3.0}


def test_what_polars_writes_is_read() -> None:
    frame = pl.DataFrame(
        {
            "lap": [1] * COUNT,
            "Zeit": [0.05 * n for n in range(COUNT)],
            "Geschwindigkeit": [30.0 + 0.1 * (n % 5) for n in range(COUNT)],
            "x": [2.0 * n for n in range(COUNT)],
            "y": [0.5 * n for n in range(COUNT)],
            "empty": pl.Series([None] * COUNT, dtype=pl.Float64),
        }
    )
    log = read(frame.write_csv())
    assert log.east_m is not None
    assert log.east_m[10] == pytest.approx(20.0)
    assert log.moves
    assert log.v_ms[1] == pytest.approx(30.1 / 3.6)


@pytest.mark.parametrize("blank", ["", ",,", "  ", " , , ", ",,,,"])
@pytest.mark.parametrize("at", [2, 150, COUNT + 1])
def test_blank_rows_are_dropped(blank: str, at: int) -> None:
    lines = ("Time,Speed,Gear\n" + rows("{t:.2f},100,3")).splitlines()
    lines.insert(at, blank)
    log = read("\n".join(lines) + "\n" + blank + "\n")
    assert len(log.t_s) == COUNT
    assert np.isfinite(log.t_s).all()


@pytest.mark.parametrize(
    ("written", "step_s"),
    [
        (lambda n: f"{n // 600}:{n // 10 % 60:02d}.{n % 10}", 0.1),
        (lambda n: f"0:{n // 60:02d}:{n % 60:02d}", 1.0),
        (lambda n: f"{(86_380 + n) // 3600 % 24}:{(86_380 + n) // 60 % 60:02d}:{n % 60:02d}", None),
        (lambda n: f"2031-06-14T13:{n // 60:02d}:{n % 60:02d}Z", 1.0),
        (lambda n: f"14.06.2031 13:{n // 60:02d}:{n % 60:02d}", 1.0),
    ],
)
def test_times_may_be_written_as_a_clock(
    written: Callable[[int], str], step_s: float | None
) -> None:
    if step_s is None:
        # Over midnight, second by second.
        clock = [(86_380 + n) % 86_400 for n in range(COUNT)]
        lines = [f"{c // 3600}:{c // 60 % 60:02d}:{c % 60:02d},100" for c in clock]
        step_s = 1.0
    else:
        lines = [f"{written(n)},100" for n in range(COUNT)]
    log = read("Time,Speed\n" + "\n".join(lines))
    assert np.diff(log.t_s) == pytest.approx(step_s)


def test_a_file_of_samples_alone_says_which_columns_there_are() -> None:
    text = "\n".join(f"{0.04 * n:.2f};100;{n}" for n in range(COUNT))
    layout = look_at_log(text.encode())
    assert layout.header == ("Column 1", "Column 2", "Column 3")
    assert layout.first_line == 1
    chosen = replace(layout, columns={"time": LogColumn(0, "s"), "speed": LogColumn(1, "km/h")})
    assert len(read_log(text.encode(), chosen).t_s) == COUNT
    columns = {**chosen.columns, "speed": LogColumn(8, "km/h")}
    with pytest.raises(InputRefused, match="Speed: column 9 does not exist; the samples have 3"):
        read_log(text.encode(), replace(chosen, columns=columns))


def test_a_quote_that_nobody_closes_takes_nothing_with_it() -> None:
    lines = ("Time,Speed,Note\n" + rows("{t:.2f},100,ok")).splitlines()
    lines[50] = '1.96,100,"wet'
    assert len(read("\n".join(lines)).t_s) == COUNT


def test_no_word_of_a_library_reaches_anybody() -> None:
    for text in ("Time,Speed", "Time,Speed\n", "Time,Speed\n1\n", "Time;Speed\n" + "x;y\n" * 9):
        assert not re.search("skip_lines|schema|polars|column get", refused(text))
