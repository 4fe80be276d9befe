"""Energy spent along a lap: one price, nothing better by a direct search, a balance that closes."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from scipy.optimize import minimize

from core.builders import AIR_12, SHORT_LAP, road_car
from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.bundles import RIDES
from neapfrost.core.lap.altered_road import with_electric_power
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import lap_time_s, solve, solved
from neapfrost.core.path.build import build_path
from neapfrost.core.path.circuit import Bend, Circuit, Straight
from neapfrost.core.race.energy import (
    Deployed,
    Store,
    deployed,
    driven_with,
    evenly,
    from_the_exits,
    in_uses,
    in_zones,
    with_own_road,
    without,
)
from neapfrost.core.race.within_store import deployed_within
from neapfrost.core.records import Driver

STORE = Store(((0.0, 90e3), (120.0, 90e3)), 0.9, 2e6, recovery_w=120e3)
TRIANGLE = Circuit(
    "triangle",
    True,
    (
        Straight(420.0),
        Bend("T1", 1, 40.0, 120.0, transition_m=10.0),
        Straight(260.0),
        Bend("T2", 1, 70.0, 120.0, transition_m=10.0),
        Straight(160.0),
        Bend("T3", 1, 30.0, 120.0, transition_m=10.0),
    ),
)
CIRCUITS = {"short": SHORT_LAP, "triangle": TRIANGLE}


@cache
def drive(name: str) -> Drive:
    path = build_path(CIRCUITS[name], 2.0)
    return with_own_road(Drive(path, road_car(), AIR_12, Driver(lift_threshold_ms=0.0)))


@cache
def best(name: str) -> Deployed:
    return deployed(drive(name), STORE)


@pytest.mark.parametrize("name", CIRCUITS)
def test_the_store_s_balance_closes_over_the_lap(name: str) -> None:
    found = best(name)
    assert abs(found.balance_j) < 1.0
    assert found.spent_j > 1e4
    assert found.charge_j[-1] - found.charge_j[0] == pytest.approx(found.balance_j, abs=1e-6)
    assert found.swing_j < STORE.usable_j
    emptied = deployed(drive(name), STORE, -1.5e5)
    assert emptied.balance_j == pytest.approx(-1.5e5, abs=1.0)
    assert emptied.lap.lap_time_s < found.lap.lap_time_s


@pytest.mark.parametrize("name", CIRCUITS)
def test_energy_is_spent_where_it_brings_more_than_its_one_price(name: str) -> None:
    found = best(name)
    spent = found.power_w > 0.99 * STORE.power_at(np.array([50.0]))[0]
    left = (found.power_w < 1.0) & (found.spare_j > 1.0)
    # A step of the grid is as finely as a place is told, and a shift lies across some.
    assert np.mean(found.worth_s_per_j[spent] > 0.9 * found.price_s_per_j) > 0.95
    assert np.mean(found.worth_s_per_j[left] < 1.1 * found.price_s_per_j) > 0.95


@pytest.mark.parametrize("name", CIRCUITS)
def test_no_limit_is_ever_passed(name: str) -> None:
    found = best(name)
    assert found.power_w.max() <= STORE.power_at(np.array([10.0]))[0] + 1e-6
    assert found.power_w.min() >= 0.0
    limited = replace(STORE, spent_most_j=6e4)
    assert deployed(drive(name), limited).spent_j <= 6e4 + 1.0
    weak = replace(STORE, discharge_w=40e3)
    assert deployed(drive(name), weak).power_w.max() <= 36e3 + 1e-6
    little = replace(STORE, recovered_most_j=5e4)
    assert deployed(drive(name), little).recovered_j <= 5e4


@pytest.mark.parametrize("name", CIRCUITS)
def test_no_way_by_feel_is_quicker(name: str) -> None:
    quickest = best(name).lap.lap_time_s
    for way in (evenly, from_the_exits):
        other = way(drive(name), STORE)
        assert other.balance_j >= -1.0
        assert other.lap.lap_time_s >= quickest - 1e-3
    half = np.arange(len(drive(name).path.s_m) // 2)
    assert in_zones(drive(name), STORE, half).lap.lap_time_s >= quickest - 1e-3
    assert without(drive(name), STORE).lap.lap_time_s > quickest


@pytest.mark.parametrize("name", CIRCUITS)
def test_in_one_use_it_is_spent_on_one_straight(name: str) -> None:
    one, two = (in_uses(drive(name), STORE, uses, -2e5) for uses in (1, 2))
    for found, uses in ((one, 1), (two, 2)):
        on = found.power_w > 0.0
        held = found.lap.solved.track[: len(on), RIDES] == 1
        # Between two uses the vehicle is held back at least once.
        assert not (on & held).any()
        stretches = np.flatnonzero(on & ~np.roll(on, 1))
        apart = sum(
            held[a:b].any() for a, b in zip(stretches, [*stretches[1:], len(on)], strict=True)
        )
        assert apart <= uses
    assert deployed(drive(name), STORE, -2e5).lap.lap_time_s <= two.lap.lap_time_s + 1e-3
    assert two.lap.lap_time_s <= one.lap.lap_time_s + 1e-3
    assert one.lap.lap_time_s < without(drive(name), STORE).lap.lap_time_s


@pytest.mark.parametrize("name", CIRCUITS)
def test_a_direct_search_over_zones_finds_nothing_better(name: str) -> None:
    """Power in zones of some 40 m, all free between none and full, by Powell's method."""
    own, found = drive(name), best(name)
    n = len(found.power_w)
    zones = np.arange(n) // 20
    count = int(zones.max()) + 1
    begin = np.array([found.power_w[zones == zone].mean() for zone in range(count)]) / 90e3

    def cost(shares: Floats) -> float:
        lap = driven_with(own, STORE, 90e3 * np.clip(shares, 0.0, 1.0)[zones])
        # What is spent too much is paid at twice its price.
        return lap.lap.lap_time_s + 2.0 * found.price_s_per_j * max(-lap.balance_j, 0.0)

    searched = minimize(
        cost, begin, method="Powell", bounds=[(0, 1)] * count, options={"maxfev": 400, "ftol": 1e-6}
    )
    assert found.lap.lap_time_s <= searched.fun * 1.001


