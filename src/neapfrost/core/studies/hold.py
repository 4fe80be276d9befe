"""Hold or shift: at the end of a stretch take the next gear, or stay on the limiter."""

from dataclasses import dataclass, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.kernels.case import GEARS
from neapfrost.core.lap.altered_road import steps_between, with_top_gear
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.record import elapsed_s
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.lap.solve import lap_time_s, solve_many
from neapfrost.core.studies.stretch import Stretch, points_between, stretch_after

#: A shift of at most this time is looked at for the break-even [s].
SLOWEST_SHIFT_S = 1.0


@dataclass(frozen=True)
class HoldOption:
    """The stretch driven in gears up to `top_gear` (counted from 1).

    `cost_s` is the lap against the quickest option's; `limiter_s` the time spent on the limiter.
    """

    top_gear: int
    upshifts: int
    limiter_s: float
    lift_speed_ms: float
    cost_s: float


@dataclass(frozen=True)
class HoldCall:
    """Taking the last gear of a stretch or holding the one below it.

    `taken` is the gear in question. `break_even_shift_s` is the upshift time at which both cost
    the same (None: one is quicker whatever the shift takes), `paid_back_m` how far after the
    shift its time has been won back, None where it is not before the next lift.
    """

    from_m: float
    lift_m: float
    planned_top: int
    quickest_top: int
    taken: int
    options: tuple[HoldOption, ...]
    break_even_shift_s: float | None
    paid_back_m: float | None


def hold_call(driven: DrivenLap, corner: int) -> HoldCall | None:
    """Price the last upshift of the stretch after a corner; None where there is no such choice.

    The gear in question is the highest one taken, or the next one where the limiter is reached or
    no upshift is made.
    """
    path = driven.lap.path
    stretch = stretch_after(driven, corner)
    if stretch is None:
        return None
    shifted = stretch.gear_to > stretch.gear_from
    at_limiter = stretch.limiter_s > 0.0
    last = stretch.gear_to == int(driven.lap.packed.case[GEARS])
    taken = stretch.gear_to if shifted and (last or not at_limiter) else stretch.gear_to + 1
    tops = [taken - 1, taken]
    if shifted and taken > stretch.gear_to:
        tops.insert(0, stretch.gear_to - 1)
    if taken > int(driven.lap.packed.case[GEARS]):
        return None
    end_m = _next_slowest_m(driven, stretch)
    steps = steps_between(path, stretch.from_m, end_m)
    roads = {top: with_top_gear(driven.road, steps, top) for top in tops}
    laps = solve_many([replace(driven.drive, road=roads[top]) for top in tops], whole)
    options: dict[int, tuple[DrivenLap, HoldOption]] = {}
    for top, lap in zip(tops, laps, strict=True):
        after = None if lap is None else stretch_after(lap, corner)
        if lap is None or after is None or after.gear_to != top:
            continue
        lifted = path.ring.fold(after.lift_m)
        speed = float(np.interp(lifted, lap.lap.s_m, lap.lap.v_ms))
        options[top] = (
            lap,
            HoldOption(top, after.upshifts, after.limiter_s, speed, lap.lap.lap_time_s),
        )
    if taken not in options or taken - 1 not in options:
        return None
    quickest = min(options, key=lambda top: (options[top][1].cost_s, top))
    best_s = options[quickest][1].cost_s
    return HoldCall(
        from_m=stretch.from_m,
        lift_m=stretch.lift_m,
        planned_top=stretch.gear_to,
        quickest_top=quickest,
        taken=taken,
        options=tuple(
            replace(option, cost_s=option.cost_s - best_s) for _, option in options.values()
        ),
        break_even_shift_s=_break_even_s(driven, roads[taken - 1], roads[taken]),
        paid_back_m=_paid_back_m(options[taken][0], options[taken - 1][0], stretch),
    )


def _next_slowest_m(driven: DrivenLap, stretch: Stretch) -> float:
    """Unfolded slowest point of the corner that the stretch ends at."""
    path = driven.lap.path
    if stretch.next_corner is None:
        return stretch.lift_m
    slowest_m = driven.corners[stretch.next_corner].min_speed_at_m
    ahead = path.ring.ahead(stretch.from_m, slowest_m)
    return max(stretch.from_m + ahead, stretch.lift_m)


def _break_even_s(driven: DrivenLap, held: Floats, taken: Floats) -> float | None:
    """Upshift time at which holding and taking cost the same, to a millisecond."""

    def loss_s(upshift_s: float) -> float:
        gearbox = replace(driven.drive.vehicle.gearbox, upshift_s=upshift_s)
        vehicle = replace(driven.drive.vehicle, gearbox=gearbox)
        trials = [replace(driven.drive, vehicle=vehicle, road=road) for road in (held, taken)]
        hold, take = solve_many(trials, lap_time_s)
        if hold is None or take is None:
            return 0.0
        return take - hold

    low, high = 1e-3, SLOWEST_SHIFT_S
    if loss_s(low) >= 0.0 or loss_s(high) <= 0.0:
        return None
    # Loaded once it is wanted: it takes a second, which every start of the application would wait.
    from scipy.optimize import brentq

    return float(brentq(loss_s, low, high, xtol=1e-3))


def _paid_back_m(taken: DrivenLap, held: DrivenLap, stretch: Stretch) -> float | None:
    """How far after the shift the lap that shifts is ahead again; None where it stays behind."""
    points = points_between(taken, stretch.from_m, stretch.lift_m)
    top = taken.lap.gear[points].max()
    shift = points[taken.lap.gear[points] == top]
    if len(shift) == 0:
        return None
    at = taken.lap.s_m[shift[0]] + np.arange(0.0, stretch.length_m, 1.0)
    behind = elapsed_s(taken.lap, at) - elapsed_s(held.lap, at)
    behind -= behind[0]
    lost = np.flatnonzero(behind > 1e-5)
    if len(lost) == 0:
        return 0.0
    back = np.flatnonzero((behind <= 0.0) & (np.arange(len(behind)) > lost[0]))
    return None if len(back) == 0 else float(at[back[0]] - at[0])
