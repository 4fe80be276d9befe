"""Loggers' files looked at: columns recognised, chosen by hand, remembered; nothing kept before."""

import contextlib
import os
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from neapfrost.core.driven.alignment import Aligned
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.logs.log_file import look_at_file
from neapfrost.formats.run import RunColumnDocument
from neapfrost.services.logbook.keeping import (
    RunPlace,
    keep_reading,
    keep_run,
    remembered_columns,
)
from neapfrost.services.logbook.measured import read_file
from neapfrost.services.logbook.readings import (
    GivenFile,
    LogPreview,
    ReadingChoice,
    Readings,
    log_readers,
)
from neapfrost.services.logbook.runs import open_run
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_file, simulated_log
from neapfrost.standins.logger.log_format import LogFormat
from neapfrost.store.database import Store, close_store, open_store
from neapfrost.store.logs import FOLDER, kept_log, sweep_logs
from neapfrost.store.trouble import StoreTrouble

PLAN = composed("dunlin-heath")


@pytest.fixture(scope="module")
def log() -> bytes:
    return simulated_log(PLAN, SimulatedRun(laps=4, seed=3, rate_hz=10.0)).encode()


@pytest.fixture(scope="module")
def strange(log: bytes) -> bytes:
    """The same file with names that nobody knows."""
    head, names, rest = log.decode().partition("Time,Speed,")
    assert names
    return (head + "Clock,Wheel thing," + rest).encode()


@pytest.fixture
def heath(tmp_path: Path) -> Iterator[Store]:
    from neapfrost.services.plans.exchange import import_plan

    store = open_store(tmp_path / "heath")
    import_plan(store, PLAN)
    yield store
    close_store(store)


def look(readings: Readings, store: Store, data: bytes, name: str = "a.csv") -> LogPreview:
    file = GivenFile(1, PLAN, name, data)
    return readings.look(file, remembered_columns(store))


def test_a_file_is_shown_before_anything_of_it_is_kept(heath: Store, log: bytes) -> None:
    readings = Readings()
    found = look(readings, heath, log)
    assert found.faults == []
    assert found.header[:2] == ["Time", "Speed"]
    assert found.columns["speed"] == RunColumnDocument(number=1, unit="km/h")
    assert found.rate_hz == pytest.approx(10.0)
    assert len(found.first) == 3
    roles = [strip.role for strip in found.strips]
    assert roles == ["speed", "lat", "lon", "lateral", "along", "rpm", "gear", "throttle", "brake"]
    speeds = found.strips[0].values
    assert 60.0 < max(speeds) < 250.0
    assert [lap.kind for lap in found.laps].count("timed") == 2
    assert found.said[0].startswith("4 laps were found, 2 of them timed, the best")
    assert not (heath.path.parent / FOLDER).exists()
    run_id = keep_reading(heath, readings.known(found.id), RunPlace(name="Morning"))
    assert open_run(heath, run_id).run.laps == found.laps
    readings.forget(found.id)
    with pytest.raises(InputRefused, match="no longer in memory"):
        readings.known(found.id)


def test_columns_are_chosen_by_hand_and_remembered_for_the_next_file_of_the_kind(
    heath: Store, strange: bytes
) -> None:
    readings = Readings()
    found = look(readings, heath, strange)
    assert found.faults == ["columns: Time is missing: choose the column that holds it."]
    with pytest.raises(InputRefused, match="is missing: choose the column"):
        keep_reading(heath, readings.known(found.id), RunPlace())
    chosen = {
        **found.columns,
        "time": RunColumnDocument(number=0, unit="s"),
        "speed": RunColumnDocument(number=1, unit="m/s"),
    }
    wrong = readings.again(found.id, PLAN, ReadingChoice(columns=chosen))
    assert "the column is probably not in m/s" in wrong.faults[0]
    right = {**chosen, "speed": RunColumnDocument(number=1, unit="km/h")}
    good = readings.again(found.id, PLAN, ReadingChoice(columns=right))
    assert good.faults == []
    keep_reading(heath, readings.known(good.id), RunPlace())
    again = look(readings, heath, strange)
    assert again.remembered
    assert again.faults == []
    assert again.columns == right


