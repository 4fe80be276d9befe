"""A quantity along the path: linear pieces end to end, which may jump where two meet."""

from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats


@dataclass(frozen=True)
class Channel:
    """Pieces i from `begin[i]` to `end[i]` [m], linear from `first[i]` to `last[i]`."""

    begin: Floats
    end: Floats
    first: Floats
    last: Floats

    @property
    def breaks(self) -> Floats:
        """Where pieces meet, with both ends of the path [m]."""
        return np.append(self.begin, self.end[-1])


def from_pieces(pieces: list[tuple[float, float, float]]) -> Channel:
    """Channel from (length, first, last) pieces laid end to end; empty pieces are dropped."""
    kept = np.array([piece for piece in pieces if piece[0] > 0.0], dtype=np.float64)
    end = np.cumsum(kept[:, 0])
    begin = np.concatenate(([0.0], end[:-1]))
    return Channel(begin, end, kept[:, 1].copy(), kept[:, 2].copy())


def from_points(at: Floats, values: Floats) -> Channel:
    """Channel linear between points; before the first and after the last it would be undefined."""
    return Channel(at[:-1].copy(), at[1:].copy(), values[:-1].copy(), values[1:].copy())


def step_values(channel: Channel, nodes: Floats) -> tuple[Floats, Floats]:
    """Values at the start and the end of each step between `nodes`, seen from inside the step.

    Steps must not straddle a break. Shapes: nodes (n + 1,), each result (n,).
    """
    middle = 0.5 * (nodes[:-1] + nodes[1:])
    piece = np.clip(
        np.searchsorted(channel.begin, middle, side="right") - 1, 0, len(channel.begin) - 1
    )
    begin = channel.begin[piece]
    slope = (channel.last[piece] - channel.first[piece]) / (channel.end[piece] - begin)
    start = channel.first[piece] + slope * (nodes[:-1] - begin)
    end = channel.first[piece] + slope * (nodes[1:] - begin)
    return start, end
