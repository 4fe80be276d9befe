"""Runs kept from logs, and their laps against the lap predicted on what they were driven on."""

import pytest

from neapfrost.core.driven.losses import CornerLoss
from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.run import RunDocument
from neapfrost.services.laps.figures import Change
from neapfrost.services.logbook import runs
from neapfrost.services.logbook.runs import (
    keep_run,
    lap_against,
    open_run,
    remark_run,
    run_csv,
    run_json,
    runs_of,
)
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.services.plans.collection import delete, restore
from neapfrost.services.plans.workbench import keep_changes, open_plan
from neapfrost.services.words.logbook import lap_losses_said, run_said
from neapfrost.store.database import Store
from neapfrost.store.logs import FOLDER
from neapfrost.store.trouble import StoreTrouble

WANTED = SimulatedRun(laps=4, seed=3, rate_hz=20.0)


@pytest.fixture(scope="module")
def log(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return simulated_log(composed("k4-dry"), WANTED).encode()


@pytest.fixture
def run_id(store: Store, log: bytes) -> int:
    return keep_run(store, 1, "Morning", log)


def test_a_run_is_kept_once_with_its_log_and_what_it_was_driven_on(
    store: Store, run_id: int, log: bytes
) -> None:
    assert keep_run(store, 1, "Again", log) == run_id
    (listed,) = runs_of(store, 1)
    assert (listed.name, listed.circuit, listed.lap_count) == ("Morning", "Sallow Fen", 2)
    opened = open_run(store, run_id)
    assert opened.run.revisions == open_plan(store, 1).revisions
    assert opened.run.about["Track"] == "Sallow Fen"
    assert opened.predicted_s == pytest.approx(98.57, abs=0.05)
    assert "2 timed laps, the best" in opened.said[0]
    (kept,) = (store.path.parent / FOLDER).iterdir()
    assert kept.stat().st_size < 0.6 * len(log)
    assert RunDocument.model_validate_json(run_json(store, run_id)) == opened.run
    assert runs_of(store, 2) == [listed]  # the same circuit
    rows = run_csv(store, run_id).splitlines()
    assert rows[0].startswith('Lap,Kind,Time [s],"Sluice, minimum [m/s]"')
    assert len(rows) == 1 + len(opened.run.laps)


def test_a_lap_is_held_against_the_plan_as_it_was_then(store: Store, run_id: int) -> None:
    opened = open_run(store, run_id)
    number = next(lap.number for lap in opened.run.laps if lap.kind == "timed")
    before = lap_against(store, run_id, number)
    assert len(before.corners) == 11
    assert before.loss_s[-1] == pytest.approx(before.lap_time_s - before.predicted_s, abs=0.01)
    total = sum(corner.loss.all_s for corner in before.corners)
    assert total == pytest.approx(before.lap_time_s - before.predicted_s, abs=1e-3)
    assert before.said[0].endswith("than predicted.")
    # The same lap has the same time wherever it is shown.
    (listed,) = [lap for lap in opened.run.laps if lap.number == number]
    assert before.lap_time_s == listed.lap_time_s
    assert all(corner.said for corner in before.corners)
    # The plan goes on; the run stays with what it was driven on.
    revisions = open_plan(store, 1).revisions
    keep_changes(store, 1, revisions, [Change(field="grip", value=1.40)])
    assert lap_against(store, run_id, number) == before
    imperial = lap_against(store, run_id, number, "feet")
    assert imperial.lap_time_s == before.lap_time_s


def test_what_cannot_be_kept_or_shown_says_why(store: Store, run_id: int) -> None:
    with pytest.raises(InputRefused, match="a lap from line to line is expected"):
        lap_against(store, run_id, 99)
    heath = simulated_log(composed("dunlin-heath"), SimulatedRun(laps=2, seed=1)).encode()
    with pytest.raises(InputRefused, match="another"):
        keep_run(store, 1, "Elsewhere", heath)
    assert len(list((store.path.parent / FOLDER).iterdir())) == 1
    for path in (store.path.parent / FOLDER).iterdir():
        path.write_bytes(b"gone")
    number = next(lap.number for lap in open_run(store, run_id).run.laps if lap.lap_time_s)
    runs._laid.cache_clear()
    with pytest.raises(StoreTrouble, match="not there any more"):
        lap_against(store, run_id, number)


def test_remarks_are_kept_and_a_run_is_taken_out_and_brought_back(
    store: Store, run_id: int
) -> None:
    remark_run(store, run_id, "Session 2", "understeer in Bittern")
    opened = open_run(store, run_id)
    assert (opened.run.name, opened.run.remarks) == ("Session 2", "understeer in Bittern")
    remark_run(store, run_id, None, "")
    assert open_run(store, run_id).run.name == "Session 2"
    delete(store, "run", run_id)
    assert runs_of(store, 1) == []
    restore(store, "run", run_id)
    assert [run.name for run in runs_of(store, 1)] == ["Session 2"]


def test_an_open_course_has_no_simulated_run() -> None:
    with pytest.raises(InputRefused, match="open course"):
        simulated_log(composed("dunlin-hill"), WANTED)


def test_what_is_said_of_laps_names_the_most_first() -> None:
    def loss(seconds: float) -> CornerLoss:
        return CornerLoss(seconds, 0.0, 0.0, 0.0, 0.0)

    said = lap_losses_said(["A", "B", "C"], [loss(0.05), loss(0.2), loss(-0.1)], 0.15)
    assert said == [
        "0.15 s slower than predicted.",
        "The most is lost at B 0.20 s, A 0.05 s.",
        "Gained at C 0.10 s.",
    ]
    assert run_said([], None) == ["No lap of this run was driven for its time."]
    assert "scattering by" in run_said([60.0, 60.5, 61.0], 59.0)[0]
    assert run_said([60.0], 60.5)[1] == "The best is 0.50 s quicker than predicted."