def test_power_beside_the_engine_is_power_of_the_engine() -> None:
    """A machine of constant force adds to the torque: the same lap as a stronger engine's."""
    path = build_path(Circuit("s", False, (Straight(600.0),), start_speed_ms=30.0), 1.0)
    car = road_car(gearbox=replace(road_car().gearbox, ratios=(1.0,), upshift_s=0.0))
    car = replace(car, engine=replace(car.engine, torque_curve=((100.0, 300.0), (20000.0, 300.0))))
    car = replace(car, engine=replace(car.engine, rev_limit_rpm=20000.0))
    one = with_own_road(Drive(path, car, AIR_12, Driver()))
    lap = solve(one)
    middle = 0.5 * (lap.solved.node_w[:-1] + lap.solved.node_w[1:])
    force = 0.1 * lap.force_n[0]
    assert one.road is not None
    road = with_electric_power(one.road, force * np.sqrt(middle))
    stronger = replace(
        car, engine=replace(car.engine, torque_curve=((100.0, 330.0), (20000.0, 330.0)))
    )
    # Its power is stated for the speeds of the lap without it, which are a little lower.
    assert lap_time_s(solved(replace(one, road=road))) == pytest.approx(
        lap_time_s(solved(replace(one, vehicle=stronger))), rel=2e-3
    )


@pytest.mark.parametrize("share", [0.7, 0.25])
@pytest.mark.parametrize("name", CIRCUITS)
def test_a_small_store_is_never_over_full_nor_emptier_than_empty(name: str, share: float) -> None:
    small = replace(STORE, usable_j=share * best(name).swing_j)
    found = deployed_within(drive(name), small)
    assert found.swing_j <= small.usable_j
    assert abs(found.balance_j) < 1.0
    quickest, none = best(name).lap.lap_time_s, without(drive(name), STORE).lap.lap_time_s
    assert quickest < found.lap.lap_time_s < none
    # What it holds is worth at least as large a part of what can be won.
    assert none - found.lap.lap_time_s > share * (none - quickest)


def test_a_store_that_holds_enough_is_spent_as_before() -> None:
    assert deployed_within(drive("short"), STORE).lap.lap_time_s == best("short").lap.lap_time_s


def test_nothing_moved_within_a_small_store_is_quicker() -> None:
    small = replace(STORE, usable_j=0.4 * best("short").swing_j)
    found = deployed_within(drive("short"), small)
    draw = np.random.default_rng(3)
    on = np.flatnonzero((found.power_w > 0.0) & (found.spare_j > 1.0))
    off = np.flatnonzero((found.power_w < 1e3) & (found.spare_j > 1.0))
    better = 0
    for _ in range(40):
        power = found.power_w.copy()
        less, more = draw.choice(on, 12, replace=False), draw.choice(off, 12, replace=False)
        moved = 0.5 * found.power_w[less]
        power[less] -= moved
        power[more] += moved
        other = driven_with(drive("short"), small, power)
        held = other.swing_j <= small.usable_j and other.balance_j >= -1.0
        better += held and other.lap.lap_time_s < found.lap.lap_time_s - 5e-4
    assert better == 0


