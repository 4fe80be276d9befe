"""Whether effort grows with the lap and with their number alone, and memory not at all."""

import json
import os
import time
import urllib.request
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from neapfrost.core.kernels.solve import solve_kernel
from neapfrost.core.lap.drive import Drive, packed
from neapfrost.core.lap.light import light
from neapfrost.core.lap.solve import solve_many
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.demo.plans import composed
from neapfrost.formats.plan_records import conditions_record, driver_record, vehicle_record

SQUARE = (Straight(169.0), Bend("", 1, 52.0, 90.0))
FEW, MANY = 100, 10_000
ASKED = 2_000


def cpu_ms(task: Callable[[], object], repeats: int = 15) -> float:
    """Least processor time of a task [ms]; the least is what the machine's other work leaves."""
    found = []
    for _ in range(repeats):
        begun = time.process_time()
        task()
        found.append(1000.0 * (time.process_time() - begun))
    return min(found)


def _drive(corners: int) -> Drive:
    plan = composed("k4-dry")
    parts = tuple(
        replace(part, name=f"T{number}") if isinstance(part, Bend) else part
        for number in range(corners)
        for part in SQUARE
    )
    path = build_path(Circuit("growing", True, parts))
    return Drive(
        path,
        vehicle_record(plan.car),
        conditions_record(plan.conditions),
        driver_record(plan.driver),
    )


def growth_rows() -> list[tuple[str, str, str]]:
    """Rows for the table: a lap of 1 and of 20 km, a lap in a batch of 100 and of 10,000."""
    times = []
    for corners in (4, 80):
        work = packed(_drive(corners))
        given = (work.case, work.road, work.lengths, work.closed, work.start_w)
        solve_kernel(*given)
        km = float(work.lengths.sum()) / 1000.0
        times.append((km, cpu_ms(partial(solve_kernel, *given))))
    (short_km, short), (long_km, long) = times
    drive = _drive(4)
    each = []
    for count in (FEW, MANY):
        tyres = drive.vehicle.tyres
        variants = [
            replace(
                drive,
                vehicle=replace(
                    drive.vehicle, tyres=replace(tyres, mu_lateral=1.3 + 0.4 * number / count)
                ),
            )
            for number in range(count)
        ]
        begun = time.perf_counter()
        solve_many(variants, light)
        each.append(1000.0 * (time.perf_counter() - begun) / count)
    return [
        (
            f"A lap of {long_km:.0f} km beside one of {short_km:.0f} km",
            f"{long:.1f} ms",
            f"{long / short * short_km / long_km:.2f} × as long for each km",
        ),
        (
            f"A lap in a batch of {MANY:,} beside one of {FEW}",
            f"{each[1]:.2f} ms",
            f"{each[1] / each[0]:.2f} × as long",
        ),
    ]


def memory_row(address: str) -> tuple[str, str, str]:
    """How much more memory the application, started from here, holds after some 2,000 what-ifs."""
    before = _resident_mb()
    asked_of_kept(address, ASKED)
    after = _resident_mb()
    return (
        f"Memory after {ASKED:,} what-ifs",
        f"{after:.0f} MB",
        f"{after - before:+.0f} MB",
    )


def asked_of_kept(address: str, requests: int, grip: float = 1.40) -> list[float]:
    """Times of what-ifs of the first kept plan against itself, one after the other [ms].

    Each asks for a little more `grip` than the one before; what has been asked already is kept.
    """
    with urllib.request.urlopen(f"{address}api/plans/1") as answer:
        revisions = json.loads(answer.read())["revisions"]
    times = []
    for number in range(requests):
        asked = {
            "revisions": revisions,
            "changes": [{"field": "grip", "value": grip + 0.0001 * number}],
            "against": {"plan_id": 1, "revisions": revisions},
        }
        request = urllib.request.Request(
            f"{address}api/plans/1/what-if",
            json.dumps(asked).encode(),
            {"content-type": "application/json"},
        )
        begun = time.perf_counter()
        with urllib.request.urlopen(request) as answer:
            answer.read()
        times.append(1000.0 * (time.perf_counter() - begun))
    return times


def cpu_of_children_ms() -> float:
    """Processor time so far of all that this process has started [ms]."""
    ticks = 0
    for number in _descendants():
        _, _, figures = (Path("/proc") / str(number) / "stat").read_text().rpartition(") ")
        user, system = figures.split()[11:13]
        ticks += int(user) + int(system)
    return 1000.0 * ticks / os.sysconf("SC_CLK_TCK")


def _resident_mb() -> float:
    """Memory of all that this process has started [MB]."""
    total = 0.0
    for number in _descendants():
        status = (Path("/proc") / str(number) / "status").read_text()
        held = [line.split()[1] for line in status.splitlines() if line.startswith("VmRSS")]
        total += sum(int(kilobytes) / 1024.0 for kilobytes in held)
    return total


def _descendants() -> list[int]:
    """Numbers of all processes that this one has started, and of those that these have."""
    found = []
    waiting = _children(os.getpid())
    while waiting:
        number = waiting.pop()
        found.append(number)
        waiting += _children(number)
    return found


def _children(process: int) -> list[int]:
    tasks = (Path("/proc") / str(process) / "task").iterdir()
    return [int(child) for task in tasks for child in (task / "children").read_text().split()]
