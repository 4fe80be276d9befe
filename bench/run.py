"""Measures the solver side by side with a reduced C kernel, a batch, and the what-if over HTTP.

Writes the first part of docs/performance.md, with what `notes.md` tells of it. Figures are medians
of one machine on one day; the ratios travel.
"""

import ctypes
import os
import platform
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np

from neapfrost.core.kernels.solve import solve_kernel
from neapfrost.core.lap.drive import Drive, packed
from neapfrost.core.lap.light import light
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.lap.pack_road import pack_road
from neapfrost.core.lap.solve import solve_many
from neapfrost.core.path.build import build_path
from neapfrost.demo.plans import composed, demo_plans
from neapfrost.formats.plan_records import (
    circuit_record,
    conditions_record,
    driver_record,
    vehicle_record,
)
from neapfrost.services.laps.planned import planned
from neapfrost.services.laps.predict import predict_lap

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent / "scripts"))

from calls import call_rows  # noqa: E402 -- beside this file
from clients import CLIENTS, many_clients, stepping  # noqa: E402 -- beside this file
from growth import (  # noqa: E402 -- beside this file
    asked_of_kept,
    cpu_ms,
    cpu_of_children_ms,
    growth_rows,
    memory_row,
)
from lines import import_rows, line_rows  # noqa: E402 -- beside this file
from logbook import logbook_rows  # noqa: E402 -- beside this file
from page import (  # noqa: E402 -- beside this file
    held_ms,
    key_to_repaint_ms,
    page_opened_ms,
    slowest_held_ms,
    window,
)
from races import race_rows  # noqa: E402 -- beside this file
from serving import running_server  # noqa: E402 -- beside this folder, found only now
from trade import trade_rows  # noqa: E402

REPEATS = 40
BATCH = 1000
CPU_OVER = 100  # what-ifs
WARM_S = 5.0  # until every process of a fresh application has loaded the solver


def median_ms(task: Callable[[], object], repeats: int = REPEATS) -> float:
    """Median time of a task [ms], after one run that is not counted."""
    task()
    times = []
    for _ in range(repeats):
        begun = time.perf_counter()
        task()
        times.append(1000.0 * (time.perf_counter() - begun))
    return statistics.median(times)


def reduced_kernel(folder: Path) -> Callable[[np.ndarray], float]:
    """The reduced lap kernel, compiled with cc -O3."""
    library = folder / "reduced.so"
    source = HERE / "reduced_lap.c"
    subprocess.run(["cc", "-O3", "-shared", "-fPIC", source, "-o", library, "-lm"], check=True)
    function = ctypes.CDLL(str(library)).reduced_lap
    pointer = ctypes.POINTER(ctypes.c_double)
    function.argtypes = [ctypes.c_int, pointer, *[ctypes.c_double] * 5, pointer, pointer]
    function.restype = ctypes.c_double

    def drive(curvature: np.ndarray) -> float:
        n = len(curvature)
        limit, w = np.empty(n), np.empty(n + 1)
        place = [array.ctypes.data_as(pointer) for array in (curvature, limit, w)]
        return float(function(n, place[0], 1200.0, 1.5, 1.4, 0.6, 2e5, place[1], place[2]))

    return drive


def hardest(c_ms: float) -> list[tuple[str, float, str]]:
    """Rows for the slowest demo plan, and for other exponents of combined slip: processor time."""
    found = []
    for plan in demo_plans():
        work = packed(planned(plan.document).drive)
        given = (work.case, work.road, work.lengths, work.closed, work.start_w)
        solve_kernel(*given)
        found.append((cpu_ms(partial(solve_kernel, *given)), plan.document.name))
    rows = [(f"… of the slowest demo plan ({max(found)[1]})", max(found)[0])]
    drive = planned(composed("k4-dry")).drive
    for entry, leaving in ((1.6, 1.6), (2.5, 1.8)):
        driver = replace(drive.driver, entry_exponent=entry, exit_exponent=leaving)
        work = packed(replace(drive, driver=driver))
        given = (work.case, work.road, work.lengths, work.closed, work.start_w)
        solve_kernel(*given)
        took = cpu_ms(partial(solve_kernel, *given))
        rows.append((f"… at exponents {entry:g} into and {leaving:g} out of corners", took))
    return [(name, took, f"{took / c_ms:.0f} × C") for name, took in rows]


def read(address: str) -> bytes:
    """What stands at an address."""
    with urllib.request.urlopen(address) as answer:
        found: bytes = answer.read()
    return found


def share(times: list[float], of: float) -> float:
    """The time that so large a share of the sorted times keeps within."""
    return times[min(int(of * len(times)), len(times) - 1)]


