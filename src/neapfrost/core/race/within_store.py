"""The quickest deployment whose charge never leaves what the store holds, along the whole lap.

Where the store would have to hold more than it does, one price for the lap is not enough: it
changes wherever the store is full or empty. With the worth of a joule at every place of a lap
(`energy`), what is best is a linear programme over blocks of the road: spend x, take y from the
engine, keep r of what the brakes give, so that 0 ≤ c₀ + Σ(r + y - x) ≤ what it holds everywhere.
The lap answers to it, so that programme and lap are found in turn.
"""

from dataclasses import replace

import numpy as np
from scipy.optimize import linprog

from neapfrost.core.arrays import Flags, Floats, Integers
from neapfrost.core.lap.drive import Drive
from neapfrost.core.race.energy import (
    MET_J,
    Deployed,
    Ranked,
    Store,
    deployed,
    driven_with,
    missing_j,
    ranked,
    with_own_road,
)

#: The programme's blocks of road [m], and laps until it and the lap agree: at first, and again.
BLOCK_M, TURNS = 12.0, (8, 4, 4, 4, 4)
#: The programme is held to so much of what the store holds, so that the lap, which answers, fits.
ROOM = 0.995
#: So much more than allowed is spent in the programme, and given back evenly until all is met.
OVER, GIVING_TURNS = 0.004, 24


def deployed_within(
    drive: Drive, store: Store, balance_j: float = 0.0, allowed: Flags | None = None
) -> Deployed:
    """As `deployed`, with a charge that stays within the store everywhere. Raises as that does."""
    drive = with_own_road(drive)
    found = deployed(drive, store, balance_j, allowed)
    if found.swing_j <= store.usable_j:
        return found
    blocks = (drive.path.s_m[:-1] // BLOCK_M).astype(np.int64)
    power, keep, room = found.power_w, np.ones(len(found.power_w)), ROOM
    for turns in TURNS:
        for turn in range(turns):
            known = ranked(found, store, allowed)
            wanted, kept = _programme(found, known, room * store.usable_j, store, balance_j, blocks)
            share = 1.0 if turn < 2 else 0.5
            power, keep = power + share * (wanted - power), keep + share * (kept - keep)
            found = driven_with(drive, store, power, keep, found.price_s_per_j)
        closed = _given_back(drive, store, found, keep, balance_j)
        if closed.swing_j <= store.usable_j:
            break
        # The lap has answered by more than the room that was left.
        room *= 0.999 * store.usable_j / closed.swing_j
    return closed


def _programme(
    found: Deployed,
    known: Ranked,
    holds_j: float,
    store: Store,
    balance_j: float,
    blocks: Integers,
) -> tuple[Floats, Floats]:
    """Power in each step (n,) [W], and what share of the braking's energy is kept there (n,)."""
    count = int(blocks[-1]) + 1

    def summed(values: Floats) -> Floats:
        sums: Floats = np.bincount(blocks, values, minlength=count).astype(np.float64)
        return sums

    spend, take, given = (
        summed(one) for one in (known.spend_j, known.take_j, found.braking_each_j)
    )
    worth = summed(known.spend_worth * known.spend_j) / np.maximum(spend, 1e-9)
    finite = np.where(np.isfinite(known.take_cost), known.take_cost, 0.0)
    cost = summed(finite * known.take_j) / np.maximum(take, 1e-9)
    # Scaled to megajoules: the solver's tolerances are absolute. Columns: x, y, r, and c0.
    mega = 1e-6
    holds = holds_j * mega
    below = np.tril(np.ones((count, count)))
    charge = np.hstack([-below, below, below, np.ones((count, 1))])
    spent = np.concatenate((np.ones(count), np.zeros(2 * count + 1)))
    back = np.concatenate((np.zeros(count), np.ones(2 * count), [0.0]))
    rows, most = [charge, -charge], [np.full(count, holds), np.zeros(count)]
    for row, limit in ((spent, store.spent_most_j), (back, store.recovered_most_j)):
        if np.isfinite(limit):
            rows.append(row[None, :])
            most.append(np.array([limit * mega]))
    highest = np.concatenate((spend, take, given, [0.0])) * mega
    highest[-1] = holds
    answer = linprog(
        np.concatenate((-worth, cost, np.full(count, -1e-9), [0.0])),
        A_ub=np.vstack(rows),
        b_ub=np.concatenate(most),
        A_eq=(back - spent)[None, :],
        b_eq=np.array([(balance_j - OVER * found.spent_j) * mega]),
        bounds=[(0.0, float(one)) for one in highest],
        method="highs",
    )
    if not answer.success or answer.x is None:
        return found.power_w, np.ones(len(blocks))
    x, y, r = (answer.x[n * count : (n + 1) * count] / mega for n in range(3))
    spending = np.clip(x / np.maximum(spend, 1e-9), 0.0, 1.0)[blocks]
    taking = np.clip(y / np.maximum(take, 1e-9), 0.0, 1.0)[blocks]
    keeping = np.where(given > 1e-6, np.clip(r / np.maximum(given, 1e-9), 0.0, 1.0), 1.0)[blocks]
    power = np.where(known.spend_j > 0.0, spending * known.spend_w, 0.0)
    charging = (power == 0.0) & (known.take_j > 0.0)
    return np.where(charging, -taking * known.take_w, power), keeping


def _given_back(
    drive: Drive, store: Store, found: Deployed, keep: Floats, balance_j: float
) -> Deployed:
    """A deployment spent evenly less until its balance is what is asked for."""
    spending = np.maximum(found.power_w, 0.0)
    charging = np.minimum(found.power_w, 0.0)
    low, high = 0.0, 1.0
    kept, at = found, 1.0
    for _ in range(GIVING_TURNS):
        lap = driven_with(drive, store, charging + at * spending, keep, found.price_s_per_j)
        excess = missing_j(store, lap, balance_j)
        if excess > 0.0:
            high = at
        else:
            low, kept = at, lap
            if excess > -MET_J or at == 1.0:
                break
        # What is spent goes nearly with the share.
        at = min(max(at - excess / max(lap.spent_j, 1.0), low), high)
        if at in (low, high):
            at = 0.5 * (low + high)
    return replace(kept, price_s_per_j=found.price_s_per_j)
