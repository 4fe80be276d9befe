"""How long the calls of a corner, the worth of a lap and its bands take."""

import time
from collections.abc import Callable

from neapfrost.demo.plans import composed
from neapfrost.services.corners.bands import plan_bands
from neapfrost.services.corners.calls import corner_calls
from neapfrost.services.corners.worth import lap_worth
from neapfrost.services.laps.predict import recall

LAPS = 200


def call_rows(kernel_ms: float) -> list[tuple[str, str, str]]:
    """Rows for the table beside the lap: name, time, and how many laps of the solver that is."""
    plan = composed("k4-dry")
    plan = plan.model_copy(update={"uncertainty": plan.uncertainty.model_copy(update={"laps": 20})})
    recall(plan, None)
    plan_bands(plan)
    many = plan.uncertainty.model_copy(update={"laps": LAPS, "seed": 5})
    tasks: list[tuple[str, Callable[[], object]]] = [
        ("All calls of a corner", lambda: corner_calls(plan, 6)),
        ("… of one in doubt between flat, lift and brake", lambda: corner_calls(plan, 1)),
        ("Worth of every corner", lambda: lap_worth(plan)),
        (
            f"Bands from {LAPS} laps",
            lambda: plan_bands(plan.model_copy(update={"uncertainty": many})),
        ),
    ]
    rows = []
    for name, task in tasks:
        begun = time.perf_counter()
        task()
        seconds = time.perf_counter() - begun
        rows.append((name, f"{seconds:.2f} s", f"{1000.0 * seconds / kernel_ms:.0f} laps"))
    return rows
