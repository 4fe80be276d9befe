"""Where a store's energy is worth most along a lap, and how a lap is driven that spends it there.

What a joule is worth at each place is told by `joule_worth`. The lap is quickest where energy is
spent exactly where a joule out of the store brings more than one price, the same for the whole lap,
and taken from the engine where it costs less than that (Pontryagin's maximum principle; the power
enters the lap linearly, so it is all or nothing but for one place). The lap answers to what is
spent, so that price and lap are found in turn.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Flags, Floats, Integers
from neapfrost.core.kernels.beside_engine import (
    BRAKED_FRONT,
    ENGINE_W,
    SPARE_W,
    beside_engine,
)
from neapfrost.core.kernels.case import LIMITER_W
from neapfrost.core.lap.altered_road import steps_between, with_electric_power
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import FULL, Lap, lap_of
from neapfrost.core.lap.solve import solved
from neapfrost.core.race.joule_worth import ON_LIMITER, free_steps, worth_at_tyres

#: Laps until price and lap agree, and the rest that is made up by moving the last place.
TURNS_MOST, CLOSING_TURNS = 14, 40
#: Laps until what an attack spends and how quickly it is driven agree.
ATTACK_TURNS = 4
#: A store's balance is met to this [J].
MET_J = 0.5


@dataclass(frozen=True)
class Store:
    """A machine at the wheels and the store behind it.

    `power_w` are (speed [m/s], power at the tyres [W]) pairs, linear between them; `efficiency`
    of the way out and, again, of the way in. `recovery_w` is the most it takes from braking at the
    tyres, from the axle whose share of the braking is `recovery_front` (1 the front axle, 0 the
    rear), and of that axle's braking no more than `recovery_share`. `engine_w` it may take from the
    engine under full throttle. `discharge_w`, `charge_w` bound what leaves and enters the store.
    `usable_j` is what it holds. Limits of a lap: `spent_most_j`, `recovered_most_j`.
    """

    power_w: tuple[tuple[float, float], ...]
    efficiency: float
    usable_j: float
    recovery_w: float = 0.0
    recovery_front: float = 0.0
    recovery_share: float = 1.0
    engine_w: float = 0.0
    discharge_w: float = float("inf")
    charge_w: float = float("inf")
    spent_most_j: float = float("inf")
    recovered_most_j: float = float("inf")

    def power_at(self, v_ms: Floats) -> Floats:
        """The most at the tyres at speeds [W]."""
        speeds, powers = zip(*self.power_w, strict=True)
        most: Floats = np.interp(v_ms, speeds, powers)
        return np.minimum(most, self.discharge_w * self.efficiency)

    @property
    def taken_w(self) -> float:
        """The most it takes from braking at the tyres [W]."""
        return min(self.recovery_w, self.charge_w / self.efficiency)

    @property
    def from_engine_w(self) -> float:
        """The most it takes from the engine at the tyres [W]."""
        return min(self.engine_w, self.charge_w / self.efficiency)


@dataclass(frozen=True, eq=False)
class Deployed:
    """A lap with what is spent and recovered along it.

    `power_w` (n,) in each step of the path at the tyres, below 0 where the engine charges; `price`
    seconds for a joule out of the store (0 where there is energy to spare); `worth_s_per_j` (n,)
    what a joule out of the store brings in each step (0 where none can be spent); `charge_j` (m,)
    how the store's charge goes along the lap's points from the line on, from nothing; `spare_j`
    (n,) what the store could give in each step at full power, and the tyres take;
    `braking_each_j` (n,) what the brakes could give it there.
    """

    lap: Lap
    power_w: Floats
    price_s_per_j: float
    worth_s_per_j: Floats
    spent_j: float
    recovered_j: float
    from_engine_j: float
    charge_j: Floats
    spare_j: Floats
    braking_each_j: Floats

    @property
    def balance_j(self) -> float:
        """What the store holds more at the end than at the start."""
        return self.recovered_j + self.from_engine_j - self.spent_j

    @property
    def swing_j(self) -> float:
        """How much the store has to hold for this lap."""
        return float(self.charge_j.max() - self.charge_j.min())


def deployed(
    drive: Drive, store: Store, balance_j: float = 0.0, allowed: Flags | None = None
) -> Deployed:
    """The quickest lap whose store ends so much fuller than it began (negative: emptier).

    Nothing is spent outside of the steps `allowed` (n,), where those are stated. Raises
    LapImpossible as `solve` does.
    """
    drive = with_own_road(drive)
    found = _at_one_price(drive, store, balance_j, allowed)
    best = _closed(drive, store, found, balance_j, allowed)
    gearbox = drive.vehicle.gearbox
    if gearbox.upshift_s == 0.0:
        return best
    # A shift that is made or not makes the lap answer in leaps. One that costs no time does not,
    # so that what is best with it is tried with the gearbox as it is.
    free = replace(drive, vehicle=replace(drive.vehicle, gearbox=replace(gearbox, upshift_s=0.0)))
    smooth = _at_one_price(free, store, balance_j, allowed)
    other = _closed(drive, store, smooth, balance_j, allowed)
    quicker = other.lap.lap_time_s < best.lap.lap_time_s
    return other if quicker and missing_j(store, other, balance_j) <= 0.0 else best


def _at_one_price(drive: Drive, store: Store, balance_j: float, allowed: Flags | None) -> Deployed:
    """Price and lap in turn, until they agree; the balance is met but for what the lap answers."""
    power = np.zeros(len(drive.path.s_m) - 1)
    found = _driven(drive, store, power, 0.0)
    for turn in range(TURNS_MOST):
        known = ranked(found, store, allowed)
        wanted, price = _at_balance(known, store, balance_j)
        share = 1.0 if turn < 3 else 0.5
        power = power + share * (wanted - power)
        last, found = found, _driven(drive, store, power, price)
        if turn > 3 and abs(found.lap.lap_time_s - last.lap.lap_time_s) < 2e-6:
            break
    return found


def in_uses(drive: Drive, store: Store, uses: int, balance_j: float = 0.0) -> Deployed:
    """The quickest lap that spends in so many uses at the most, each on a straight of its own.

    The straights on which the lap without that limit gains most are kept, and the lap found anew
    for them alone.
    """
    drive = with_own_road(drive)
    free = deployed(drive, store, balance_j)
    straight = _straight_of(free.lap, len(free.power_w))
    spent = np.where(free.power_w > 0.0, free.spare_j, 0.0) * free.worth_s_per_j
    numbers = np.unique(straight[straight >= 0])
    gains = sorted(numbers, key=lambda one: -float(spent[straight == one].sum()))
    return deployed(drive, store, balance_j, np.isin(straight, gains[:uses]))


def evenly(drive: Drive, store: Store, balance_j: float = 0.0) -> Deployed:
    """The same share of the power wherever the throttle is down."""

    def power(share: float, lap: Deployed) -> Floats:
        return share * _most_w(lap, store)

    return _by_amount(drive, store, power, 1.0, balance_j)


def from_the_exits(drive: Drive, store: Store, balance_j: float = 0.0) -> Deployed:
    """All of the power from each corner's exit on, for as long on every straight.

    Seconds are counted along the lap without it.
    """

    def power(seconds: float, lap: Deployed) -> Floats:
        most = _most_w(lap, store)
        since = _since_exit_s(lap.lap, len(most))
        steps = _step_times(lap.lap, len(most))
        share = np.clip((seconds - since) / np.maximum(steps, 1e-9), 0.0, 1.0)
        return most * share

    return _by_amount(drive, store, power, 60.0, balance_j)


def in_zones(drive: Drive, store: Store, steps: Integers, balance_j: float = 0.0) -> Deployed:
    """All of the power in some steps of the path, or as large a share of it as the store has."""
    inside = np.zeros(len(drive.path.s_m) - 1)
    inside[steps] = 1.0

    def power(share: float, lap: Deployed) -> Floats:
        return share * inside * _most_w(lap, store)

    return _by_amount(drive, store, power, 1.0, balance_j)


def without(drive: Drive, store: Store) -> Deployed:
    """The lap with nothing spent; what braking recovers is counted."""
    return driven_with(drive, store, np.zeros(len(drive.path.s_m) - 1))


def attack(drive: Drive, store: Store, from_m: float, to_m: float) -> Deployed:
    """All that a full store gives on one straight, from its beginning until nothing is left [m].

    The quicker it is driven, the less is spent at each place: both are found in turn.
    """
    drive = with_own_road(drive)
    path = drive.path
    steps = steps_between(path, from_m, to_m)
    steps = steps[np.argsort(path.ring.ahead(np.full(len(steps), from_m), path.s_m[steps]))]
    found = without(drive, store)
    for _ in range(ATTACK_TURNS):
        spend = found.spare_j[steps]
        before = np.cumsum(spend) - spend
        share = np.clip((store.usable_j - before) / np.maximum(spend, 1e-9), 0.0, 1.0)
        power = np.zeros(len(path.s_m) - 1)
        power[steps] = np.where(spend > 0.0, share * _most_w(found, store)[steps], 0.0)
        found = _driven(drive, store, power, 0.0)
    return found


def driven_with(
    drive: Drive,
    store: Store,
    power_w: Floats,
    keep: Floats | None = None,
    price_s_per_j: float = 0.0,
) -> Deployed:
    """The lap with a power in each step of the path (n,) [W] at the tyres.

    `keep` (n,) is the share of what the brakes could give there that is kept; all of it without.
    """
    return _driven(with_own_road(drive), store, power_w, price_s_per_j, keep)


def with_own_road(drive: Drive) -> Drive:
    """A drive with its orders in a road of its own."""
    return drive if drive.road is not None else replace(drive, road=solved(drive).packed.road)


def _by_amount(
    drive: Drive,
    store: Store,
    power: Callable[[float, Deployed], Floats],
    most: float,
    balance_j: float,
) -> Deployed:
    """A rule taken as far as the store's balance allows, its one amount found by driving it.

    `power` is asked for the amount and the lap with nothing spent.
    """
    drive = with_own_road(drive)
    base = without(drive, store)

    def drive_at(amount: float) -> Deployed:
        return _driven(drive, store, power(amount, base), 0.0)

    low, high = 0.0, most
    found = drive_at(high)
    if found.balance_j >= balance_j and found.spent_j <= store.spent_most_j:
        return found
    for _ in range(30):
        middle = 0.5 * (low + high)
        found = drive_at(middle)
        over = found.balance_j < balance_j or found.spent_j > store.spent_most_j
        low, high = (low, middle) if over else (middle, high)
        if high - low < 1e-6 * most:
            break
    return drive_at(low)


@dataclass(frozen=True, eq=False)
class Ranked:
    """What can be spent and taken in each step of a lap, and what a joule is worth there.

    Energies at the store [J] and the powers at the tyres [W] that they are spent and taken with.
    """

    spend_j: Floats
    spend_w: Floats
    spend_worth: Floats
    take_j: Floats
    take_w: float
    take_cost: Floats
    recovered_j: float


def ranked(found: Deployed, store: Store, allowed: Flags | None) -> Ranked:
    n = len(found.power_w)
    seconds = np.where(_unbroken(found.lap, n), _step_times(found.lap, n), 0.0)
    taking = store.from_engine_w
    return Ranked(
        spend_j=found.spare_j if allowed is None else np.where(allowed, found.spare_j, 0.0),
        spend_w=_most_w(found, store),
        spend_worth=found.worth_s_per_j,
        take_j=np.full(n, taking) * seconds * store.efficiency,
        take_w=taking,
        take_cost=np.where(seconds > 0.0, found.worth_s_per_j / store.efficiency**2, np.inf),
        recovered_j=found.recovered_j,
    )


def _at_balance(known: Ranked, store: Store, balance_j: float) -> tuple[Floats, float]:
    """Power in each step (n,) [W], and the price at which the store's balance is met [s/J].

    Dearest places first, and cheapest engine's; the place at the price is used in part.
    """
    order = np.argsort(-known.spend_worth, kind="stable")
    able = known.spend_j[order] > 0.0
    order = order[able]
    cumulated = np.cumsum(known.spend_j[order])
    worths = known.spend_worth[order]
    room = min(store.spent_most_j, float(cumulated[-1]) if len(cumulated) else 0.0)

    def taken(price: float) -> float:
        return float(known.take_j[known.take_cost < price].sum())

    def budget(price: float) -> float:
        recovered = min(known.recovered_j + taken(price), store.recovered_most_j)
        return recovered - balance_j

    # The price falls along the order; what may be spent at it falls with it.
    low, high = 0, len(order)
    while low < high:
        middle = (low + high) // 2
        if cumulated[middle] <= min(budget(float(worths[middle])), room):
            low = middle + 1
        else:
            high = middle
    power = np.zeros(len(known.spend_j))
    power[order[:low]] = known.spend_w[order[:low]]
    price = 0.0
    if low < len(order):
        price = float(worths[low])
        before = float(cumulated[low - 1]) if low > 0 else 0.0
        left = min(budget(price), room) - before
        share = np.clip(left / known.spend_j[order[low]], 0.0, 1.0)
        power[order[low]] = share * known.spend_w[order[low]]
    charging = (known.take_cost < price) & (power == 0.0)
    power[charging] = -known.take_w
    return power, price


def _closed(
    drive: Drive, store: Store, found: Deployed, balance_j: float, allowed: Flags | None
) -> Deployed:
    """A deployment with its last places moved until the lap's own balance is what is asked for.

    Places are given up, or added, in the order of their worth in this lap.
    """
    known = ranked(found, store, allowed)
    order = np.argsort(-known.spend_worth, kind="stable")
    order = order[known.spend_j[order] > 0.0]
    before = np.concatenate(([0.0], np.cumsum(known.spend_j[order])))
    charging = np.minimum(found.power_w, 0.0)

    def drive_at(amount_j: float) -> Deployed:
        share = np.clip((amount_j - before[:-1]) / np.maximum(known.spend_j[order], 1e-9), 0.0, 1.0)
        power = charging.copy()
        power[order] = np.where(share > 0.0, share * known.spend_w[order], power[order])
        return _driven(drive, store, power, found.price_s_per_j)

    return _as_much_as_met(drive_at, float(before[-1]), found.spent_j, store, balance_j)


def _as_much_as_met(
    drive_at: Callable[[float], Deployed],
    most: float,
    amount: float,
    store: Store,
    balance_j: float,
) -> Deployed:
    """The lap with the largest amount, up to the most, that leaves the balance asked for.

    Found by secants from a first `amount` on, and by halves where those hang.
    """
    low, high = 0.0, most
    whole = drive_at(high)
    if missing_j(store, whole, balance_j) <= 0.0:
        return whole
    kept = drive_at(low)
    excess_low, excess_high = missing_j(store, kept, balance_j), missing_j(store, whole, balance_j)
    for turn in range(CLOSING_TURNS):
        amount = min(max(amount, low), high)
        lap = drive_at(amount)
        excess = missing_j(store, lap, balance_j)
        if -MET_J < excess <= 0.0:
            return lap
        if excess > 0.0:
            high, excess_high = amount, excess
        else:
            low, excess_low, kept = amount, excess, lap
        amount = low + (high - low) * -excess_low / max(excess_high - excess_low, 1e-12)
        if turn % 5 == 4:
            amount = 0.5 * (low + high)
    return kept


def missing_j(store: Store, lap: Deployed, balance_j: float) -> float:
    """What a lap spends too much for a balance [J]; below 0 where more could be spent."""
    return max(balance_j - lap.balance_j, lap.spent_j - store.spent_most_j)


def _driven(
    drive: Drive, store: Store, power_w: Floats, price: float, keep: Floats | None = None
) -> Deployed:
    """The lap with a power in each step, and what its store gives and takes."""
    assert drive.road is not None  # as `with_own_road` leaves it
    found = solved(replace(drive, road=with_electric_power(drive.road, power_w)))
    lap = lap_of(found.drive, found.packed, found.lap)
    n = len(power_w)
    v = 0.5 * (lap.v_ms[:-1] + lap.v_ms[1:])
    seconds = np.diff(lap.t_s)
    step = lap.step[:-1]
    given = lap.asked_n[:-1] * v
    beside = np.empty((len(v), 3))
    beside_engine(
        found.packed.case,
        found.packed.road,
        step,
        np.minimum(lap.share[:-1], 1.0),
        v,
        lap.gear[:-1] - 1,
        lap.force_n[:-1],
        store.power_at(v),
        beside,
    )
    engine = beside[:, ENGINE_W]
    on = (lap.throttle[:-1] > 0.0) & (lap.shifting[:-1] == 0.0)
    here = power_w[step]
    spent = np.where(on & (here > 0.0), np.clip(given - engine, 0.0, np.maximum(here, 0.0)), 0.0)
    taken = np.where(
        on & (here < 0.0) & (lap.throttle[:-1] >= FULL),
        np.minimum(-here, engine),
        0.0,
    )
    braked = lap.braking_n * v
    front = beside[:, BRAKED_FRONT]
    part = store.recovery_front * front + (1.0 - store.recovery_front) * (1.0 - front)
    possible = np.minimum(braked * part * store.recovery_share, store.taken_w)
    back = possible if keep is None else possible * keep[step]
    out_j = spent * seconds / store.efficiency
    braking_j = back * seconds * store.efficiency
    engine_j = taken * seconds * store.efficiency
    full = store.recovered_most_j
    gained = np.minimum(np.cumsum(braking_j + engine_j), full)
    charge = np.concatenate(([0.0], gained - np.cumsum(out_j)))
    recovered = min(float(braking_j.sum()), full)
    each_j = np.zeros(n)
    np.add.at(each_j, step, possible * seconds * store.efficiency)
    limited = v**2 >= found.packed.case[LIMITER_W + lap.gear[:-1] - 1] * ON_LIMITER
    # Where the tyres bound the drive the pedal is as far down as they allow.
    down = (lap.throttle[:-1] >= FULL) | ((lap.tyre_limited[:-1] > 0.0) & (lap.throttle[:-1] > 0.0))
    down &= (lap.shifting[:-1] == 0.0) & ~limited
    spare = np.where(down, beside[:, SPARE_W], 0.0)
    spare_j = np.zeros(n)
    np.add.at(spare_j, step, spare * seconds / store.efficiency)
    return Deployed(
        lap=lap,
        power_w=power_w,
        price_s_per_j=price,
        worth_s_per_j=worth_at_tyres(lap, n) * store.efficiency,
        spent_j=float(out_j.sum()),
        recovered_j=recovered,
        from_engine_j=min(float(engine_j.sum()), full - recovered),
        charge_j=charge,
        spare_j=spare_j,
        braking_each_j=each_j,
    )


def _most_w(found: Deployed, store: Store) -> Floats:
    """The most that the machine gives in each step at the lap's speeds there (n,) [W]."""
    n = len(found.power_w)
    middle = 0.5 * (found.lap.path.s_m[:-1] + found.lap.path.s_m[1:])
    v = np.interp(middle[:n], found.lap.s_m, found.lap.v_ms)
    return store.power_at(v)


