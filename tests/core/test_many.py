"""Many laps side by side are the laps one by one; compiled kernels are the plain functions."""

import os
import subprocess
import sys
from dataclasses import replace

import pytest

from core.builders import AIR_12, SHORT_LAP, lap_of, road_car
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.light import light
from neapfrost.core.lap.solve import Stopped, drive_lap, lap_time_s, solve_many
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit
from neapfrost.core.records import Driver, Tyres


def test_many_equal_one_by_one() -> None:
    path = build_path(SHORT_LAP)
    drives = [
        Drive(
            path,
            road_car(tyres=Tyres(mu, mu, 0.06, 0.32, 0.013)),
            replace(AIR_12, wind_speed_ms=wind),
        )
        for mu in (0.9, 1.2, 1.5)
        for wind in (0.0, 6.0)
    ]
    done: list[int] = []
    found = solve_many(drives, light, told=done.append)
    assert done == [1, 2, 3, 4, 5, 6]
    assert solve_many(drives, lap_time_s) == [one.lap_time_s for one in found if one is not None]
    for drive, one in zip(drives, found, strict=True):
        assert one is not None
        alone = drive_lap(drive)
        assert one.lap_time_s == pytest.approx(alone.lap.lap_time_s, abs=5e-4)
        assert one.top_speed_ms == pytest.approx(alone.lap.v_ms.max(), abs=0.1)
        for speed, result in zip(one.min_speed_ms, alone.corners, strict=True):
            assert speed == pytest.approx(result.min_speed_ms, abs=0.02)


def test_a_drive_that_is_impossible_leaves_the_others_alone() -> None:
    ring = build_path(Circuit("bowl", True, (Bend("T1", 1, 40.0, 360.0, banking_deg=-50.0),)))
    icy = road_car(tyres=Tyres(0.1, 0.1, 0.0, 0.32, 0.01))
    slick_s, icy_s = solve_many([Drive(ring, road_car()), Drive(ring, icy)], lap_time_s)
    assert slick_s is not None
    assert icy_s is None


def test_many_are_stopped_when_they_are_not_wanted_any_more() -> None:
    drives = [Drive(build_path(SHORT_LAP), road_car())] * 12
    done: list[int] = []
    with pytest.raises(Stopped):
        solve_many(drives, lap_time_s, lambda: len(done) >= 2, done.append)
    assert len(done) < 12


def test_uncompiled_kernels_give_the_same_lap() -> None:
    script = (
        "from core.builders import SHORT_LAP, lap_of, road_car\n"
        "from neapfrost.core.records import Driver\n"
        "print(repr(lap_of(SHORT_LAP, road_car(), driver=Driver(), step_m=8.0).lap_time_s))\n"
    )
    plain = subprocess.run(
        [sys.executable, "-c", script],
        env={**os.environ, "NUMBA_DISABLE_JIT": "1", "PYTHONPATH": "tests"},
        capture_output=True,
        text=True,
        check=True,
    )
    compiled = lap_of(SHORT_LAP, road_car(), driver=Driver(), step_m=8.0).lap_time_s
    assert float(plain.stdout) == pytest.approx(compiled, abs=1e-7)
