"""What the passes hand to each other, in two bundles."""

from typing import NamedTuple

from neapfrost.core.arrays import Floats, Integers

# Columns of the whole-number track, one row a node.
GEAR, HOLDING, UPSHIFTS, RIDES, OFF_THROTTLE, OFF_SINCE, GEAR_BEFORE, OPEN = range(8)
TRACK_COLUMNS = 8


class Course(NamedTuple):
    """What is driven over, and under what: fixed while the lap is driven.

    `case` and `road` as packed, step `lengths` (n,), `limit` (n, 2), the lowest limit of a stride
    from each step, `stride_limit` (n,), the `ceiling` (n + 1,) that the backward pass leaves, and
    whether the path is closed.
    """

    case: Floats
    road: Floats
    lengths: Floats
    limit: Floats
    stride_limit: Floats
    ceiling: Floats
    closed: bool


class Driven(NamedTuple):
    """The lap as it is driven, written node by node.

    `w` [m²/s²], `time` [s] and `waiting`, the rest of a running shift [s], each (n + 1,); `track`
    (n + 1, 8) of whole numbers; `join` (n,), the share of a step at which the ceiling is met, else
    -1; `clock` (1,), when the throttle was last opened again.
    """

    w: Floats
    time: Floats
    waiting: Floats
    track: Integers
    join: Floats
    clock: Floats
