"""Fifty people who each keep an edit of a plan of their own every five seconds: how long one takes.

    python bench/editors.py [people] [seconds] [seconds between two edits of one]

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

PEOPLE, SECONDS, PACE_S = 50, 30.0, 5.0


def kept_edits(
    people: int = PEOPLE, seconds: float = SECONDS, pace_s: float = PACE_S
) -> tuple[list[float], int]:
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
                time.sleep(max(pace_s - took, 0.0))

        with running_server("serve", Path(folder)) as address:
            threads = [
                threading.Thread(target=edit, args=(address, plan_id, base, pace_s * n / people))
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
    pace_s = float(sys.argv[3]) if len(sys.argv) > 3 else PACE_S
    times, refused = kept_edits(people, seconds, pace_s)
    middle, most = times[len(times) // 2], times[int(0.95 * len(times))]
    print(
        f"{people} people, an edit every {pace_s:g} s, {len(times)} kept: median {middle:.0f} ms, "
        f"95 % {most:.0f} ms, "
        f"longest {times[-1]:.0f} ms, {refused} refused"
    )


if __name__ == "__main__":
    main()