def test_what_is_no_log_is_refused_and_a_file_is_stopped(heath: Store, log: bytes) -> None:
    readings = Readings()
    with pytest.raises(InputRefused, match="No table of samples was found"):
        look(readings, heath, b"a,b\n1,2\n")
    elsewhere = readings.look(GivenFile(1, composed("k4-dry"), "a.csv", log), {})
    assert "another circuit" in elsewhere.faults[0]
    assert elsewhere.strips
    hill = readings.look(GivenFile(1, composed("dunlin-hill"), "a.csv", log), {})
    assert "another circuit" in hill.faults[0]
    lines = log.decode().splitlines()
    lines[20] = lines[20].replace(",", ",x", 1)
    spoiled = look(readings, heath, "\n".join(lines).encode())
    assert spoiled.faults[0].startswith("line 21, column 2")
    assert readings.progress("nobody").doing == "reading the samples"
    with pytest.raises(InputRefused, match="stopped"):
        Readings(log_readers()).look(
            GivenFile(1, PLAN, "a.csv", log), {}, "watch-1234", lambda: True
        )


def test_a_log_without_a_name_that_is_known_is_read_once_columns_are_chosen(
    heath: Store, log: bytes
) -> None:
    """Names of another language, none in common with ours; semicolons and decimal commas."""
    text = log.decode()
    _, names, rest = text.partition("Time,Speed,")
    assert names
    rows = rest.splitlines()
    strange = ["Rec;Ure;Hitrost;" + ";".join(f"Kanal {n}" for n in range(rows[0].count(",") + 1))]
    samples = [row.split(",") for row in rows[1:] if row and row[0].isdigit()]
    strange += ["1;" + ";".join(cell.replace(".", ",") for cell in row) for row in samples]
    data = "\n".join(strange).encode("utf-16")
    readings = Readings()
    found = look(readings, heath, data)
    assert found.header[:3] == ["Rec", "Ure", "Hitrost"]
    assert found.faults == ["columns: Time is missing: choose the column that holds it."]
    assert {choice.role for choice in found.choices if choice.needed} == {"time", "speed"}
    header = ["Time", "Speed", *rows[0].split(",")]
    columns = {
        role: RunColumnDocument(number=1 + header.index(name), unit=unit)
        for role, name, unit in (
            ("time", "Time", "s"),
            ("speed", "Speed", "km/h"),
            ("lat", "Latitude", "deg"),
            ("lon", "Longitude", "deg"),
        )
    }
    chosen = readings.again(found.id, PLAN, ReadingChoice(columns=columns))
    assert chosen.faults == []
    assert [lap.kind for lap in chosen.laps].count("timed") == 2


def test_the_log_of_another_circuit_is_refused_and_a_doubtful_one_is_asked_about(
    heath: Store, log: bytes
) -> None:
    other = simulated_log(composed("sanderling-fen"), SimulatedRun(laps=3, seed=1, rate_hz=10.0))
    readings = Readings()
    refused = look(readings, heath, other.encode())
    assert refused.laps == []
    assert "it is another circuit" in refused.faults[0]
    with pytest.raises(InputRefused, match="it is another circuit"):
        keep_run(heath, 1, "fen.csv", other.encode())
    assert look(readings, heath, log).doubt is None
    # Between the two nobody but whoever was there can say.
    held = readings.known(look(readings, heath, log).id)
    doubtful = replace(held, preview=held.preview.model_copy(update={"doubt": "Is it?"}))
    with pytest.raises(InputRefused, match="Is it"):
        keep_reading(heath, doubtful, RunPlace(name="Fog"))
    assert not (heath.path.parent / FOLDER).exists()
    keep_reading(heath, doubtful, RunPlace(name="Fog", certain=True))
    for alike, misfit_m, sure in ((0.96, 1.3, True), (0.85, 1.0, False), (0.97, 7.0, False)):
        assert Aligned(np.zeros(2), alike, misfit_m, 1.0, False).sure is sure