def main() -> None:
    document = composed("k4-dry")
    path = build_path(circuit_record(document.circuit))
    vehicle = vehicle_record(document.car)
    conditions, driver = conditions_record(document.conditions), driver_record(document.driver)
    pure = replace(driver, brake_ramp_s=0.0, transition_s=0.0, lift_threshold_ms=0.0)
    road, lengths = pack_road(path)
    case, pure_case = pack_case(vehicle, conditions, driver), pack_case(vehicle, conditions, pure)
    with tempfile.TemporaryDirectory() as folder:
        reduced = reduced_kernel(Path(folder))
        c_ms = median_ms(lambda: reduced(path.curvature_start))
    pure_ms = median_ms(lambda: solve_kernel(pure_case, road, lengths, True, 0.0))
    kernel_ms = median_ms(lambda: solve_kernel(case, road, lengths, True, 0.0))
    service_ms = median_ms(lambda: predict_lap(document, trace_points=800))
    variants = [
        Drive(
            path,
            replace(vehicle, tyres=replace(vehicle.tyres, mu_lateral=1.3 + 0.0004 * number)),
            conditions,
            driver,
        )
        for number in range(BATCH)
    ]
    solve_many(variants[:8], light)
    begun = time.perf_counter()
    solve_many(variants, light)
    batch_s = time.perf_counter() - begun
    with window() as page, running_server() as address:
        first_opened_ms = page_opened_ms(page, address, 1)
        time.sleep(WARM_S)
        opened_ms = page_opened_ms(page, address, 9)
    with running_server() as address:
        time.sleep(WARM_S)
        small_ms = median_ms(lambda: read(f"{address}api/health"))
        one = sorted(asked_of_kept(address, 103)[3:])
        cpu = cpu_of_children_ms()
        asked_of_kept(address, CPU_OVER, 1.30)
        cpu = (cpu_of_children_ms() - cpu) / CPU_OVER
        memory = memory_row(address)
        load = many_clients(address, stepping(address))
        pressed = key_to_repaint_ms(address, foreseen=True)
        surprised = key_to_repaint_ms(address, foreseen=False)
        between_ms, behind_ms = held_ms(address)
        slowest, slowest_between_ms, slowest_behind_ms = slowest_held_ms(address)
    each = 1000.0 * batch_s / BATCH
    rows = [
        ("reduced C kernel (flat, one axle, no gears, -O3)", c_ms, "1"),
        ("full kernel, pure driving", pure_ms, f"{pure_ms / c_ms:.0f} × C"),
        ("full kernel with lift and ramp", kernel_ms, f"{kernel_ms / c_ms:.0f} × C"),
        *hardest(c_ms),
        ("prediction in the process", service_ms, f"{service_ms / kernel_ms:.1f} × kernel"),
        ("what-if over HTTP with a baseline, median", share(one, 0.5), ""),
        ("what-if over HTTP with a baseline, 95 %", share(one, 0.95), ""),
        ("… least", one[0], ""),
        ("… processor time of all processes", cpu, ""),
        ("the smallest answer of the API over HTTP", small_ms, ""),
        (f"{CLIENTS} clients, a what-if each a second, median", share(load.times_ms, 0.5), ""),
        (f"{CLIENTS} clients, a what-if each a second, 99 %", share(load.times_ms, 0.99), ""),
        ("key pressed to lap repainted in Chromium, median", share(pressed, 0.5), ""),
        ("key pressed to lap repainted in Chromium, 95 %", share(pressed, 0.95), ""),
        ("… where the step was not foreseen, median", share(surprised, 0.5), ""),
        ("… where the step was not foreseen, 95 %", share(surprised, 0.95), ""),
        ("a key held, 30 a second: from one repaint to the next, median", between_ms, ""),
        ("… from the last key to the last repaint, median", behind_ms, ""),
        (f"a key held on the slowest plan of all ({slowest})", slowest_between_ms, ""),
        ("… from the last key to the last repaint", slowest_behind_ms, ""),
        ("page opened to curve painted, right after the start", first_opened_ms, ""),
        ("page opened to curve painted, later, median", opened_ms, ""),
        (f"batch of {BATCH:,}, each", each, f"{each / kernel_ms:.2f} × kernel"),
    ]
    beside_the_lap = [
        *call_rows(kernel_ms),
        *trade_rows(kernel_ms),
        *logbook_rows(),
        *race_rows(),
        *line_rows(),
        *import_rows(),
        *growth_rows(),
        memory,
    ]
    lines = [
        "# Performance",
        "",
        f"Measured by `make bench` on {os.cpu_count()} cores ({platform.machine()}, Python "
        f"{platform.python_version()}): the {path.length_m:.0f} m demo lap, {len(lengths)} steps.",
        "",
        "| what | ms | ratio |",
        "| --- | ---: | ---: |",
        *(f"| {name} | {value:.2f} | {ratio} |" for name, value, ratio in rows),
        "",
        "| calls, lines and files | time | of the lap solver |",
        "| --- | ---: | ---: |",
        *(f"| {name} | {value} | {ratio} |" for name, value, ratio in beside_the_lap),
        "",
        f"The batch of {BATCH:,} laps took {batch_s:.1f} s in all. Of the {CLIENTS} clients' "
        f"{len(load.times_ms)} requests {load.errors} failed.",
        "",
        *(HERE / "notes.md").read_text().strip().splitlines(),
    ]
    text = "\n".join(lines) + "\n"
    written = HERE.parent / "docs" / "performance.md"
    # What the slower scripts have measured stands below, and stays until they are run again.
    _, heading, kept = written.read_text().partition("\n## The fastest line on roads drawn by lot")
    written.write_text(text.rstrip() + "\n" + heading + kept)
    print(text)


if __name__ == "__main__":
    main()
