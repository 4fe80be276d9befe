"""What a joule at the tyres is worth at each place of a lap.

It raises w = v² by 2/m; what that is worth is carried down the straight to the next braking:
∂t/∂E = -(2/m)·∂t/∂w, and ∂t/∂w runs backwards along full throttle by
A_i = -½ w^(-3/2) Δs + A_(i+1)·exp(∂(dw/ds)/∂w·Δs). At a shift A is multiplied by the slope after it
over the slope before it (a hybrid system's saltation, the shift being made at a speed); behind a
gear that stays at its limiter, and where the brakes set the speed, nothing is left of it.
"""

import math

import numpy as np

from neapfrost.core.arrays import Flags, Floats
from neapfrost.core.kernels.bundles import GEAR, RIDES, UPSHIFTS
from neapfrost.core.kernels.carried_back import SLOPE_LEAST, carried_back
from neapfrost.core.kernels.case import LIMITER_W, MASS, ROTATING
from neapfrost.core.kernels.pedals import RATE, pulls
from neapfrost.core.lap.record import Lap

#: A squared speed is moved by this share to see how the slope answers.
NUDGE = 1e-4
#: From this share of the limiter's squared speed on a gear turns at its limiter.
ON_LIMITER = 1.0 - 1e-6


def free_steps(lap: Lap, n: int) -> Flags:
    """Steps in which nothing but engine, tyres and resistance sets the speed (n,)."""
    free: Flags = lap.solved.track[:n, RIDES] == 0
    return free


def worth_at_tyres(lap: Lap, n: int) -> Floats:
    """What a joule at the tyres brings in the middle of each step (n,) [s/J]."""
    case, road = lap.packed.case, lap.packed.road
    solved_lap = lap.solved
    length = lap.packed.lengths
    w = np.maximum(solved_lap.node_w, 1e-6)
    middle = 0.5 * (w[:-1] + w[1:])
    gear = solved_lap.track[:n, GEAR].astype(np.int64)
    step, share = np.arange(n), np.full(n, 0.5)
    rates = []
    for factor in (1.0 - NUDGE, 1.0 + NUDGE):
        out = np.empty((n, 2))
        pulls(case, road, step, share, middle * factor, gear, out)
        rates.append(2.0 * out[:, RATE])
    answer = (rates[1] - rates[0]) / (2.0 * NUDGE * middle)
    shifting = _shifting(lap, n)
    lifted, beyond = _lifts(lap, n)
    # A gear that stays at its limiter leaves nothing of what was gained before; one that is left
    # there for the next is a shift like any other.
    limited = np.maximum(w[:-1], w[1:]) >= case[LIMITER_W + gear] * ON_LIMITER
    worth = np.zeros(n)
    carried_back(
        length,
        w,
        np.exp(np.clip(answer * length, -1.0, 1.0)),
        0.5 * (rates[0] + rates[1]),
        # Where the ceiling is met inside a step, what is left of it is driven as before.
        np.clip(solved_lap.join, 0.0, 1.0),
        free_steps(lap, n),
        shifting,
        limited & ~shifting,
        lifted,
        beyond,
        lap.path.closed,
        worth,
    )
    result: Floats = 2.0 / (case[MASS] * (1.0 + case[ROTATING + gear])) * worth
    return result


def _shifting(lap: Lap, n: int) -> Flags:
    """Steps in which an upshift is made or goes on (n,)."""
    shifting: Flags = (lap.solved.track[:n, UPSHIFTS] > 0) | (lap.solved.waiting_s[:n] > 0.0)
    return shifting


def _lifts(lap: Lap, n: int) -> tuple[Floats, Floats]:
    """Where in a step of the path the throttle is closed for a corner, as a share; else -1 (n,).

    And what an arrival there with w higher by 1 m²/s² saves from there on [s].

    Whoever comes quicker lifts earlier. On the closed throttle alone the lap is then the same from
    there on. Before brakes the pedals take their time T whatever the speed, so that with φ_c, the
    slope of w where the brakes are used in full, the lifts of all speeds lie along
    φ = φ_c/(1 - φ_c·T/2v), and T is driven over so much less road as the lift is earlier.
    """
    lifted, beyond = np.full(n, -1.0), np.zeros(n)
    length, w = lap.packed.lengths, lap.solved.node_w

    def step_of(at_m: float) -> int:
        there = float(lap.path.ring.fold(at_m))
        return min(int(np.searchsorted(lap.path.s_m, there, side="right")) - 1, n - 1)

    def slope(k: int) -> float:
        return float((w[k + 1] - w[k]) / length[k])

    for zone in lap.zones:
        at_m = float(lap.path.ring.fold(zone.lift_at_m))
        k = step_of(at_m)
        lifted[k] = (at_m - lap.path.s_m[k]) / length[k]
        taken_s = lap.drive.driver.transition_s + lap.drive.driver.brake_ramp_s
        if zone.lifted or taken_s == 0.0:
            continue
        v = math.sqrt(w[k] + lifted[k] * (w[k + 1] - w[k]))
        full_at_m = at_m + taken_s * v
        full = step_of(full_at_m)
        braking = min(slope(full), -SLOPE_LEAST)
        by_lift = braking / (1.0 - braking * taken_s / (2.0 * v))
        v_full = float(np.interp(lap.path.ring.fold(full_at_m), lap.s_m, lap.v_ms))
        saved = 1.0 / v - (1.0 + 0.5 * taken_s * by_lift / v) / v_full
        beyond[k] = saved / (max(slope(k - 1), 0.0) - by_lift)
    return lifted, beyond
