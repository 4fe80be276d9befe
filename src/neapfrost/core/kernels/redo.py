"""A lap driven again where something on it has changed, and kept where nothing has."""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.backward import backward_range, let_ends_agree, node_limit
from neapfrost.core.kernels.bundles import OFF_THROTTLE, RIDES, Course, Driven
from neapfrost.core.kernels.forward import REPEATS, forward_range, repeated
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.step import FAR_BELOW, STRIDE

LONG_AGO_S = -1e9


@kernel
def lower_again(course: Course, coast_gear: Integers, changed: Integers) -> None:
    """Bring the ceiling up to date after the limit or the pedals of some steps have changed.

    `changed` (n,) is 1 for these steps. Every run of them is passed through, and what lies before
    it until the old values are met.
    """
    n = len(course.lengths)
    course.ceiling[n] = min(course.ceiling[n], node_limit(course.limit, n, course.closed))
    last = n
    while last > 0:
        if changed[last - 1] == 0:
            last -= 1
            continue
        first = last
        while first > 0 and changed[first - 1] == 1:
            first -= 1
        backward_range(course, coast_gear, first, last, False)
        backward_range(course, coast_gear, 0, first, True)
        last = first
    if course.closed:
        let_ends_agree(course, coast_gear)


@kernel
def drive_again(
    course: Course, driven: Driven, coast_gear: Integers, changed: Integers, before: Floats
) -> tuple[int, int]:
    """Drive every part of the lap on which the ceiling is no longer as `before` (n + 1,).

    Each part from where the throttle is open and the tyres have grip to spare to where the track of
    the lap before is met again. Returns (status, node) as `forward_pass` does.
    """
    n = len(course.lengths)
    node = 0
    while node <= n:
        if not _is_new(course, changed, before, node):
            node += 1
            continue
        until = node
        while until < n and _is_new(course, changed, before, until + 1):
            until += 1
        first = _clean_start(course, driven, node)
        driven.clock[0] = _last_opened(driven, first, course.closed)
        status, node = forward_range(course, driven, coast_gear, first, n, until)
        if status != REPEATS:
            return status, node
        node = max(node, until + 1)
    if not course.closed:
        return REPEATS, n
    driven.clock[0] = _last_opened(driven, n, False)
    return repeated(course, driven, coast_gear)


@kernel
def _is_new(course: Course, changed: Integers, before: Floats, node: int) -> bool:
    """Whether the ceiling at a node, or a step beside it, is otherwise than before."""
    n = len(changed)
    if course.ceiling[node] != before[node]:
        return True
    return bool((node < n and changed[node] == 1) or (node > 0 and changed[node - 1] == 1))


@kernel
def _clean_start(course: Course, driven: Driven, node: int) -> int:
    """A node before another from which the lap can be driven on knowing that node's state alone."""
    track = driven.track
    first = max(node - STRIDE, 0)
    while first > 0:
        free = track[first - 1, RIDES] == 0 and track[first, OFF_THROTTLE] == 0
        spare = driven.w[first] < FAR_BELOW * course.limit[first - 1, 1]
        if free and spare and driven.waiting[first] == 0.0:
            break
        first -= 1
    return first


@kernel
def _last_opened(driven: Driven, node: int, closed: bool) -> float:
    """When the throttle was last opened again before a node [s], on the lap before if need be."""
    time, track = driven.time, driven.track
    n = len(time) - 1
    for at in range(node - 1, -1, -1):
        if track[at, OFF_THROTTLE] == 1:
            return float(time[at])
    if closed:
        for at in range(n - 1, node, -1):
            if track[at, OFF_THROTTLE] == 1:
                return float(time[at] - time[n])
    return LONG_AGO_S


@kernel
def alike(values: Floats, before: Floats, first: int, last: int, closed: bool) -> bool:
    """Whether the values at some nodes, unfolded, are as they were."""
    n = len(values) - 1
    for node in range(first, last + 1):
        at = node % n if closed else min(max(node, 0), n)
        if values[at] != before[at]:
            return False
    return True
