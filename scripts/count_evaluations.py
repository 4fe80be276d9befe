"""How often the lap solver asks what the tyres can do: its effort, which no slow machine changes.

`python scripts/count_evaluations.py dunlin-heath …` prints the count for each demo plan. The
kernels run uncompiled for it, some hundred times as slow.
"""

import os
import sys

os.environ["NUMBA_DISABLE_JIT"] = "1"

from neapfrost.core.kernels import forces
from neapfrost.core.lap.solve import solved
from neapfrost.demo.plans import PLAN_IDS, composed
from neapfrost.services.laps.planned import planned


def evaluations(plan_id: str) -> int:
    """How many times loads and grip are put together for the lap of a demo plan."""
    count = 0
    once = forces.balance

    def counted(*given: object) -> object:
        nonlocal count
        count += 1
        return once(*given)  # type: ignore[arg-type]  # handed on as they came

    forces.balance = counted  # type: ignore[assignment]  # for as long as it is counted
    try:
        solved(planned(composed(plan_id)).drive)
    finally:
        forces.balance = once
    return count


if __name__ == "__main__":
    for plan_id in sys.argv[1:] or PLAN_IDS:
        print(plan_id, evaluations(plan_id), flush=True)
