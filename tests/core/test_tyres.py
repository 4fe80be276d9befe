"""An axle's interval of possible force against a scan of its inequality."""

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from neapfrost.core.kernels.tyres import Axles, axle_interval, ideal_brake_interval

SCAN = np.linspace(0.0, 60.0, 60_001)

axles = st.fixed_dictionaries(
    {
        "load": st.floats(0.5, 12.0),
        "gain": st.floats(-0.6, 0.6),
        "slip": st.sampled_from([0.0, 0.2, 0.5, 0.9]),
        "lateral": st.floats(0.0, 14.0),
    }
)


@given(axle=axles, p=st.sampled_from([2.0, 1.0, 1.3, 1.7, 3.0]))
def test_axle_interval_is_where_the_load_covers_the_demand(
    axle: dict[str, float], p: float
) -> None:
    low, high = axle_interval(axle["load"], axle["gain"], axle["slip"], axle["lateral"], p)
    demand = ((axle["slip"] * SCAN) ** p + axle["lateral"] ** p) ** (1.0 / p)
    possible = SCAN[axle["load"] + axle["gain"] * SCAN >= demand]
    if len(possible) == 0:
        # A scan sees nothing narrower than its step.
        assert low > high or low > 60.0 or high - low < 1e-3
        return
    assert low == pytest.approx(possible[0], abs=2e-3)
    assert min(high, 60.0) == pytest.approx(possible[-1], abs=2e-3)


@pytest.mark.parametrize("sign", [1.0, -1.0])
@pytest.mark.parametrize("apart", [0.0, 1e-16, 2e-16, 1e-13, 1e-9, -1e-16, -2e-16, -1e-13, -1e-9])
@given(load=st.floats(0.5, 12.0), lateral=st.floats(0.0, 14.0), slip=st.sampled_from([0.1, 0.2]))
def test_a_demand_that_grows_as_fast_as_the_load_changes(
    sign: float, apart: float, load: float, lateral: float, slip: float
) -> None:
    # Where both grow alike the quadratic's square term is next to nothing, or nothing.
    gain = sign * slip * (1.0 + apart)
    low, high = axle_interval(load, gain, slip, lateral, 2.0)
    possible = SCAN[load + gain * SCAN >= np.hypot(slip * SCAN, lateral)]
    if len(possible) == 0:
        assert low > high or low > 60.0 or high - low < 1e-3
        return
    assert low == pytest.approx(possible[0], abs=2e-3)
    assert min(high, 60.0) == pytest.approx(possible[-1], abs=2e-3)


@given(
    front=st.floats(2.0, 8.0),
    rear=st.floats(2.0, 8.0),
    gain=st.floats(0.0, 0.5),
    lateral=st.tuples(st.floats(0.0, 5.0), st.floats(0.0, 5.0)),
    mu=st.tuples(st.floats(0.5, 2.0), st.floats(0.5, 2.0)),
)
def test_ideal_brakes_use_each_axle_to_its_own_limit(
    front: float, rear: float, gain: float, lateral: tuple[float, float], mu: tuple[float, float]
) -> None:
    assume(front >= lateral[0])  # else braking itself is what holds the front, a case of its own
    low, high = ideal_brake_interval(
        Axles(front, rear, gain, gain, 1.0 / mu[0], 1.0 / mu[1], lateral[0], lateral[1], 2.0)
    )
    load_front, load_rear = front + gain * SCAN, rear - gain * SCAN
    give_front = mu[0] * np.sqrt(np.maximum(load_front**2 - lateral[0] ** 2, 0.0))
    give_rear = mu[1] * np.sqrt(np.maximum(load_rear**2 - lateral[1] ** 2, 0.0))
    held = (load_front >= lateral[0]) & (load_rear >= lateral[1])
    possible = SCAN[held & (give_front + give_rear >= SCAN)]
    if len(possible) == 0:
        assert low > high
        return
    assert high == pytest.approx(possible[-1], abs=2e-3)
