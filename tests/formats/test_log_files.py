"""Loggers' files of every kind, each written by its own library and not by what reads it."""

import io
import zipfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import polars as pl
import pynmea2
import pytest
from asammdf import MDF, Signal
from numpy.typing import NDArray

from neapfrost.core.driven.log import Log
from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.solve import solve
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.logs.log_file import log_of_file, look_at_file
from neapfrost.formats.logs.recognise import KIND_NAMES
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.files import log_as
from neapfrost.standins.logger.instruments import Instruments, logged
from neapfrost.standins.logger.log_format import LogFormat

KINDS = {
    "csv": "text in columns",
    "mf4": "ASAM MDF",
    "fit": "FIT activity",
    "nmea": "NMEA 0183",
    "parquet": "Parquet",
    "xlsx": "spreadsheet",
}


@pytest.fixture(scope="module")
def columns() -> dict[str, NDArray[np.float64]]:
    plan = demo_plan("dunlin-heath")
    assert plan is not None
    lap = solve(planned(plan.document).drive)
    return logged([lap] * 4, 4, Instruments(rate_hz=20.0))


def read(data: bytes) -> Log:
    file = look_at_file(data)
    return log_of_file(file, file.layout)[0]


@pytest.mark.parametrize("kind", LogFormat)
def test_every_kind_gives_back_what_was_logged(
    columns: dict[str, NDArray[np.float64]], kind: LogFormat
) -> None:
    data = log_as(kind, columns, {"Track": "Crake Heath"})
    file = look_at_file(data)
    assert KIND_NAMES[file.kind] == KINDS[kind]
    log = log_of_file(file, file.layout)[0]
    t = columns["Time"] - columns["Time"][0]
    own = log.t_s - log.t_s[0]
    speed = np.interp(own, t, columns["Speed"] / 3.6)
    known = np.isfinite(log.v_ms)
    assert known.mean() > 0.99
    assert log.v_ms[known] == pytest.approx(speed[known], abs=0.02)
    assert log.east_m is not None
    assert np.nanmax(log.east_m) - np.nanmin(log.east_m) > 300.0
    if kind in ("csv", "mf4", "parquet", "xlsx"):
        assert log.gear is not None
        assert log.throttle is not None
        gears = set(log.gear[np.isfinite(log.gear)])
        assert gears == set(columns["Gear"])
        assert float(np.nanmax(log.throttle)) == pytest.approx(1.0)


def test_channels_of_many_rates_come_together_and_say_so(
    columns: dict[str, NDArray[np.float64]],
) -> None:
    file = look_at_file(log_as(LogFormat.MF4, columns, {}))
    assert file.said == (
        "9 channels logged at 20, 10 Hz were put onto 20 Hz: linear between samples, gears and "
        "switches held until the next.",
    )
    assert file.about["Recorded"].startswith("2031-05-17 10:00:00")


@pytest.mark.parametrize("version", ["3.30", "4.00", "4.11"])
def test_measurement_files_of_other_hands(version: str, tmp_path: Path) -> None:
    fast, slow = np.arange(4000) / 100.0, np.arange(200) / 5.0
    speed = 20.0 + 10.0 * np.sin(fast)
    words = {"val_0": 0, "text_0": b"neutral", "val_1": 3, "text_1": b"third", "default": b""}
    with MDF(version=version) as file:
        file.append([Signal(samples=speed, timestamps=fast, name="VehSpd", unit="m/s")])
        file.append(
            [
                Signal(
                    samples=np.where(slow < 20.0, 0, 3).astype(np.uint8),
                    timestamps=slow,
                    name="Gear",
                    conversion=words,
                ),
                Signal(samples=80.0 + slow, timestamps=slow, name="Coolant", unit="degC"),
            ]
        )
        saved = file.save(tmp_path / "measured", overwrite=True)
    looked = look_at_file(Path(saved).read_bytes())
    assert looked.layout is not None
    assert looked.layout.header == ("Time [s]", "VehSpd [m/s]", "Gear", "Coolant [degC]")
    log = log_of_file(looked, looked.layout)[0]
    assert log.v_ms == pytest.approx(speed, abs=1e-9)
    assert log.gear is not None
    assert set(log.gear[np.isfinite(log.gear)]) == {0.0, 3.0}
    # What nothing here reads is kept with the rest.
    kept = look_at_file(looked.kept)
    assert kept.layout is not None
    assert kept.layout.header == looked.layout.header
    assert kept.said == looked.said
    assert read(looked.kept).v_ms == pytest.approx(speed)


def test_sentences_of_a_receiver_with_damaged_ones_and_none_without_a_fix() -> None:
    lines = []
    begun = datetime(2031, 5, 17, 23, 59, 30, tzinfo=UTC)
    for n in range(600):
        when = begun + timedelta(seconds=0.1 * n)
        fixed = n >= 50
        place = (f"5200.{n:04d}", "N", "00400.0000", "W") if fixed else ("", "", "", "")
        fields = (
            *(when.strftime("%H%M%S.%f")[:9], "A" if fixed else "V", *place, "58.32", "10.0"),
            *(when.strftime("%d%m%y"), "", ""),
        )
        lines.append(str(pynmea2.RMC("GN", "RMC", fields)))
        lines.append(str(pynmea2.GGA("GN", "GGA", (fields[0], *place, "1", "9", "0.9", "12.5"))))
    lines[400] = lines[400][:-4] + "*00"
    lines[402] = "$GNRMC,garbage"
    looked = look_at_file("\r\n".join(lines).encode())
    assert looked.said == ("598 RMC sentences were read.", "2 damaged sentences were left out.")
    log = log_of_file(looked, looked.layout)[0]
    assert log.v_ms == pytest.approx(np.full(598, 58.32 * 1852 / 3600))
    # Midnight is passed without time falling.
    assert log.t_s[-1] == pytest.approx(59.9)
    assert log.north_m is not None
    assert np.isnan(log.north_m[:50]).all()
    assert np.isfinite(log.north_m[50:]).all()


