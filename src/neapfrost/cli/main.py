"""`neapfrost`: solve, sweep, rank, race, serve, demo, import, export, log, fit, backup and more.

What is slow to load is imported only once input has passed.
"""

import json
import os
import sys
from contextlib import ExitStack
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from neapfrost.cli import logbook, race, standins
from neapfrost.cli.opening import Data, fail, opened, read_given, refuse
from neapfrost.core.errors import InputRefused

if TYPE_CHECKING:
    from socket import socket

    from neapfrost.services.studies.jobs import StudyJob
    from neapfrost.store.database import Store

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="Predicts a lap before anyone drives it.",
)

app.add_typer(standins.app, name="standin")
app.add_typer(logbook.app, name="log")
app.command("fit")(logbook.fit)
app.command("race")(race.race)

Solvers = Annotated[
    int | None,
    typer.Option(
        envvar="NEAPFROST_SOLVERS",
        min=0,
        max=64,
        help="Processes that answer what-ifs; two at most by default, 0 for none",
    ),
]
Port = Annotated[
    int, typer.Option(envvar="PORT", min=0, max=65535, help="Port on 127.0.0.1; 0 finds one")
]
#: No kept plan has a larger number: the store counts in 64 bits.
NUMBER_MOST = 2**63 - 1


class SchemaName(StrEnum):
    """The published documents."""

    PLAN = "plan"
    RESULT = "result"
    CAR = "car"
    CONDITIONS = "conditions"
    RUN = "run"
    EVENT = "event"
    FIT = "fit"


@app.command()
def solve(
    plan: Annotated[Path, typer.Argument(help="Plan document (JSON); - reads standard input")],
    output: Annotated[
        Path | None, typer.Option("-o", "--output", help="Write the result document here")
    ] = None,
    step_m: Annotated[float, typer.Option(help="Largest step of the grid [m]")] = 1.0,
) -> None:
    """Predict the lap of a plan and print its corners."""
    from neapfrost.formats.plan_file import read_plan

    try:
        document = read_plan(read_given(plan))
        from neapfrost.services.laps.predict import predict_lap
        from neapfrost.services.roads.road import is_road

        if is_road(document):
            from neapfrost.services.lines.search import plan_with_line

            document = plan_with_line(document)
        result = predict_lap(document, step_m)
    except InputRefused as error:
        refuse(error)
    if output is None:
        from rich.console import Console

        from neapfrost.cli.table import print_result

        print_result(Console(width=None if sys.stdout.isatty() else 120), result)
        return
    try:
        output.write_text(json.dumps(result.model_dump(mode="json"), ensure_ascii=False) + "\n")
    except OSError as error:
        fail(f"{output}: cannot be written ({error.strerror})")


@app.command()
def sweep(
    plan: Annotated[Path, typer.Argument(help="Plan document (JSON); - reads standard input")],
    figure: Annotated[str, typer.Option(help="What is varied, by its name")],
    low: Annotated[float | None, typer.Option("--from", help="Lowest value")] = None,
    high: Annotated[float | None, typer.Option("--to", help="Highest value")] = None,
    count: Annotated[int, typer.Option(min=3, max=61, help="How many values")] = 21,
    output: Annotated[
        Path | None, typer.Option("-o", "--output", help="Write the table here, as CSV")
    ] = None,
) -> None:
    """Drive a plan along one figure and say where it is quickest."""
    from neapfrost.formats.plan_file import read_plan

    try:
        document = read_plan(read_given(plan))
        from neapfrost.services.studies.alone import driven_alone
        from neapfrost.services.trade.sweep import SweepRequest, sweep_course

        wanted = SweepRequest(axis=figure, low=low, high=high, count=count)
        job = driven_alone(document, sweep_course(document, wanted))
    except InputRefused as error:
        refuse(error)
    from neapfrost.cli.studies import print_sweep

    print_sweep(job)
    _write_table(job, output)


@app.command()
def rank(
    plan: Annotated[Path, typer.Argument(help="Plan document (JSON); - reads standard input")],
    output: Annotated[
        Path | None, typer.Option("-o", "--output", help="Write the table here, as CSV")
    ] = None,
) -> None:
    """Step every figure of a plan and say what is worth most."""
    from neapfrost.formats.plan_file import read_plan

    try:
        document = read_plan(read_given(plan))
        from neapfrost.services.studies.alone import driven_alone
        from neapfrost.services.trade.ranking import RankRequest, rank_course

        job = driven_alone(document, rank_course(document, RankRequest()))
    except InputRefused as error:
        refuse(error)
    from neapfrost.cli.studies import print_ranking

    print_ranking(job)
    _write_table(job, output)


@app.command()
def schema(document: SchemaName) -> None:
    """Print the JSON Schema of a document."""
    from neapfrost.formats.schemas import json_schema

    print(json.dumps(json_schema(document.value), indent=2, ensure_ascii=False))


@app.command()
def serve(data: Data = Path("data"), port: Port = 8765, solvers: Solvers = None) -> None:
    """Serve the application on this machine alone."""
    with _listening(port) as listener, opened(data) as store:
        _serve(store, listener, solvers)


