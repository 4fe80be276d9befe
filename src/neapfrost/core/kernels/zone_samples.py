"""The samples of braking zones on a finished lap: where they lie, and in the place of its nodes.

A zone's samples lead from its lift to the ceiling; their steps, and with them the places here, are
unfolded. `samples` is (m, r, 5), of which `rows` (m,) each count.
"""

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.jit import kernel
from neapfrost.core.kernels.zones import (
    FIRST_STEP,
    JOIN,
    SHARE,
    SPEED_W,
    STEP,
    TIME,
    zone_transition_s,
)


@kernel
def unfolded_m(nodes: Floats, step: int, share: float) -> float:
    """Position of a share of a step, which may lie a lap before or after the nodes (n + 1,) [m]."""
    count = len(nodes) - 1
    lap = step // count
    k = step - lap * count
    return nodes[k] + share * (nodes[k + 1] - nodes[k]) + lap * nodes[count]


@kernel
def place_samples(nodes: Floats, rows: Integers, samples: Floats, out: Floats) -> None:
    """Position of every sample [m], into `out` (m, r)."""
    for i in range(len(rows)):
        for row in range(rows[i]):
            step = int(samples[i, row, STEP])
            out[i, row] = unfolded_m(nodes, step, samples[i, row, SHARE])


# Many parameters: a lap's columns are handed on singly, as to all kernels along a lap.
@kernel
def begin_zones(
    case: Floats,
    road: Floats,
    nodes: Floats,
    zones: Floats,
    rows: Integers,
    samples: Floats,
    placed: Floats,
    out: Floats,
) -> None:
    """Where each zone's throttle is shut and where its brakes come [m], into `out` (m, 2).

    `placed` (m, r) are the samples' positions.
    """
    for i in range(len(zones)):
        if rows[i] == 0:
            crossing = unfolded_m(nodes, int(zones[i, FIRST_STEP]), max(zones[i, JOIN], 0.0))
            out[i, 0] = out[i, 1] = crossing
            continue
        out[i, 0] = placed[i, 0]
        due = zone_transition_s(case, road, zones[i])
        row = 0
        while row + 1 < rows[i] and samples[i, row + 1, TIME] < due:
            row += 1
        last = min(row + 1, rows[i] - 1)
        apart = samples[i, last, TIME] - samples[i, row, TIME]
        share = (due - samples[i, row, TIME]) / apart if apart > 0.0 else 0.0
        share = min(max(share, 0.0), 1.0)
        out[i, 1] = placed[i, row] + share * (placed[i, last] - placed[i, row])


@kernel
def lay_zones(rows: Integers, samples: Floats, w: Floats) -> None:
    """Put every zone's lift and ramp in the place of the nodes that it passes, in `w` (n + 1,)."""
    count = len(w) - 1
    for i in range(len(rows)):
        if rows[i] == 0:
            continue
        row = 0
        last = int(samples[i, rows[i] - 1, STEP])
        for node in range(int(samples[i, 0, STEP]) + 1, last + 1):
            while (
                row + 2 < rows[i] and samples[i, row + 1, STEP] + samples[i, row + 1, SHARE] < node
            ):
                row += 1
            before = samples[i, row, STEP] + samples[i, row, SHARE]
            apart = samples[i, row + 1, STEP] + samples[i, row + 1, SHARE] - before
            share = (node - before) / apart if apart > 0.0 else 1.0
            gained = samples[i, row + 1, SPEED_W] - samples[i, row, SPEED_W]
            w[node % count] = samples[i, row, SPEED_W] + share * gained
            if node % count == 0:
                w[count] = w[0]


@kernel
def top_speed_w(zones: Floats, rows: Integers, samples: Floats, w: Floats) -> float:
    """Highest squared speed of nodes (n + 1,) with each zone's lift for what lay beyond it."""
    count = len(w) - 1
    most = 0.0
    for node in range(count + 1):
        if w[node] <= most:
            continue
        beyond = False
        for i in range(len(rows)):
            if rows[i] > 0:
                first, last = int(samples[i, 0, STEP]) + 1, int(zones[i, FIRST_STEP]) + 1
                beyond = beyond or (node - first) % count <= last - first
        if not (beyond and node < count):
            most = w[node]
    for i in range(len(rows)):
        if rows[i] > 0:
            most = max(most, samples[i, 0, SPEED_W])
    return most
