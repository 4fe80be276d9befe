"""`neapfrost log` and `neapfrost fit`: runs on the terminal, and what they teach."""

from pathlib import Path
from typing import Annotated

import typer

from neapfrost.cli.opening import Data, opened, refuse
from neapfrost.core.errors import Fault, InputRefused, placed_in

app = typer.Typer(no_args_is_help=True, help="Runs as they were driven: read and listed.")

PlanNumber = Annotated[
    int, typer.Option("--plan", min=1, help="Number of the plan that was driven, see `log list`")
]


@app.callback()
def log() -> None:
    """Runs as they were driven: read and listed."""


@app.command("import")
def import_log(
    files: Annotated[list[Path], typer.Argument(help="Loggers' files: CSV, or GPX with times")],
    plan: PlanNumber,
    certain: Annotated[
        bool, typer.Option("--certain", help="Save a log that fits the circuit badly")
    ] = False,
    data: Data = Path("data"),
) -> None:
    """Read loggers' files, find their laps on a plan's circuit, and keep them."""
    from neapfrost.services.logbook.keeping import RunPlace, keep_run
    from neapfrost.services.logbook.runs import open_run

    with opened(data) as store:
        for file in files:
            try:
                run_id = keep_run(
                    store, plan, file.name, _read(file), place=RunPlace(certain=certain)
                )
            except InputRefused as error:
                refuse(InputRefused(placed_in(str(file), error.faults)))
            print(f"{file}: run {run_id}. {' '.join(open_run(store, run_id).said)}")


@app.command("list")
def list_runs(
    words: Annotated[list[str] | None, typer.Argument(help="Words that a run must contain")] = None,
    data: Data = Path("data"),
) -> None:
    """List the season: events, sessions, and runs with their numbers."""
    from neapfrost.services.logbook.events import season
    from neapfrost.services.plans.listing import listed
    from neapfrost.services.words.lap import lap_time

    with opened(data) as store:
        plans = listed(store, "plan")
        for one in sorted(plans, key=lambda plan: plan.id):
            print(f"plan {one.id}: {one.name}")
        if not plans:
            return
        found = season(store, plans[0].id, " ".join(words or []))
        for event in found.events:
            print(f"\n{event.held_on} {event.name}, {event.circuit}")
            for session in event.sessions:
                for run in session.runs:
                    best = "no time" if run.best_lap_s is None else lap_time(run.best_lap_s)
                    print(f"  run {run.id}: {best}  {session.name}, {run.name} ({run.car})")
        for run in found.runs:
            best = "no time" if run.best_lap_s is None else lap_time(run.best_lap_s)
            print(f"run {run.id}: {best}  {run.name} ({run.car}, {run.circuit})")


def fit(
    runs: Annotated[list[int], typer.Argument(help="Numbers of runs, see `log list`")],
    plan: Annotated[
        int | None, typer.Option("--plan", min=1, help="The plan; that of the last run if left out")
    ] = None,
    output: Annotated[
        Path | None, typer.Option("-o", "--output", help="Write the fit here, as JSON")
    ] = None,
    data: Data = Path("data"),
) -> None:
    """Learn a plan's figures from runs: how far off, how sure, and from what."""
    from neapfrost.cli.studies import print_fit
    from neapfrost.services.logbook.fits import FitRequest, fit_course
    from neapfrost.services.logbook.kept import read_run
    from neapfrost.services.plans.exchange import kept_plan
    from neapfrost.services.studies.alone import driven_alone

    with opened(data) as store:
        plan_id = plan or read_run(store, runs[-1])[1] or 0
        try:
            course = fit_course(store, plan_id, FitRequest(runs=runs))
            job = driven_alone(kept_plan(store, plan_id), course)
        except InputRefused as error:
            refuse(error)
        assert job.fit is not None  # as of every fit that was found
        print_fit(job.fit)
        if output is not None:
            output.write_text(job.fit.model_dump_json(indent=2) + "\n", encoding="utf-8")


def _read(file: Path) -> bytes:
    try:
        return file.read_bytes()
    except OSError as error:
        raise InputRefused([Fault("", f"cannot be read ({error.strerror})")]) from None
