"""Units by what channels say of each other: a figure of eight driven at a known speed."""

from dataclasses import replace

import numpy as np
import pytest

from neapfrost.core.driven.log import Log
from neapfrost.core.driven.plausible import fitting_unit, lateral_ratio, speed_ratio

SPEED_MS, RADIUS_M = 25.0, 120.0
SPEED_UNITS = {"km/h": 1 / 3.6, "m/s": 1.0, "mph": 0.44704}
G_UNITS = {"g": 9.80665, "m/s²": 1.0}


def eight() -> Log:
    """Once round to the left and once to the right: v²/r to either side."""
    t = np.arange(0.0, 4.0 * np.pi * RADIUS_M / SPEED_MS, 0.1)
    angle = SPEED_MS / RADIUS_M * t
    left = angle < 2.0 * np.pi
    east = np.where(left, 1.0, -1.0) * RADIUS_M * (1.0 - np.cos(angle))
    return Log(
        t_s=t,
        v_ms=np.full(len(t), SPEED_MS),
        east_m=-east,
        north_m=RADIUS_M * np.sin(angle),
        ay_ms2=np.where(left, 1.0, -1.0) * SPEED_MS**2 / RADIUS_M,
    )


def test_channels_in_their_units_agree() -> None:
    log = eight()
    assert speed_ratio(log) == pytest.approx(1.0, abs=0.01)
    assert lateral_ratio(log) == pytest.approx(1.0, abs=0.05)
    assert fitting_unit(1.02, SPEED_UNITS, "km/h") is None


@pytest.mark.parametrize(
    ("written", "taken"), [("km/h", "mph"), ("mph", "km/h"), ("m/s", "km/h"), ("km/h", "m/s")]
)
def test_a_speed_in_another_unit_is_named(written: str, taken: str) -> None:
    log = eight()
    read = replace(log, v_ms=log.v_ms / SPEED_UNITS[written] * SPEED_UNITS[taken])
    ratio = speed_ratio(read)
    assert ratio == pytest.approx(SPEED_UNITS[written] / SPEED_UNITS[taken], rel=0.01)
    assert ratio is not None
    assert fitting_unit(ratio, SPEED_UNITS, taken) == written


def test_an_acceleration_in_another_unit_is_named() -> None:
    log = eight()
    assert log.ay_ms2 is not None
    ratio = lateral_ratio(replace(log, ay_ms2=log.ay_ms2 / 9.80665))
    assert ratio is not None
    assert fitting_unit(ratio, G_UNITS, "m/s²") == "g"


def test_nothing_is_said_without_positions_or_of_what_does_not_go_together() -> None:
    log = eight()
    assert speed_ratio(replace(log, east_m=None)) is None
    assert lateral_ratio(replace(log, ay_ms2=None)) is None
    noise = np.random.default_rng(1).standard_normal(len(log.t_s))
    assert lateral_ratio(replace(log, ay_ms2=noise)) is None
    assert speed_ratio(replace(log, v_ms=np.zeros(len(log.t_s)))) is None
