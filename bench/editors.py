"""Fifty people who keep an edit of a plan of their own each second: how long one takes.

    python bench/editors.py [people] [seconds]

Prints median, 95 % and the longest time of a kept edit [ms], and how many were refused.
"""

import json
import sys
import tempfile
import threading
import time
import urllib.request
from pathlib import Path

sys.path[:0] = [str(Path(__file__).parent.parent / "scripts")]

from neapfrost.demo.plans import composed  # noqa: E402
from neapfrost.services.plans.exchange import import_plan  # noqa: E402
from neapfrost.services.plans.workbench import open_plan  # noqa: E402
from neapfrost.store.database import close_store, open_store  # noqa: E402
from serving import running_server  # noqa: E402 -- beside the other scripts

PEOPLE, SECONDS, PACE_S = 50, 20.0, 1.0


def kept_edits(people: int = PEOPLE, seconds: float = SECONDS) -> tuple[list[float], int]:
    """Times of all kept edits [ms], sorted, and how many were refused."""
    times: list[float] = []
    refused = [0]
    with tempfile.TemporaryDirectory() as folder:
        store = open_store(Path(folder))
        plan, bases = composed("k4-dry"), {}
        for number in range(people):
            car = plan.car.model_copy(update={"name": f"Car {number}"})
            named = plan.model_copy(update={"name": f"Plan {number}", "car": car})
            plan_id = import_plan(store, named).plan_id
            bases[plan_id] = open_plan(store, plan_id).revisions.model_dump()
        close_store(store)

        def edit(address: str, plan_id: int, base: dict[str, int], begins: float) -> None:
            time.sleep(begins)
            until, number = time.monotonic() + seconds, 0
            while time.monotonic() < until:
                number += 1
                change = {"field": "fuel_kg", "value": 5.0 + 0.01 * number + 0.0001 * plan_id}
                body = json.dumps({"base": base, "changes": [change]}).encode()
                request = urllib.request.Request(
                    f"{address}api/plans/{plan_id}/changes",
                    body,
                    {"content-type": "application/json"},
                )
                asked = time.perf_counter()
                try:
                    with urllib.request.urlopen(request, timeout=60) as answer:
                        base = json.loads(answer.read())["revisions"]
                except OSError:
                    refused[0] += 1
                    return
                took = time.perf_counter() - asked
                times.append(1000.0 * took)
                time.sleep(max(PACE_S - took, 0.0))

        with running_server("serve", Path(folder)) as address:
            threads = [
                threading.Thread(target=edit, args=(address, plan_id, base, n / people))
                for n, (plan_id, base) in enumerate(bases.items())
            ]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
    return sorted(times), refused[0]


def main() -> None:
    people = int(sys.argv[1]) if len(sys.argv) > 1 else PEOPLE
    seconds = float(sys.argv[2]) if len(sys.argv) > 2 else SECONDS
    times, refused = kept_edits(people, seconds)
    middle, most = times[len(times) // 2], times[int(0.95 * len(times))]
    print(
        f"{people} people, {len(times)} kept edits: median {middle:.0f} ms, 95 % {most:.0f} ms, "
        f"longest {times[-1]:.0f} ms, {refused} refused"
    )


if __name__ == "__main__":
    main()
