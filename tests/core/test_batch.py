"""Many laps at once are the laps one by one; compiled kernels are the plain functions."""

import os
import subprocess
import sys
from dataclasses import replace

import pytest

from core.builders import AIR_12, SHORT_LAP, lap_of, road_car
from neapfrost.core.lap.batch import Variant, solve_batch
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit
from neapfrost.core.records import Driver, Tyres


def test_a_batch_equals_its_laps_one_by_one() -> None:
    variants = [
        Variant(
            road_car(tyres=Tyres(mu, mu, 0.06, 0.32, 0.013)),
            replace(AIR_12, wind_speed_ms=wind),
            Driver(),
        )
        for mu in (0.9, 1.2, 1.5)
        for wind in (0.0, 6.0)
    ]
    batch = solve_batch(build_path(SHORT_LAP), variants, workers=2)
    assert batch.solved.all()
    for number, variant in enumerate(variants):
        lap = lap_of(SHORT_LAP, variant.vehicle, variant.conditions, variant.driver)
        assert batch.lap_time_s[number] == pytest.approx(lap.lap_time_s, abs=5e-4)
        assert batch.top_speed_ms[number] == pytest.approx(lap.v_ms.max(), abs=0.1)
        for corner, result in enumerate(corner_results(lap, [])):
            assert batch.min_speed_ms[number, corner] == pytest.approx(
                result.min_speed_ms, abs=0.02
            )


def test_a_variant_that_cannot_be_driven_leaves_the_others_alone() -> None:
    ring = Circuit("bowl", True, (Bend("T1", 1, 40.0, 360.0, banking_deg=-50.0),))
    slick = Variant(road_car(), AIR_12, Driver())
    icy = Variant(road_car(tyres=Tyres(0.1, 0.1, 0.0, 0.32, 0.01)), AIR_12, Driver())
    batch = solve_batch(build_path(ring), [slick, icy])
    assert batch.solved.tolist() == [True, False]
    assert batch.lap_time_s[1] == 0.0


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
