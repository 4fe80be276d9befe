"""How much time a little more exit speed wins down the stretch that follows."""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.bundles import GEAR, HOLDING, Course
from neapfrost.core.kernels.drive import SHIFT_WHEN_STRONGER
from neapfrost.core.kernels.gear_race import drive_to_node
from neapfrost.core.kernels.jit import kernel


@kernel
def times_carried_s(
    course: Course,
    track: Integers,
    waiting: Floats,
    first: int,
    steps: int,
    v_ms: float,
    change_ms: float,
) -> tuple[float, float]:
    """Times over so many steps from node `first` [s], begun slower and faster by `change_ms`.

    Full throttle under the course's ceiling, shifting as the lap does at that node; where the
    ceiling falls below what is driven it is followed.
    """
    slower = _time_s(course, track, waiting, first, steps, (v_ms - change_ms) ** 2)
    faster = _time_s(course, track, waiting, first, steps, (v_ms + change_ms) ** 2)
    return slower, faster


@kernel
def _time_s(
    course: Course, track: Integers, waiting: Floats, first: int, steps: int, w: float
) -> float:
    n = len(course.lengths)
    gear = track[first, GEAR]
    wait = waiting[first]
    hold = track[first, HOLDING]
    guess = 0.0
    total = 0.0
    for i in range(steps):
        k = (first + i) % n
        # The ceiling itself is left alone at the start: more speed is what is asked about.
        w, gear, wait, taken, guess, met = drive_to_node(course, k, 0.0, w, gear, wait, hold, guess)
        if met:
            hold = SHIFT_WHEN_STRONGER
        total += taken
    return total
