"""What runs teach a plan: learned as a study, taken over, narrowed, taken back, learned again."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from neapfrost.core.errors import InputRefused
from neapfrost.demo.plans import composed
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.logbook.fits import FitRequest, LeftOut, fit_course, priors_of
from neapfrost.services.logbook.keeping import RunPlace, begin_run
from neapfrost.services.logbook.simulated import SimulatedRun
from neapfrost.services.logbook.simulated_kept import keep_simulated
from neapfrost.services.logbook.taking import Taken, kept_fit, kept_fits, take_fit
from neapfrost.services.plans.exchange import import_plan, kept_plan
from neapfrost.services.plans.workbench import open_plan, redo, undo
from neapfrost.services.studies.alone import driven_alone
from neapfrost.store.database import Store, close_store, open_store


@pytest.fixture(scope="module")
def driven(seeded: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Folder of a closed store with two runs of one hidden car and day: grip and drag are off."""
    folder = tmp_path_factory.mktemp("driven") / "store"
    shutil.copytree(seeded, folder)
    store = open_store(folder)
    for seed in (21, 22):
        wanted = SimulatedRun(laps=6, seed=seed, truth=4, rate_hz=20.0)
        keep_simulated(store, 1, f"Run {seed}", wanted)
    close_store(store)
    return folder


@pytest.fixture
def book(driven: Path, tmp_path: Path) -> Iterator[Store]:
    shutil.copytree(driven, tmp_path / "book")
    store = open_store(tmp_path / "book")
    yield store
    close_store(store)


def learned(store: Store, *runs: int, leave_out: list[LeftOut] | None = None) -> FitDocument:
    request = FitRequest(runs=list(runs), leave_out=leave_out)
    job = driven_alone(kept_plan(store, 1), fit_course(store, 1, request))
    assert job.fit is not None
    assert (job.state, job.done) == ("done", job.of)
    return job.fit


def test_what_is_learned_is_taken_over_narrows_the_band_and_is_taken_back(book: Store) -> None:
    fit = learned(book, 1, 2)
    assert FitDocument.model_validate_json(fit.model_dump_json()) == fit
    figures = {one.name: one for one in fit.figures}
    assert len(fit.said) >= 2
    assert len(fit.working) == 7
    assert [part.cause for part in fit.parts] == ["surface", "car", "wind", "driver"]
    wrong = [one for one in fit.figures if one.claim == "otherwise"]
    assert wrong, "the hidden car is otherwise than stated"
    before = kept_plan(book, 1)
    opened = open_plan(book, 1)
    figure = figures["drag"]
    taken = [Taken(name="drag", blamed="car"), Taken(name="grip", blamed="circuit")]
    take_fit(book, 1, opened.revisions, fit, taken)
    after = kept_plan(book, 1)
    assert after.car.aero.drag_area_m2 == pytest.approx(
        before.car.aero.drag_area_m2 * (1.0 + figure.value), abs=1e-4
    )
    grips = [plan.circuit.segments for plan in (before, after)]
    assert grips[0] is not None
    assert grips[1] is not None
    factor = 1.0 + figures["grip"].value
    assert grips[1][0].grip_factor == pytest.approx(grips[0][0].grip_factor * factor, abs=1e-4)
    if figures["grip"].claim != "unknown":
        assert after.uncertainty.grip_pct < before.uncertainty.grip_pct
    (evidence,) = kept_fits(book, 1)
    assert evidence.taken == ["Drag: car", "Grip: circuit"]
    assert kept_fit(book, evidence.id).figures == fit.figures
    # The plan is of the new figures now: learned once more, nothing of that is left to learn.
    again = {one.name: one for one in learned(book, 1, 2).figures}
    assert abs(again["drag"].value) < abs(figure.value)
    assert again["drag"].claim != "otherwise"
    assert again["grip"].claim != "otherwise"
    # One act, whatever parts it wrote, is one step back and one forward again.
    undo(book, 1)
    assert kept_plan(book, 1) == before
    redo(book, 1)
    assert kept_plan(book, 1) == after
    undo(book, 1)
    with pytest.raises(InputRefused, match="has changed since this fit"):
        take_fit(book, 1, open_plan(book, 1).revisions, fit, taken)


def test_laps_may_be_left_out_and_what_cannot_teach_says_so(book: Store) -> None:
    numbers = [lap for run in learned(book, 1).runs for lap in run.laps]
    one = learned(book, 1, leave_out=[LeftOut(run_id=1, lap=numbers[0])])
    assert one.runs[0].laps == numbers[1:]
    typed = begin_run(book, 1, RunPlace(name="Paper"))
    with pytest.raises(InputRefused, match="Paper was typed"):
        fit_course(book, 1, FitRequest(runs=[typed]))
    heath = import_plan(book, composed("dunlin-heath")).plan_id
    with pytest.raises(InputRefused, match="the plan is of"):
        fit_course(book, heath, FitRequest(runs=[1]))
    rest = [LeftOut(run_id=1, lap=number) for number in numbers[1:]]
    with pytest.raises(InputRefused, match="at least 2 laps and 6 speeds"):
        driven_alone(kept_plan(book, 1), fit_course(book, 1, FitRequest(runs=[1], leave_out=rest)))


def test_blame_goes_where_it_can_go(book: Store) -> None:
    fit = learned(book, 1)
    revisions = open_plan(book, 1).revisions
    with pytest.raises(InputRefused, match="Drag cannot be applied to the circuit; choose car"):
        take_fit(book, 1, revisions, fit, [Taken(name="drag", blamed="circuit")])
    before = kept_plan(book, 1)
    figures = {one.name: one for one in fit.figures}
    blamed = {
        "grip": "driver",
        "along": "driver",
        "power": "car",
        "mass": "car",
        "downforce": "car",
        "wind_north": "conditions",
        "wind_east": "conditions",
    }
    take_fit(
        book,
        1,
        revisions,
        fit,
        [Taken.model_validate({"name": name, "blamed": on}) for name, on in blamed.items()],
    )
    after = kept_plan(book, 1)

    def ratio(of: object) -> float:
        assert callable(of)
        return float(of(after) / of(before))

    for name, of in (
        ("grip", lambda plan: plan.driver.use.cornering),
        ("along", lambda plan: plan.driver.use.braking),
        ("power", lambda plan: plan.car.engine.torque_curve[0].torque_nm),
        ("mass", lambda plan: plan.car.mass_kg),
        ("downforce", lambda plan: plan.car.aero.lift_area_m2),
        ("downforce", lambda plan: plan.car.wings[0].lift_area_m2),
    ):
        assert ratio(of) == pytest.approx(1.0 + figures[name].value, abs=2e-4)  # type: ignore[index]
    assert after.conditions.wind_speed_ms != before.conditions.wind_speed_ms


def test_what_a_plan_states_is_what_is_known_before() -> None:
    plan: PlanDocument = composed("k4-dry")
    stated = priors_of(plan, FitRequest(runs=[1], drag_pct=7.0))
    assert stated.grip == plan.uncertainty.grip_pct / 100.0
    assert (stated.drag, stated.mass) == (0.07, 0.01)
