"""`neapfrost standin …`: simulated outside devices, each on a loopback port of its own."""

import sys
from datetime import datetime, time
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from neapfrost.cli.listening import HOST, listening
from neapfrost.standins.logger.log_format import LogFormat

app = typer.Typer(
    no_args_is_help=True, help="Run a simulated outside device or service on this machine."
)


class DayName(StrEnum):
    """The days a simulated station can have."""

    SETTLED = "settled"
    SEA_BREEZE = "sea-breeze"
    SHOWER = "shower"
    DRYING = "drying"
    EVENING = "evening"


@app.callback()
def standin() -> None:
    """Run a simulated outside device or service on this machine."""


@app.command()
def weather(
    day: Annotated[DayName, typer.Option(help="Type of day")] = DayName.SEA_BREEZE,
    seed: Annotated[int, typer.Option(min=0, help="The same seed gives the same day")] = 1,
    pace: Annotated[float, typer.Option(min=0.1, max=3_600, help="Speed against real time")] = 1.0,
    begins: Annotated[
        str | None, typer.Option(help="Hour and minute of its first reading, as 11:30")
    ] = None,
    every: Annotated[
        float, typer.Option(min=1, max=3_600, help="Seconds of its day between two readings")
    ] = 60.0,
    port: Annotated[int, typer.Option(min=0, max=65535, help=f"Port on {HOST}; 0 finds one")] = 0,
) -> None:
    """Serve a simulated weather station: readings as JSON, CSV and server-sent events."""
    from neapfrost.standins.weather.days import DAYS
    from neapfrost.standins.weather.station import Station, serve_station

    station = Station(
        day=day.value,
        begins=_begins(begins, DAYS[day.value].begins_h),
        seed=seed,
        pace=pace,
        every_s=every,
    )
    try:
        listener = listening(port)
    except OSError as error:
        raise typer.BadParameter(
            f"port {port} on {HOST} cannot be used ({error.strerror}); name another with --port"
        ) from None
    with listener:
        host, taken = listener.getsockname()
        print(f"A simulated weather station is at http://{host}:{taken}", flush=True)
        print(f"Its day: {DAYS[day.value].says}. Stop it with Ctrl-C.", flush=True)
        serve_station(station, listener)


@app.command()
def logger(
    plan: Annotated[Path, typer.Argument(help="Plan document (JSON) of a circuit")],
    output: Annotated[Path, typer.Option("-o", "--output", help="Write the log here")],
    kind: Annotated[
        LogFormat, typer.Option("--format", help="The kind of file that is written")
    ] = LogFormat.CSV,
    laps: Annotated[int, typer.Option(min=2, max=30, help="How many laps are driven")] = 8,
    seed: Annotated[int, typer.Option(min=0, help="The same seed gives the same log")] = 1,
    rate: Annotated[float, typer.Option(min=10, max=100, help="Samples each second")] = 25.0,
    places: Annotated[bool, typer.Option(help="Whether positions are logged")] = True,
    speed_pct: Annotated[float, typer.Option(min=-5, max=5, help="The speed reads high by")] = 0.0,
) -> None:
    """Have a simulated driver drive a plan, and log it as instruments do."""
    from neapfrost.core.errors import InputRefused
    from neapfrost.formats.plan_file import read_plan
    from neapfrost.services.logbook.simulated import SimulatedRun, simulated_file

    wanted = SimulatedRun(laps=laps, seed=seed, rate_hz=rate, places=places, speed_pct=speed_pct)
    try:
        output.write_bytes(simulated_file(read_plan(plan.read_bytes()), wanted, kind))
    except InputRefused as error:
        for fault in error.faults:
            print(fault, file=sys.stderr)
        raise typer.Exit(2) from None
    except OSError as error:
        print(f"{error.filename}: {error.strerror}", file=sys.stderr)
        raise typer.Exit(2) from None
    print(f"{output}: {laps} laps of {plan.name}, simulated")


def _begins(text: str | None, usual_h: float) -> datetime:
    """Today at a clock, or at the day's usual hour."""
    today = datetime.now().replace(hour=0, minute=0, second=0, microsecond=0)
    clock = time(int(usual_h), int(usual_h * 60.0) % 60)
    if text is not None:
        try:
            clock = time.fromisoformat(text.strip().zfill(5))
        except ValueError:
            raise typer.BadParameter(f'"{text}" was given; hour and minute as 11:30') from None
    return datetime.combine(today, clock.replace(tzinfo=None))
