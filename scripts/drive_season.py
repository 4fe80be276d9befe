"""Drive the runs of the demo world's season once, and write their logs and what is measured."""

import gzip
import json
from concurrent.futures import ProcessPoolExecutor
from dataclasses import asdict
from pathlib import Path

import neapfrost.demo
from neapfrost.demo.plans import composed
from neapfrost.demo.season import SEASON, SeasonEvent
from neapfrost.services.laps.planned import planned
from neapfrost.services.logbook.measured import laid, read_file
from neapfrost.standins.logger.driver import Hidden, driven_laps
from neapfrost.standins.logger.instruments import Instruments, log_text, logged

FOLDER = Path(neapfrost.demo.__file__).parent / "data" / "season"
RATE_HZ = 10.0
#: Fewer decimals than a logger may write, so that the files are small.
DECIMALS = {
    "Time": 2,
    "Speed": 1,
    "Latitude": 6,
    "Longitude": 6,
    "Lateral g": 2,
    "Longitudinal g": 2,
    "Engine": 0,
    "Gear": 0,
    "Throttle": 0,
    "Brake pressure": 1,
}


def drive(event: SeasonEvent, number: int) -> None:
    """Drive, log and measure one run."""
    run = event.runs[number]
    plan = composed(event.plan_id)
    if run.fuel_kg is not None:
        plan = plan.model_copy(
            update={
                "car": plan.car.model_copy(update={"fuel_kg": run.fuel_kg}),
                "setup": plan.setup,
            }
        )
    laps = driven_laps(planned(plan).drive, run.laps, run.seed, Hidden(**asdict(event.truth)))
    tools = Instruments(
        rate_hz=RATE_HZ, places=run.places, speed_factor=run.speed_factor, g_sd=0.02
    )
    about = {"Vehicle": plan.car.name, "Track": plan.circuit.name, "Run": run.name}
    text = log_text(logged(laps, run.seed, tools), about, DECIMALS).encode()
    read = read_file(text)
    found = laid(read.log, composed(event.plan_id), lambda _: None)
    measured = {
        "columns": {role: column.model_dump() for role, column in read.columns.items()},
        "about": read.about,
        "alike": round(found.aligned.alike, 4),
        "misfit_m": round(found.aligned.misfit_m, 3),
        "laps": [lap.model_dump(mode="json") for lap in found.laps],
    }
    stem = FOLDER / f"{event.id}-{number + 1}"
    stem.with_suffix(".csv.gz").write_bytes(gzip.compress(text, 9, mtime=0))
    told = json.dumps(measured, separators=(",", ":")).encode()
    stem.with_suffix(".json.gz").write_bytes(gzip.compress(told, 9, mtime=0))


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    wanted = [
        (event, number)
        for event in SEASON
        for number, run in enumerate(event.runs)
        if run.typed is None
    ]
    with ProcessPoolExecutor(2) as pool:
        list(pool.map(drive, *zip(*wanted, strict=True)))
    total = sum(path.stat().st_size for path in FOLDER.iterdir())
    print(f"{len(wanted)} runs, {total / 1e6:.2f} MB in {FOLDER}")


if __name__ == "__main__":
    main()
