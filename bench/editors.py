"""Fifty people who keep edits of plans of their own: how long one takes.

    python bench/editors.py [people] [edits of each] [seconds between two edits of one]

Prints median, 95 % and the longest time of a kept edit [ms], and how many were refused.
"""

import sys
import tempfile
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parent), str(Path(__file__).parent.parent / "scripts")]

from clients import CLIENTS, Load, editing, many_clients  # noqa: E402 -- beside this file
from neapfrost.demo.plans import composed  # noqa: E402
from neapfrost.services.plans.exchange import import_plan  # noqa: E402
from neapfrost.services.plans.workbench import open_plan  # noqa: E402
from neapfrost.store.database import close_store, open_store  # noqa: E402
from serving import running_server  # noqa: E402 -- beside the other scripts


def kept_edits(people: int, edits: int, pace_s: float) -> Load:
    """All kept edits of so many people."""
    with tempfile.TemporaryDirectory() as folder:
        store = open_store(Path(folder))
        plan = composed("k4-dry")
        bases: dict[int, dict[str, int | None]] = {}
        for number in range(people):
            car = plan.car.model_copy(update={"name": f"Car {number}"})
            named = plan.model_copy(update={"name": f"Plan {number}", "car": car})
            plan_id = import_plan(store, named).plan_id
            bases[plan_id] = open_plan(store, plan_id).revisions.model_dump()
        close_store(store)
        with running_server("serve", Path(folder)) as address:
            return many_clients(address, editing(address, bases, edits), pace_s)


def main() -> None:
    given = [float(one) for one in sys.argv[1:]]
    people, edits, pace_s = [*given, *(float(CLIENTS), 4.0, 10.0)[len(given) :]]
    load = kept_edits(int(people), int(edits), pace_s)
    times = load.times_ms
    middle, most = times[len(times) // 2], times[int(0.95 * len(times))]
    print(
        f"{people:g} people, an edit every {pace_s:g} s, {len(times)} in all: median {middle:.0f} "
        f"ms, 95 % {most:.0f} ms, longest {times[-1]:.0f} ms, {load.errors} refused"
    )


if __name__ == "__main__":
    main()