def _unbroken(lap: Lap, n: int) -> Flags:
    """Steps in all of which the engine drives with the throttle down and the tyres hold it (n,)."""
    bad = (lap.throttle[:-1] < FULL) | (lap.shifting[:-1] > 0.0) | (lap.tyre_limited[:-1] > 0.0)
    count = np.zeros(n)
    np.add.at(count, lap.step[:-1], bad.astype(np.float64))
    unbroken: Flags = count == 0.0
    return unbroken


def _step_times(lap: Lap, n: int) -> Floats:
    """Time in each step of the path (n,) [s]."""
    times = np.zeros(n)
    np.add.at(times, lap.step[:-1], np.diff(lap.t_s))
    return times


def _since_exit_s(lap: Lap, n: int) -> Floats:
    """For each step of the path the time since the vehicle was last held back (n,) [s].

    Infinite where it is held back: by the brakes, or by the speed that a corner can be held at.
    """
    free = free_steps(lap, n)
    times = _step_times(lap, n)
    since = np.full(n, np.inf)
    first = int(np.argmin(free)) if lap.path.closed and not free.all() else 0
    elapsed = 0.0
    for k in np.roll(np.arange(n), -first):
        if not free[k]:
            elapsed = 0.0
            continue
        since[k] = elapsed
        elapsed += times[k]
    return since


def _straight_of(lap: Lap, n: int) -> Integers:
    """The straight that each step of the path lies on, by its number; -1 where it lies on none."""
    free = free_steps(lap, n)
    begins = free & ~np.roll(free, 1)
    if not lap.path.closed:
        begins[0] = free[0]
    number = np.cumsum(begins) - 1
    if lap.path.closed and free[0] and not begins[0]:
        number = np.where(number < 0, number[-1], number)
    found: Integers = np.where(free, number, -1)
    return found
