"""`neapfrost`: serve, demo, solve, schema. What is slow is imported only once input has passed."""

import json
import sys
from enum import StrEnum
from pathlib import Path
from typing import Annotated, NoReturn

import typer

from neapfrost.core.errors import InputRefused

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="Predicts a lap before anyone drives it.",
)

PLAN_BYTES_MOST = 100 * 1024 * 1024


class SchemaName(StrEnum):
    """The published documents."""

    PLAN = "plan"
    RESULT = "result"


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
        document = read_plan(_read(plan))
        from neapfrost.services.predict import predict_lap

        result = predict_lap(document, step_m)
    except InputRefused as error:
        _refuse(error)
    if output is None:
        from rich.console import Console

        from neapfrost.cli.table import print_result

        print_result(Console(width=None if sys.stdout.isatty() else 120), result)
        return
    try:
        output.write_text(json.dumps(result.model_dump(mode="json"), ensure_ascii=False) + "\n")
    except OSError as error:
        _fail(f"{output}: cannot be written ({error.strerror})")


@app.command()
def schema(document: SchemaName) -> None:
    """Print the JSON Schema of a document."""
    from neapfrost.formats.schemas import json_schema

    print(json.dumps(json_schema(document.value), indent=2, ensure_ascii=False))


@app.command()
def serve(
    port: Annotated[int, typer.Option(envvar="PORT", help="Port on 127.0.0.1; 0 finds one")] = 8765,
) -> None:
    """Serve the application on this machine alone."""
    _serve(port)


@app.command()
def demo(
    data: Annotated[
        Path, typer.Option(envvar="NEAPFROST_DATA", help="Folder for the demo plans")
    ] = Path("data"),
    port: Annotated[int, typer.Option(envvar="PORT", help="Port on 127.0.0.1; 0 finds one")] = 8765,
) -> None:
    """Write the demo plans into the data folder, then serve the application with them."""
    from neapfrost.demo.plans import write_demo_plans

    try:
        written = write_demo_plans(data / "demo-plans")
    except OSError as error:
        _fail(f"{data}: the demo plans cannot be written ({error.strerror})")
    print(f"The demo plans are in {written[0].parent}/, to be read and solved as files.")
    _serve(port)


def _serve(port: int) -> None:
    from neapfrost.cli.server import run_server

    try:
        run_server(port)
    except OSError as error:
        _fail(f"port {port} on 127.0.0.1 cannot be used ({error.strerror}); set PORT to another")


def _read(path: Path) -> bytes:
    if str(path) == "-":
        return sys.stdin.buffer.read(PLAN_BYTES_MOST + 1)
    try:
        if path.stat().st_size > PLAN_BYTES_MOST:
            _fail(f"{path}: larger than {PLAN_BYTES_MOST // 1024 // 1024} MB; no plan is")
        return path.read_bytes()
    except OSError as error:
        _fail(f"{path}: cannot be read ({error.strerror})")


def _refuse(error: InputRefused) -> NoReturn:
    for fault in error.faults:
        print(fault, file=sys.stderr)
    raise typer.Exit(2)


def _fail(message: str) -> NoReturn:
    print(message, file=sys.stderr)
    raise typer.Exit(2)


def main() -> None:
    """Entry point of the `neapfrost` command."""
    app()
