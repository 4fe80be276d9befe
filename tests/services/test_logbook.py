"""Runs kept, typed and changed; events; laps together; what changed; a corner's history."""

import shutil
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from neapfrost.core.driven.losses import CornerLoss
from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.demo.plans import composed
from neapfrost.formats.run import RunDocument, SeenDocument, TyresDocument
from neapfrost.services.laps.figures import Change
from neapfrost.services.logbook import kept
from neapfrost.services.logbook.against import lap_against, plan_against
from neapfrost.services.logbook.changed import changed_since
from neapfrost.services.logbook.debrief import debrief, debrief_markdown
from neapfrost.services.logbook.editing import Belonging, LapMark, RunEdit, edit_run
from neapfrost.services.logbook.events import (
    EventEdit,
    NewEvent,
    edit_event,
    make_event,
    season,
)
from neapfrost.services.logbook.exports import channels_csv, run_csv, run_json
from neapfrost.services.logbook.fits import FitRequest, fit_course
from neapfrost.services.logbook.history import corner_history, history_csv
from neapfrost.services.logbook.keeping import RunPlace, begin_run, keep_run, recorded_at, take_run
from neapfrost.services.logbook.runs import open_run
from neapfrost.services.logbook.several import several
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.services.plans.collection import delete, restore
from neapfrost.services.plans.exchange import import_plan, kept_plan
from neapfrost.services.plans.workbench import keep_changes, open_plan
from neapfrost.services.studies.alone import driven_alone
from neapfrost.services.words.logbook import describe_lap_losses, describe_run
from neapfrost.store.database import Store, close_store, open_store
from neapfrost.store.items import NotThere
from neapfrost.store.logs import FOLDER
from neapfrost.store.trouble import StoreTrouble

WANTED = SimulatedRun(laps=7, seed=3, rate_hz=10.0)


@pytest.fixture(scope="module")
def log() -> bytes:
    return simulated_log(composed("k4-dry"), WANTED).encode()


