"""The limit of a place: held there, and by no force at any speed above it, whoever drives."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from core.builders import AIR_12, PURE, lap_of, road_car
from core.test_reference import MOTORCYCLE
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels import road as r
from neapfrost.core.kernels.forces import GREATEST, force_range
from neapfrost.core.kernels.limits import CEILING_W, LIMIT_WIDTH, limit_w
from neapfrost.core.lap.pack_case import pack_case
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.records import Aero, Brakes, Tyres

#: Known to a millionth of w, and less closely where the margin has a kink or jumps: 0.4 mm/s.
ABOVE = (20.0 * LIMIT_WIDTH, 1e-4, 1e-3, 0.01, 0.03, 0.1, 0.3)


def place(radius_m: float, bank_deg: float, grip: float) -> Floats:
    """One step of a packed road, alike at both ends."""
    road = np.zeros((1, 2, r.COEFFICIENTS))
    bank = math.radians(bank_deg)
    road[:, :, r.N0], road[:, :, r.N2] = 9.80665 * math.cos(bank), math.sin(bank) / radius_m
    road[:, :, r.Y0], road[:, :, r.Y2] = -9.80665 * math.sin(bank), math.cos(bank) / radius_m
    road[:, :, r.NORTH], road[:, :, r.GRIP] = 1.0, grip
    road[:, :, r.LIFT] = road[:, :, r.DRAG] = road[:, :, r.BRAKING] = 1.0
    road[:, :, r.CORNER_GEAR] = road[:, :, r.TOP_GEAR] = -1.0
    return road


@settings(max_examples=150, deadline=None)
@given(
    radius_m=st.floats(9.0, 400.0),
    bank_deg=st.floats(-4.0, 12.0),
    grip=st.floats(0.5, 1.1),
    front_weight=st.floats(0.38, 0.62),
    front_aero=st.floats(0.25, 0.6),
    lift_area=st.floats(0.0, 5.5),
    rear_drive=st.sampled_from([0.0, 0.5, 1.0]),
    brake_share=st.sampled_from([None, 0.45, 0.55, 0.7]),
    sensitivity=st.sampled_from([0.0, 0.1]),
    exponents=st.sampled_from([(2.0, 2.0), (1.6, 1.6), (2.5, 1.8)]),
    rides=st.booleans(),
    guess=st.floats(0.2, 4.0),
    slope=st.sampled_from([0.0, -3.0, -60.0, -500.0]),
)
@example(80.0, 0.0, 1.0, 0.53, 0.31, 5.2, 1.0, 0.55, 0.08, (2.0, 2.0), False, 0.9, 0.0)
@example(24.0, 0.0, 1.0, 0.4375, 0.25, 2.0, 0.0, None, 0.0, (2.0, 2.0), False, 1.0, 0.0)
def test_a_limit_is_held_and_nothing_is_above_it(
    radius_m: float,
    bank_deg: float,
    grip: float,
    front_weight: float,
    front_aero: float,
    lift_area: float,
    rear_drive: float,
    brake_share: float | None,
    sensitivity: float,
    exponents: tuple[float, float],
    rides: bool,
    guess: float,
    slope: float,
) -> None:
    vehicle = (
        MOTORCYCLE
        if rides
        else road_car(
            aero=Aero(lift_area, 1.2, front_aero),
            front_weight_fraction=front_weight,
            rear_drive_fraction=rear_drive,
            brakes=Brakes(brake_share, 16_000.0),
            tyres=Tyres(1.5, 1.4, sensitivity, 0.32, 0.013),
        )
    )
    driver = replace(PURE, entry_exponent=exponents[0], exit_exponent=exponents[1])
    case, road = pack_case(vehicle, AIR_12, driver), place(radius_m, bank_deg, grip)

    def held(w: float) -> bool:
        return force_range(case, road, 0, 0.0, w, GREATEST)[3]

    w, _ = limit_w(case, road, 0, 0.0, guess * 15.0 * radius_m, slope)
    assume(w > 0.0)
    assert held(w)
    if w < CEILING_W:
        beyond = [w * (1.0 + more) for more in ABOVE]
        assert not any(held(faster) for faster in beyond if faster < CEILING_W)


def test_a_bank_of_next_to_nothing_leaves_the_limits_as_they_are() -> None:
    """Its bend goes on by so little along the straight that nothing can be divided by it."""

    def circuit(bank_deg: float) -> Circuit:
        bends = (Bend("T1", 1, 15.0, 25.0), Bend("T2", 1, 15.0, 25.0, banking_deg=bank_deg))
        straight = Straight(30.0, grade_pct=-3.0)
        return Circuit("next to nothing", False, (Straight(60.0), *bends, straight, Straight(90.0)))

    level, banked = (lap_of(circuit(bank), road_car()) for bank in (0.0, 2e-311))
    # A bank begins with a node of its own, which moves the time by some hundred-thousandths.
    assert banked.lap_time_s == pytest.approx(level.lap_time_s, rel=1e-4)
