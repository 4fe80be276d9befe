"""How long a long log and a fit take."""

import time

from neapfrost.core.driven.alignment import align
from neapfrost.core.driven.laps import find_laps, lap_of_log
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.learned.figures import Priors
from neapfrost.core.learned.fit import fit
from neapfrost.core.learned.seen import RunSeen, run_seen
from neapfrost.demo.plans import composed
from neapfrost.formats.logs.text import look_at_log, read_log
from neapfrost.services.laps.planned import planned
from neapfrost.services.logbook.measured import laid, read_file
from neapfrost.standins.logger.driver import FADE, Hidden, driven_laps
from neapfrost.standins.logger.instruments import Instruments, log_text, logged

#: A day of an endurance team: so many laps, each logged a hundred times a second.
LONG_LAPS, LONG_RATE_HZ = 120, 100.0


def logbook_rows() -> list[tuple[str, str, str]]:
    """A log of some 50 MB read, laid and measured; figures learned from ten laps."""
    plan = composed("dunlin-heath")
    laps = driven_laps(planned(plan).drive, 30, 1) * (LONG_LAPS // 30)
    text = log_text(logged(laps, 1, Instruments(rate_hz=LONG_RATE_HZ))).encode()
    started = time.perf_counter()
    read = read_file(text)
    read_s = time.perf_counter() - started
    laid(read.log, plan, lambda _: None)
    all_s = time.perf_counter() - started
    drive = planned(composed("k4-dry")).drive
    run = session(drive, drive_lap(drive), 3, 12)
    started = time.perf_counter()
    fit([run], Priors())
    fit_s = time.perf_counter() - started
    size = f"{len(text) / 1e6:.0f} MB, {len(read.log.t_s) // 1000},000 samples"
    return [
        (f"A log of {size}: read", f"{read_s:.1f} s", ""),
        (f"…laid along the circuit, {len(laps)} laps measured as well", f"{all_s:.1f} s", ""),
        (f"Figures learned from {len(run.on_run)} laps", f"{fit_s:.1f} s", ""),
    ]


def session(
    drive: Drive,
    predicted: DrivenLap,
    seed: int,
    laps: int,
    hidden: Hidden | None = None,
    degradation: float = FADE,
) -> RunSeen:
    """A simulated session as its logger wrote it, read, laid and looked at."""
    driven = driven_laps(drive, laps, seed, hidden, degradation)
    text = log_text(logged(driven, seed, Instruments())).encode()
    log = read_log(text, look_at_log(text))
    aligned = align(log, drive.path)
    length = drive.path.length_m
    found = [lap for lap in find_laps(log, aligned, length) if lap.kind == "timed"]
    logs = [lap_of_log(log, aligned, lap, length) for lap in found]
    return run_seen("", drive, predicted, logs, [lap.number - 1 for lap in found])