def geared(shift_s: float, share: float, name: str = "short") -> Drive:
    """A drive whose gearbox shifts in so long, every ratio so much of the usual one."""
    path = build_path(CIRCUITS[name], 2.0)
    box = road_car().gearbox
    box = replace(box, upshift_s=shift_s, ratios=tuple(share * one for one in box.ratios))
    return with_own_road(Drive(path, road_car(gearbox=box), AIR_12, Driver()))


@pytest.mark.parametrize("shift_s", [0.0, 0.01, 0.02, 0.05])
@pytest.mark.parametrize(("name", "share"), [("short", 1.0), ("triangle", 1.0), ("short", 1.25)])
def test_a_joule_s_worth_is_what_the_lap_answers_with(
    name: str, share: float, shift_s: float
) -> None:
    """By central differences of the lap time: some power more, and less, on 24 m of road."""
    own = geared(shift_s, share, name)
    n = len(own.path.s_m) - 1
    base = np.full(n, 45e3)
    found = driven_with(own, STORE, base)
    assert found.lap.upshift_count > 3
    seconds = np.zeros(n)
    np.add.at(seconds, found.lap.step[:-1], np.diff(found.lap.t_s))
    room = found.spare_j * STORE.efficiency >= 50e3 * seconds
    errors = []
    for first in range(0, n - 12, 12):
        block = slice(first, first + 12)
        if not room[block].all() or found.worth_s_per_j[block].max() < 2e-7:
            continue
        more, less = base.copy(), base.copy()
        more[block] += 4e3
        less[block] -= 4e3
        gained_s = (
            driven_with(own, STORE, less).lap.lap_time_s
            - driven_with(own, STORE, more).lap.lap_time_s
        )
        told = (found.worth_s_per_j[block] * seconds[block]).sum() * 8e3 / STORE.efficiency
        errors.append(abs(told / gained_s - 1.0))
    assert len(errors) > 10
    assert np.median(errors) < 0.03
    # A shift that falls into the lift for a corner is told less finely.
    assert np.quantile(errors, 0.9) < 0.05


def test_no_other_gearbox_knows_a_better_deployment() -> None:
    """What is best for one gearbox, within the same power and balance, is no better for another."""
    found = {shift_s: deployed(geared(shift_s, 1.25), STORE) for shift_s in (0.0, 0.01, 0.03, 0.06)}
    for shift_s, own in found.items():
        # A quicker gearbox never makes the lap slower.
        assert all(
            other.lap.lap_time_s >= own.lap.lap_time_s - 1e-3
            for s, other in found.items()
            if s > shift_s
        )
        for other in found.values():
            low, high = 0.0, 1.0
            for _ in range(24):
                share = 0.5 * (low + high)
                lap = driven_with(geared(shift_s, 1.25), STORE, share * other.power_w)
                low, high = (share, high) if lap.balance_j >= own.balance_j else (low, share)
            lap = driven_with(geared(shift_s, 1.25), STORE, low * other.power_w)
            assert lap.lap.lap_time_s >= own.lap.lap_time_s * (1.0 - 2e-4)


def test_no_random_reallocation_is_better_with_quick_shifts() -> None:
    own = geared(0.01, 1.25)
    found = deployed(own, STORE)
    draw = np.random.default_rng(11)
    on = np.flatnonzero((found.power_w > 0.0) & (found.spare_j > 1.0))
    off = np.flatnonzero((found.power_w < 1e3) & (found.spare_j > 1.0))
    for _ in range(40):
        power = found.power_w.copy()
        count = int(draw.integers(4, 30))
        begin_on, begin_off = int(draw.choice(on)), int(draw.choice(off))
        less = on[(on >= begin_on) & (on < begin_on + count)]
        more = off[(off >= begin_off) & (off < begin_off + len(less))]
        power[less[: len(more)]] *= 0.5
        power[more] += 0.5 * found.power_w[less[: len(more)]]
        other = driven_with(own, STORE, power)
        if other.balance_j >= found.balance_j:
            assert other.lap.lap_time_s >= found.lap.lap_time_s * (1.0 - 2e-4)
