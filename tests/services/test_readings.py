"""Loggers' files looked at: columns recognised, chosen by hand, remembered; nothing kept before."""

from collections.abc import Iterator
from pathlib import Path

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.run import RunColumnDocument
from neapfrost.services.logbook.keeping import RunPlace, keep_reading, remembered_columns
from neapfrost.services.logbook.readings import (
    GivenFile,
    LogPreview,
    ReadingChoice,
    Readings,
    log_readers,
)
from neapfrost.services.logbook.runs import open_run
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.store.database import Store, close_store, open_store
from neapfrost.store.logs import FOLDER

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
    return readings.look(file, lambda kind: remembered_columns(store, kind))


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
    with pytest.raises(InputRefused, match="not held any more"):
        readings.known(found.id)


def test_columns_are_chosen_by_hand_and_remembered_for_the_next_file_of_the_kind(
    heath: Store, strange: bytes
) -> None:
    readings = Readings()
    found = look(readings, heath, strange)
    assert found.faults == ["columns: no column is chosen for the time"]
    with pytest.raises(InputRefused, match="no column is chosen"):
        keep_reading(heath, readings.known(found.id), RunPlace())
    chosen = {
        **found.columns,
        "time": RunColumnDocument(number=0, unit="s"),
        "speed": RunColumnDocument(number=1, unit="m/s"),
    }
    wrong = readings.again(found.id, PLAN, ReadingChoice(columns=chosen))
    assert "the column is hardly in m/s" in wrong.faults[0]
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
    with pytest.raises(InputRefused, match="no line names the channels"):
        look(readings, heath, b"a,b\n1,2\n")
    elsewhere = readings.look(GivenFile(1, composed("k4-dry"), "a.csv", log), lambda _: None)
    assert "another circuit" in elsewhere.faults[0]
    assert elsewhere.strips
    hill = readings.look(GivenFile(1, composed("dunlin-hill"), "a.csv", log), lambda _: None)
    assert "not driven from its start to its end" in hill.faults[0]
    lines = log.decode().splitlines()
    lines[20] = lines[20].replace(",", ",x", 1)
    spoiled = look(readings, heath, "\n".join(lines).encode())
    assert spoiled.faults[0].startswith("line 21, column 2")
    assert readings.progress("nobody").doing == "reading the samples"
    with pytest.raises(InputRefused, match="stopped"):
        Readings(log_readers()).look(
            GivenFile(1, PLAN, "a.csv", log), lambda _: None, "watch-1234", lambda: True
        )