@app.command()
def demo(
    data: Data = Path("data"),
    port: Port = 8765,
    solvers: Solvers = None,
    station: Annotated[
        bool, typer.Option(envvar="NEAPFROST_STATION", help="Run a simulated weather station")
    ] = True,
) -> None:
    """Put the demo plans into the data folder, then serve the application with them.

    A demo plan that was put there once is not put there again, so that work on it stays.
    """
    with _listening(port) as listener, opened(data) as store, ExitStack() as beside:
        from neapfrost.api.collection import put_demo_world
        from neapfrost.demo.plans import write_demo_plans

        put_demo_world(store)
        try:
            written = write_demo_plans(data / "demo-plans")
        except OSError as error:
            fail(f"{data}: the demo plans cannot be written ({error.strerror})")
        print(f"The demo plans are also in {written[0].parent}/, to be read and solved as files.")
        if station:
            from neapfrost.cli.demo_station import demo_station

            beside.enter_context(demo_station(store))
        _serve(store, listener, solvers)


@app.command("import")
def import_files(
    plans: Annotated[list[Path], typer.Argument(help="Plan documents (JSON)")],
    data: Data = Path("data"),
) -> None:
    """Keep plan documents; one that is there already is recognised.

    Every file is read before anything is kept, so that a bad one changes nothing.
    """
    from neapfrost.formats.plan_file import read_plan
    from neapfrost.services.plans.exchange import import_plan

    documents = []
    for path in plans:
        try:
            documents.append((path, read_plan(read_given(path))))
        except InputRefused as error:
            print(f"{path}: nothing was saved", file=sys.stderr)
            refuse(error)
    with opened(data) as store:
        for path, document in documents:
            try:
                kept = import_plan(store, document)
            except InputRefused as error:
                print(f"{path}: not saved", file=sys.stderr)
                refuse(error)
            word = "saved as" if kept.outcome == "made" else "is already saved as"
            print(f"{path}: {word} plan {kept.plan_id}, {kept.name}")


@app.command()
def export(
    plan: Annotated[
        int | None,
        typer.Argument(min=1, max=NUMBER_MOST, help="Number of the plan; all if left out"),
    ] = None,
    output: Annotated[
        Path, typer.Option("-o", "--output", help="File for one plan, folder for all; - prints")
    ] = Path("-"),
    data: Data = Path("data"),
) -> None:
    """Write kept plans as plan documents; without a number, every plan into a folder."""
    from neapfrost.formats.plan_file import write_plan
    from neapfrost.services.plans.exchange import kept_plan, kept_plans

    if plan is None and str(output) == "-":
        fail("every plan is written into a folder; name it with -o, or give a plan's number")
    with opened(data, make=False) as store:
        documents = kept_plans(store) if plan is None else [(plan, kept_plan(store, plan))]
    if str(output) == "-":
        sys.stdout.buffer.write(write_plan(documents[0][1]))
        return
    try:
        if plan is None:
            output.mkdir(parents=True, exist_ok=True)
        for number, document in documents:
            path = output / f"plan-{number}.json" if plan is None else output
            path.write_bytes(write_plan(document))
            print(f"{path}: {document.name}")
    except OSError as error:
        fail(f"{output}: cannot be written ({error.strerror})")


@app.command()
def backup(
    target: Annotated[Path, typer.Argument(help="New file for the copy")],
    data: Data = Path("data"),
) -> None:
    """Copy everything that is kept into one file, also while the application runs.

    To go back to it, stop the application and put the file into a data folder as neapfrost.db.
    """
    from neapfrost.store.database import back_up

    with opened(data, make=False) as store:
        back_up(store, target)
    print(f"{target}: a copy of {data / 'neapfrost.db'}")


def _listening(port: int) -> "socket":
    from neapfrost.cli.listening import HOST, listening

    try:
        return listening(port)
    except OSError as error:
        fail(f"port {port} on {HOST} cannot be used ({error.strerror}); set PORT to another")


def _serve(store: "Store", listener: "socket", solvers: int | None) -> None:
    from neapfrost.cli.server import run_server

    run_server(store, listener, solvers)


def _write_table(job: "StudyJob", output: Path | None) -> None:
    """A study's table into a file, if one is wanted."""
    from neapfrost.services.studies.tables import table_csv

    if output is None:
        return
    try:
        output.write_text(table_csv(job), newline="")
    except OSError as error:
        fail(f"{output}: cannot be written ({error.strerror})")


def main() -> None:
    """Entry point of the `neapfrost` command; whatever goes wrong ends with a sentence."""
    try:
        app()
    except BrokenPipeError:
        # Whoever read the output has gone; nothing more is written, not even at the end.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(1)
    except OSError as error:
        sys.exit(f"the output cannot be written ({error.strerror})")
    except Exception as error:
        if os.environ.get("NEAPFROST_TRACEBACKS"):
            raise
        said = str(error).splitlines()[:1] or [""]
        sys.exit(
            f"neapfrost failed unexpectedly ({type(error).__name__}: "
            f"{said[0][:200]}); saved work is unchanged"
        )