def test_a_kept_log_is_healed_and_what_nobody_refers_to_is_put_aside(
    heath: Store, log: bytes
) -> None:
    run_id = keep_run(heath, 1, "a.csv", log)
    name = open_run(heath, run_id).run.log
    assert name is not None
    folder = heath.path.parent / FOLDER
    path = folder / f"{name}.csv.gz"
    whole = path.read_bytes()
    for damaged in (whole[: len(whole) // 2], whole[:40] + b"\x00\xff" * 20 + whole[80:], b""):
        path.write_bytes(damaged)
        with pytest.raises(StoreTrouble, match="log of this run is damaged"):
            kept_log(heath, name)
        assert keep_run(heath, 1, "a.csv", log) == run_id
        assert kept_log(heath, name) == log
    # A run that is refused leaves no file behind.
    with pytest.raises(InputRefused, match="none is named"):
        keep_run(heath, 1, "b.csv", log + b"\n", place=RunPlace(session=3))
    assert [one.name for one in folder.iterdir()] == [path.name]
    orphan, half = folder / f"{'0' * 64}.csv.gz", folder / "x.csv.unfinished"
    fresh = folder / f"{'1' * 64}.csv.gz"
    for one in (orphan, half, fresh):
        one.write_bytes(whole)
    for old in (orphan, half, path):
        os.utime(old, (1.0, 1.0))
    sweep_logs(heath)
    assert path.is_file()
    assert fresh.is_file()
    assert not half.exists()
    assert not orphan.exists()
    # A backup of the database that is put back finds its log again.
    path.replace(folder / "unused" / path.name)
    assert kept_log(heath, name) == log


@pytest.mark.parametrize("kind", [kind for kind in LogFormat if kind is not LogFormat.CSV])
def test_a_file_of_any_kind_becomes_the_run_it_was(heath: Store, kind: LogFormat) -> None:
    wanted = SimulatedRun(laps=5, seed=5, rate_hz=20.0)
    as_text = look(Readings(), heath, simulated_file(PLAN, wanted, LogFormat.CSV))
    readings = Readings()
    found = look(readings, heath, simulated_file(PLAN, wanted, kind), f"a.{kind}")
    assert found.faults == []
    assert found.best_s is not None
    assert as_text.best_s is not None
    # A record each second is coarser than twenty of them.
    assert found.best_s == pytest.approx(as_text.best_s, abs=0.15 if kind == "fit" else 0.03)
    assert found.doubts == []
    run_id = keep_reading(heath, readings.known(found.id), RunPlace())
    run = open_run(heath, run_id).run
    assert run.laps == found.laps
    assert run.log is not None
    again = read_file(kept_log(heath, run.log), run.columns).log
    assert len(again.t_s) == found.samples


def test_every_channel_is_shown_and_what_is_not_used_is_kept(heath: Store) -> None:
    readings = Readings()
    data = simulated_file(PLAN, SimulatedRun(laps=2, seed=5, rate_hz=10.0), LogFormat.PARQUET)
    found = look(readings, heath, data)
    by_name = {one.name: one for one in found.channels}
    speed, water = by_name["Speed [km/h]"], by_name["Water temperature [°C]"]
    assert (speed.role, speed.unit, speed.why) == ("speed", "km/h", "by its name")
    assert (water.role, water.unit, water.why) == ("", "°C", "")
    assert water.low == pytest.approx(82.0, abs=0.5)
    assert 0.0 < by_name["Latitude [deg]"].blank_pct < 10.0
    assert len(speed.strip) > 50
    chosen = {**found.columns, "rpm": RunColumnDocument(number=water.number, unit="1/min")}
    again = readings.again(found.id, PLAN, ReadingChoice(columns=chosen))
    assert again.file_kind == "Parquet"
    assert {one.why for one in again.channels} == {"", "as chosen"}
    run_id = keep_reading(heath, readings.known(found.id), RunPlace())
    kept = look_at_file(kept_log(heath, open_run(heath, run_id).run.log or ""))
    assert kept.layout is not None
    assert "Water temperature [°C]" in kept.layout.header


@pytest.mark.parametrize(
    ("written", "told", "role", "unit"),
    [
        ("km/h", "mph", "speed", "km/h"),
        ("km/h", "kn", "speed", "km/h"),
        (",g,g,", ",m/s2,m/s2,", "lateral", "g"),
    ],
)
def test_a_unit_that_contradicts_the_positions_is_noticed(
    heath: Store, log: bytes, written: str, told: str, role: str, unit: str
) -> None:
    readings = Readings()
    assert look(readings, heath, log).doubts == []
    found = look(readings, heath, log.replace(written.encode(), told.encode(), 1))
    (doubt,) = found.doubts
    assert (doubt.role, doubt.unit) == (role, unit)
    assert f"it is probably in {unit}." in doubt.said
    column = RunColumnDocument(number=found.columns[role].number, unit=doubt.unit)
    choice = ReadingChoice(columns={**found.columns, role: column})
    right = readings.again(found.id, PLAN, choice)
    assert right.doubts == []
    assert right.faults == []


def test_a_file_that_brings_its_reader_down_is_a_sentence_and_the_next_is_read(
    heath: Store,
) -> None:
    """In the process of its own, where a library may fail in any way it likes."""
    data = simulated_file(PLAN, SimulatedRun(laps=4, seed=5, rate_hz=20.0), LogFormat.MF4)
    readings = Readings(log_readers())
    chance = np.random.default_rng(3)
    for _ in range(12):
        spoiled = bytearray(data)
        for at in chance.integers(64, 6_000, size=9):
            spoiled[int(at)] = int(chance.integers(0, 256))
        # Read as well as it can be, or refused in a sentence: anything else fails here.
        with contextlib.suppress(InputRefused):
            assert look(readings, heath, bytes(spoiled)).file_kind == "ASAM MDF"
    found = look(readings, heath, data)
    assert found.faults == []
    assert found.best_s is not None
    readings.close()
