"""A lap found another way, and how closely the lap solver's own must agree with it."""

from dataclasses import dataclass

import numpy as np
import pytest

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.record import Lap
from neapfrost.core.path.build import Path


@dataclass(frozen=True)
class OtherLap:
    """Speeds at a path's nodes [m/s], lap time [s], and where the brakes come on [m]."""

    v_ms: Floats
    lap_time_s: float
    brake_starts_m: list[float]


def assert_agree(lap: Lap, path: Path, other: OtherLap, lap_time_share: float) -> None:
    """A share of the lap time, 0.1 % of top speed, 0.1 m/s at each corner, 2 m at each braking."""
    assert lap.lap_time_s == pytest.approx(other.lap_time_s, rel=lap_time_share)
    assert lap.v_ms.max() == pytest.approx(other.v_ms.max(), rel=1e-3)
    for corner in lap.path.corners:
        ours = lap.v_ms[(lap.s_m >= corner.begins_at_m) & (lap.s_m <= corner.ends_at_m)]
        inside = (path.s_m >= corner.begins_at_m) & (path.s_m <= corner.ends_at_m)
        assert ours.min() == pytest.approx(other.v_ms[inside].min(), abs=0.1)
    starts = np.array([zone.brake_start_at_m for zone in lap.zones])
    assert len(other.brake_starts_m) >= 2
    for start in other.brake_starts_m:
        assert np.abs(starts - start).min() < 2.0