def test_a_spreadsheet_with_a_title_units_and_moments() -> None:
    begun = datetime(2031, 5, 17, 14, 0, 0)
    count = 400
    frame = pl.DataFrame(
        {
            "Datetime": [begun + timedelta(seconds=0.1 * n) for n in range(count)],
            "Water (°C)": [80.0] * count,
            "Geschwindigkeit [km/h]": [100.0 + 0.1 * n for n in range(count)],
            "Remark": ["pit" if n == 3 else None for n in range(count)],
        }
    )
    written = io.BytesIO()
    import xlsxwriter

    with xlsxwriter.Workbook(written, {"default_date_format": "yyyy-mm-dd hh:mm:ss.000"}) as book:
        notes = book.add_worksheet("Notes")
        notes.write(0, 0, "Exported by hand")
        sheet = book.add_worksheet("Run 1")
        sheet.write(0, 0, "Session")
        sheet.write(0, 1, "Morning")
        for column, name in enumerate(frame.columns):
            sheet.write(2, column, name)
            for row, value in enumerate(frame[name]):
                if value is not None:
                    sheet.write(3 + row, column, value)
    log = read(written.getvalue())
    assert len(log.t_s) == count
    assert np.diff(log.t_s) == pytest.approx(np.full(count - 1, 0.1), abs=2e-3)
    assert log.v_ms[0] == pytest.approx(100.0 / 3.6)


def test_columns_of_other_types_are_read_or_passed_over() -> None:
    count = 300
    begun = datetime(2031, 5, 17, 9, 0, 0)
    frame = pl.DataFrame(
        {
            "timestamp": [begun + timedelta(milliseconds=50 * n) for n in range(count)],
            "name": ["lap"] * count,
            "speed": [f"{30.5 + 0.01 * n:.2f}".replace(".", ",") for n in range(count)],
            "on": [n % 2 == 0 for n in range(count)],
            "gear": pl.Series([3] * count, dtype=pl.UInt8),
        }
    )
    for write in (frame.write_parquet, frame.write_ipc):
        written = io.BytesIO()
        write(written)
        log = read(written.getvalue())
        assert log.v_ms[0] == pytest.approx(30.5 / 3.6)
        assert log.t_s[1] - log.t_s[0] == pytest.approx(0.05)
        assert log.gear is not None


def zipped(*names: str) -> bytes:
    written = io.BytesIO()
    with zipfile.ZipFile(written, "w") as archive:
        for name in names:
            archive.writestr(name, "x")
    return written.getvalue()


NO_LOGS = (
    (b"", "the file is empty"),
    (
        zipped("a.csv", "b.csv", "c/d.txt", "e.txt"),
        "this file is a ZIP archive with 4 files: a.csv, b.csv, c/d.txt and 1 more; unpack it",
    ),
    (zipped("run.csv")[:30], "this file is a damaged ZIP archive"),
    (b"\x89PNG\r\n\x1a\n" + bytes(40), "this file is a picture; a log"),
    (b"%PDF-1.7\n", "this file is a PDF document; export the log as a table"),
    (b"\x1f\x8b\x08" + bytes(20), "this file is compressed with gzip; unpack it first"),
    (b'{"format": 1}', "this file is JSON; a log"),
    (b"<?xml version='1.0'?><kml></kml>", "this file is XML but not a GPX track"),
    (b"MDF     4.10" + bytes(60), "the MDF file is damaged or incomplete"),
    (b"\x0e\x10\x00\x00\x00\x00\x00\x00.FIT" + bytes(8), "the FIT file"),
    (b"PAR1" + bytes(40), "the Parquet file is damaged"),
    (b"ARROW1\x00\x00" + bytes(40), "the Arrow file is damaged"),
    (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(600), "the spreadsheet cannot be read"),
    (zipped("xl/workbook.xml"), "the spreadsheet cannot be read"),
    (
        b"$GPGSV,1,1,00*79\r\n$GPGSV,1,1,00*79\r\n",
        "none of the 2 NMEA sentences is an RMC with time and speed",
    ),
    (b"BM and other words\n1,2\n", "No table of samples was found"),
)


@pytest.mark.parametrize("number", range(len(NO_LOGS)), ids=lambda n: NO_LOGS[n][1][:40])
def test_what_is_no_log_is_told_what_it_looks_like(number: int) -> None:
    data, said = NO_LOGS[number]
    with pytest.raises(InputRefused) as refused:
        look_at_file(data)
    assert said in str(refused.value)


@pytest.mark.parametrize("kind", [kind for kind in LogFormat if kind not in ("csv", "nmea")])
@pytest.mark.parametrize("share", [0.3, 0.9, 0.999])
def test_a_file_that_was_cut_off_is_refused_in_a_sentence(
    columns: dict[str, NDArray[np.float64]], kind: LogFormat, share: float
) -> None:
    data = log_as(kind, {name: one[:800] for name, one in columns.items()}, {})
    with pytest.raises(InputRefused) as refused:
        look_at_file(data[: int(share * len(data))])
    assert len(refused.value.faults) == 1