@pytest.fixture(scope="module")
def driven(seeded: Path, log: bytes, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Folder of a closed store with an event, a session of it and a run (1) in that."""
    folder = tmp_path_factory.mktemp("driven") / "store"
    shutil.copytree(seeded, folder)
    store = open_store(folder)
    event = make_event(store, 1, NewEvent(name="Spring test", held_on="2025-05-17"))
    place = RunPlace(event_id=event, session=1)
    keep_run(store, 1, "Morning", log, place=place, driven_at="2025-05-17T10:00:00")
    close_store(store)
    return folder


@pytest.fixture
def book(driven: Path, tmp_path: Path) -> Iterator[Store]:
    shutil.copytree(driven, tmp_path / "book")
    store = open_store(tmp_path / "book")
    yield store
    close_store(store)


def timed(store: Store, run_id: int = 1) -> int:
    best = open_run(store, run_id).best
    assert best is not None
    return best


def test_a_run_is_kept_once_with_its_log_and_what_it_was_driven_on(book: Store, log: bytes) -> None:
    assert keep_run(book, 1, "Again", log) == 1
    opened = open_run(book, 1)
    assert (opened.event, opened.session_name) == ("Spring test", "Test 1")
    assert opened.run.revisions == open_plan(book, 1).revisions
    assert opened.run.about["Track"] == "Sallow Fen"
    assert opened.predicted_s == pytest.approx(99.09, abs=0.05)
    assert "5 timed laps, the best" in opened.said[0]
    (file,) = (book.path.parent / FOLDER).iterdir()
    assert file.stat().st_size < 0.6 * len(log)
    assert RunDocument.model_validate_json(run_json(book, 1)) == opened.run
    rows = run_csv(book, 1).splitlines()
    assert rows[0].startswith("Lap,Kind,Time [s],Sector 1 [s]")
    assert len(rows) == 1 + len(opened.run.laps)
    head, *samples = channels_csv(book, 1, timed(book)).splitlines()
    assert head.startswith("Place [m],Time [s],Speed [m/s],Along [m/s2],Gear,Throttle")
    assert len(samples) > 900


def test_a_lap_is_held_against_the_plan_as_it_was_then(book: Store) -> None:
    number = timed(book)
    before = lap_against(book, 1, number)
    assert len(before.corners) == 11
    change = before.lap_time_s - before.predicted_s
    assert before.loss_s[-1] == pytest.approx(change, abs=0.01)
    assert sum(c.loss.all_s for c in before.corners if c.loss) == pytest.approx(change, abs=1e-3)
    # The kept lap says the same: measured once, shown in many places.
    (lap,) = [one for one in open_run(book, 1).run.laps if one.number == number]
    assert before.lap_time_s == lap.lap_time_s
    assert sum(lap.sectors_s) == pytest.approx(before.lap_time_s, abs=1e-3)
    for own, there in zip(lap.corners, before.corners, strict=True):
        assert own.min_speed_ms == pytest.approx(there.min_speed_ms, abs=1e-4)
        assert there.loss is not None
        assert own.loss.entry_s == pytest.approx(there.loss.entry_s, abs=1e-5)
    # The plan goes on; the run stays with what it was driven on.
    revisions = open_plan(book, 1).revisions
    keep_changes(book, 1, revisions, [Change(field="grip", value=1.40)])
    assert lap_against(book, 1, number) == before
    assert lap_against(book, 1, number, "feet").lap_time_s == before.lap_time_s


def test_any_lap_is_a_benchmark(book: Store) -> None:
    laps = [lap.number for lap in open_run(book, 1).run.laps if lap.kind == "timed"]
    one, other = (lap_against(book, 1, n, against="plan") for n in laps[:2])
    both = lap_against(book, 1, laps[0], against=f"run:1:{laps[1]}")
    change = one.lap_time_s - other.lap_time_s
    assert sum(c.loss.all_s for c in both.corners if c.loss) == pytest.approx(change, abs=1e-3)
    assert both.said[0].endswith(f"than lap {laps[1]} of Morning.")
    race = lap_against(book, 1, laps[0], against="plan:2")
    assert race.against == open_plan(book, 2).plan.name
    assert race.predicted_s != one.predicted_s
    turned = plan_against(book, 1, f"run:1:{laps[0]}")
    assert turned.loss_s[-1] == pytest.approx(-one.loss_s[-1], abs=0.01)
    typed = begin_run(book, 1, RunPlace(name="Paper"))
    edit_run(book, typed, RunEdit(typed="1:39.5"))
    edit_run(book, typed, RunEdit(seen=SeenDocument(corner="Sluice", min_speed_ms=30.0)))
    paper = lap_against(book, 1, laps[0], against=f"run:{typed}:1")
    assert (paper.predicted_s, paper.predicted_ms) == (99.5, [])
    by_name = {corner.name: corner for corner in paper.corners}
    assert by_name["Sluice"].plan_min_speed_ms == 30.0
    assert by_name["Bittern"].plan_min_speed_ms is None
    with pytest.raises(InputRefused, match="is not a lap"):
        lap_against(book, 1, laps[0], against="yesterday")
    heath = import_plan(book, composed("dunlin-heath")).plan_id
    with pytest.raises(InputRefused, match="has other corners"):
        lap_against(book, 1, laps[0], against=f"plan:{heath}")
    with pytest.raises(InputRefused, match="was typed"):
        lap_against(book, typed, 1)


def test_what_cannot_be_kept_or_shown_says_why(book: Store) -> None:
    with pytest.raises(InputRefused, match="a complete lap is expected"):
        lap_against(book, 1, 99)
    heath = simulated_log(composed("dunlin-heath"), SimulatedRun(laps=2, seed=1)).encode()
    with pytest.raises(InputRefused, match="another"):
        keep_run(book, 1, "Elsewhere", heath)
    with pytest.raises(InputRefused, match="Spring test has no session 7"):
        begin_run(book, 1, RunPlace(event_id=1, session=7))
    with pytest.raises(InputRefused, match="none is named"):
        begin_run(book, 1, RunPlace(session=1))
    for path in (book.path.parent / FOLDER).iterdir():
        path.write_bytes(b"gone")
    kept._laid.cache_clear()
    with pytest.raises(StoreTrouble, match="is damaged; import the log again"):
        lap_against(book, 1, timed(book))


def test_laps_are_typed_as_on_paper_and_nothing_typed_is_lost(book: Store) -> None:
    place = RunPlace(name="Afternoon", event_id=1, session=1)
    run_id = begin_run(book, 1, place)
    text = "o\n1:39.412 33.1 33.2 33.112\n1:39.9 t\nfast\n99,2"
    faults = edit_run(book, run_id, RunEdit(typed=text))
    assert faults[0].startswith('line 4: "fast" is neither a time nor a mark')
    opened = open_run(book, run_id)
    assert opened.run.typed == text
    assert opened.typed_faults == faults
    assert [lap.kind for lap in opened.run.laps] == ["out", "timed", "traffic", "timed"]
    assert opened.best == 4
    edit_run(book, run_id, RunEdit(mark=LapMark(number=4, kind="void")))
    assert open_run(book, run_id).best == 2
    with pytest.raises(InputRefused, match="lap 1 has no time"):
        edit_run(book, run_id, RunEdit(mark=LapMark(number=1, kind="timed")))
    with pytest.raises(InputRefused, match="the run has no lap 9"):
        edit_run(book, run_id, RunEdit(mark=LapMark(number=9, kind="void")))
    with pytest.raises(InputRefused, match="read from a log"):
        edit_run(book, 1, RunEdit(typed="1:40"))


def test_what_was_seen_at_a_corner_is_said_against_its_boards(book: Store) -> None:
    run_id = begin_run(book, 1, RunPlace())
    for said, metres in (("the 100", 100.0), ("10 past the 100", 90.0), ("95", 95.0)):
        seen = SeenDocument(corner="Bittern", braking_said=said, fault="braked_early")
        edit_run(book, run_id, RunEdit(seen=seen))
        (kept_one,) = open_run(book, run_id).run.seen
        assert kept_one.brake_start_to_corner_m == pytest.approx(metres, abs=1.0)
    other = SeenDocument(corner="Bittern", lap=2, gear=3, remark="dust")
    edit_run(book, run_id, RunEdit(seen=other))
    assert len(open_run(book, run_id).run.seen) == 2
    edit_run(book, run_id, RunEdit(seen=SeenDocument(corner="Bittern")))
    assert open_run(book, run_id).run.seen == [other]
    with pytest.raises(InputRefused, match="is no place"):
        edit_run(book, run_id, RunEdit(seen=SeenDocument(corner="Bittern", braking_said="the oak")))
    with pytest.raises(InputRefused, match='no corner "Nowhere"'):
        edit_run(book, run_id, RunEdit(seen=SeenDocument(corner="Nowhere", braking_said="90")))


def test_a_run_goes_on_from_the_one_before_in_its_event(book: Store) -> None:
    edit_run(
        book,
        1,
        RunEdit(
            driver="Oona", tyres=TyresDocument(set="A", laps_before=3), record={"Front bar": "2"}
        ),
    )
    run_id = begin_run(book, 1, RunPlace(event_id=1, session=1))
    run = open_run(book, run_id).run
    assert (run.driver, run.record) == ("Oona", {"Front bar": "2"})
    assert run.tyres == TyresDocument(set="A", laps_before=10)
    edit_run(book, run_id, RunEdit(belongs=Belonging(event_id=None, session=None)))
    assert open_run(book, run_id).event == ""
    edit_run(book, run_id, RunEdit(fuel_in_kg=8.5))
    assert open_run(book, run_id).run.fuel_in_kg == 8.5
    edit_run(book, run_id, RunEdit(fuel_in_kg=None))
    assert open_run(book, run_id).run.fuel_in_kg is None
    edit_run(book, run_id, RunEdit(record={"Front bar": ""}))
    assert open_run(book, run_id).run.record == {}


def test_the_season_lists_events_and_finds_words_anywhere(book: Store) -> None:
    edit_run(book, 1, RunEdit(remarks="understeer in Bittern"))
    heath = import_plan(book, composed("dunlin-heath")).plan_id
    alone = begin_run(book, heath, RunPlace(name="Elsewhere"))
    found = season(book, 1)
    assert [event.name for event in found.events] == ["Spring test"]
    assert [run.id for run in found.events[0].sessions[0].runs] == [1]
    assert [(run.id, run.here) for run in found.runs] == [(alone, False)]
    assert season(book, 1, "UNDERSTEER bittern").events[0].sessions[0].runs[0].id == 1
    nothing = season(book, 1, "oversteer")
    assert (nothing.events, nothing.runs) == ([], [])
    edit_event(book, 1, EventEdit(add_session="race", remarks="dry"))
    again = season(book, 1).events[0]
    assert [session.name for session in again.sessions] == ["Test 1", "Race 2"]
    assert season(book, 1, "dry spring").events[0].remarks == "dry"


def test_one_change_is_named_and_two_cannot_be_told_apart(book: Store) -> None:
    assert changed_since(book, 1).said[0].startswith("There is no run before")
    revisions = open_plan(book, 1).revisions
    keep_changes(book, 1, revisions, [Change(field="fuel_kg", value=60.0)])
    second = begin_run(book, 1, RunPlace(name="Heavier"))
    laps = "\n".join(f"1:4{n}.{n}" for n in range(6))
    edit_run(book, second, RunEdit(typed=f"o\n{laps}"))
    changed = changed_since(book, second)
    (fuel,) = [change for change in changed.changes if change.matters]
    assert in_units(fuel.said) == "Fuel 31 to 60 kg"
    assert fuel.worth_s == pytest.approx(changed.expected_s, abs=1e-6)
    assert fuel.worth_s is not None
    assert fuel.worth_s > 0.2
    assert changed.clock is not None
    assert changed.clock.pairs == 5
    edit_run(book, second, RunEdit(record={"Front bar": "3"}))
    both = changed_since(book, second)
    assert both.said[0].startswith("2 things changed at once since Morning")
    assert "cannot separate them" in both.said[0]


def test_laps_together_make_the_lap_that_was_possible(book: Store) -> None:
    found = several(book, [1])
    assert found.lap_s.count == 5
    assert found.possible_s is not None
    assert found.possible_s < found.lap_s.best
    assert found.best_sectors_s is not None
    assert found.possible_s <= found.best_sectors_s + 0.02 <= found.lap_s.best + 0.02
    assert [corner.name for corner in found.corners][:2] == ["Sluice", "Reedmace"]
    assert found.trend is not None
    assert found.trend.level_s < found.lap_s.median + 0.5
    assert found.said[0].startswith("5 laps: best")
    edit_run(book, 1, RunEdit(mark=LapMark(number=timed(book), kind="traffic")))
    assert several(book, [1]).lap_s.count == 4
    alone = begin_run(book, 1, RunPlace())
    edit_run(book, alone, RunEdit(typed="1:40"))
    with pytest.raises(InputRefused, match="at least two"):
        several(book, [alone])
    assert several(book, [1, alone]).lap_s.count == 5


def test_a_corner_remembers_every_lap(book: Store) -> None:
    run_id = begin_run(book, 1, RunPlace(name="Watched"))
    seen = SeenDocument(corner="Bittern", min_speed_ms=25.0, fault="ran_wide", remark="at the exit")
    edit_run(book, run_id, RunEdit(seen=seen))
    names = [corner.name for corner in several(book, [1]).corners]
    found = corner_history(book, 1, names.index("Bittern"))
    assert [run.name for run in found.runs] == ["Morning", "Watched"]
    logged, typed = found.runs[0].laps, found.runs[1].laps
    assert len([lap for lap in logged if not lap.typed]) >= 5
    assert abs(logged[-1].min_speed_ms - found.plan_min_speed_ms) < 3.0  # type: ignore[operator]
    assert [lap.said for lap in typed] == ["ran wide; at the exit"]
    assert len(history_csv(found).splitlines()) == 1 + len(logged) + len(typed)
    with pytest.raises(InputRefused, match="there is no corner 90"):
        corner_history(book, 1, 89)
    # A lap that was excluded is no lap there, as in every other comparison.
    excluded = timed(book)
    edit_run(book, 1, RunEdit(mark=LapMark(number=excluded, kind="traffic")))
    after = corner_history(book, 1, names.index("Bittern"))
    assert excluded in [lap.lap for lap in logged]
    assert excluded not in [lap.lap for lap in after.runs[0].laps if not lap.typed]
    assert len(after.runs[0].laps) == len(logged) - 1
    assert len(after.runs[0].laps) == several(book, [1]).lap_s.count


def test_a_run_of_somebody_else_is_a_benchmark_too(book: Store) -> None:
    theirs = run_json(book, 1).replace('"Morning"', '"Theirs"')
    run_id = take_run(book, 1, theirs.encode())
    opened = open_run(book, run_id)
    assert (opened.run.name, opened.run.log) == ("Theirs", None)
    assert opened.best == timed(book)
    other = lap_against(book, 1, timed(book), against=f"run:{run_id}:{opened.best}")
    assert other.corners[0].plan_min_speed_ms == pytest.approx(
        other.corners[0].min_speed_ms, abs=1e-3
    )
    assert other.predicted_ms == []
    with pytest.raises(InputRefused, match="read from a log"):
        edit_run(book, run_id, RunEdit(typed="1:40"))
    heath = import_plan(book, composed("dunlin-heath")).plan_id
    with pytest.raises(InputRefused, match="was driven on Sallow Fen"):
        take_run(book, heath, theirs.encode())
    with pytest.raises(InputRefused, match="line 1, column"):
        take_run(book, 1, b"{")


def test_the_debrief_has_a_page_for_each_run(book: Store) -> None:
    edit_run(book, 1, RunEdit(remarks="*fine*", driver="Oona"))
    run_id = begin_run(book, 1, RunPlace(name="Paper", event_id=1, session=1))
    edit_run(book, run_id, RunEdit(typed="o\n1:40.2\n1:39.9"))
    found = debrief(book, 1)
    assert [run.name for run in found.runs] == ["Morning", "Paper"]
    first = found.runs[0]
    assert "Driver: Oona" in first.facts
    assert len(first.corners) == 11
    lost = sum(corner.lost_s or 0.0 for corner in first.corners)
    assert lost == pytest.approx((first.best_s or 0.0) - (first.predicted_s or 0.0), abs=1e-3)
    driven = [lap for lap in open_run(book, 1).run.laps if lap.kind == "timed"]
    shown = lap_against(book, 1, min(driven, key=lambda lap: lap.lap_time_s or 0.0).number)
    assert first.trace is not None
    assert first.trace.loss_s == shown.loss_s
    assert first.trace.loss_s[-1] == pytest.approx(lost, abs=0.01)
    for corner, same in zip(first.corners, shown.corners, strict=True):
        assert same.loss is not None
        assert corner.lost_s == pytest.approx(same.loss.all_s, abs=2e-5)
    assert found.runs[1].trace is None  # it was typed
    text = debrief_markdown(found)
    assert text.count("\n## ") == 2
    assert "1:39.900" in text
    with pytest.raises(NotThere):
        debrief(book, 9)


def test_a_run_is_taken_out_and_brought_back(book: Store) -> None:
    delete(book, "run", 1)
    assert season(book, 1).events[0].sessions[0].runs == []
    restore(book, "run", 1)
    assert [run.name for run in season(book, 1).events[0].sessions[0].runs] == ["Morning"]


def test_a_hill_climb_is_kept_and_its_runs_are_learned_from(book: Store) -> None:
    hill = import_plan(book, composed("dunlin-hill")).plan_id
    runs = []
    for seed in (1, 2, 3):
        wanted = SimulatedRun(laps=6, seed=seed, truth=9, rate_hz=20.0)
        log = simulated_log(kept_plan(book, hill), wanted)
        runs.append(keep_run(book, hill, f"Climb {seed}", log.encode()))
    (lap,) = open_run(book, runs[0]).run.laps
    assert lap.kind == "timed"
    against = lap_against(book, runs[0], 1)
    change = against.lap_time_s - against.predicted_s
    assert sum(c.loss.all_s for c in against.corners if c.loss) == pytest.approx(change, abs=1e-3)
    assert against.loss_s[-1] == pytest.approx(change, abs=0.01)
    assert several(book, runs).lap_s.count == 3
    job = driven_alone(kept_plan(book, hill), fit_course(book, hill, FitRequest(runs=runs)))
    assert job.fit is not None
    assert job.fit.said[0].startswith("From 3 laps of 3 runs")
    assert {one.corner for one in job.fit.misfits} <= {c.name for c in against.corners}


def test_what_is_said_of_laps_names_the_most_first() -> None:
    def loss(seconds: float) -> CornerLoss:
        return CornerLoss(seconds, 0.0, 0.0, 0.0, 0.0)

    said = describe_lap_losses(["A", "B", "C"], [loss(0.05), loss(0.2), loss(-0.1)], 0.15)
    assert said == [
        "0.15 s slower than predicted.",
        "Most lost at B 0.20 s, A 0.05 s.",
        "Gained at C 0.10 s.",
    ]
    assert describe_run([], None) == ["This run has no timed lap."]
    assert "spread " in describe_run([60.0, 60.5, 61.0], 59.0)[0]
    assert describe_run([60.0], 60.5)[1] == "The best is 0.50 s quicker than predicted."


@pytest.mark.parametrize(
    ("about", "expected"),
    [
        ({"Recorded": "2031-05-17 13:40:05"}, "2031-05-17T13:40:05"),
        ({"Log Date": "2031-05-17", "Log Time": "09:12"}, "2031-05-17T09:12:00"),
        ({"Date": "2031-05-17", "Vehicle": "K4"}, "2031-05-17T00:00:00"),
        ({"Date": "17 May, after lunch"}, None),
        ({"Vehicle": "K4"}, None),
    ],
)
def test_a_run_is_dated_by_its_file(about: dict[str, str], expected: str | None) -> None:
    assert recorded_at(about) == expected


def test_a_moment_with_a_zone_is_told_by_the_clock_of_this_machine(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setenv("TZ", "Etc/GMT-2")  # two hours ahead of Greenwich, in that name's own sign
    time.tzset()
    try:
        assert recorded_at({"Recorded": "2031-05-17 13:40:05+00:00"}) == "2031-05-17T15:40:05"
        assert recorded_at({"Recorded": "2031-05-17 13:40:05"}) == "2031-05-17T13:40:05"
    finally:
        monkeypatch.undo()
        time.tzset()
