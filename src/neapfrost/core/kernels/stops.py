"""The programme of stops, compiled: the least time to leave the pits in every state there is."""

import math

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.kernels.jit import allocating_kernel

NO_STOP = -1  # stands for a row that is none
# Stops are told apart by their number, or only up to the least that there must be.
AT_LEAST, COUNTED = 0, 1

# Columns of what is found: a stint's begin, laps, compound, age, fuel [laps], whether new tyres.
ROW_COLUMNS = 6
ROWS_MOST = 2_048


# Long: one table over which all of its loops run; parts would hand a dozen arrays about.
@allocating_kernel
def stops_kernel(
    time: Floats,
    life: Integers,
    new_age: Integers,
    pit: Floats,
    seconds: Floats,
    allowed: Integers,
    sizes: Integers,
    starts: Integers,
    figures: Integers,
) -> tuple[float, Integers]:
    """Least time of a race and the rows (k, 6) of its stints, the last one first.

    `time` (n or 1, c, a, f or 1), `life`, `new_age` (c,), `pit` (n + 1,) as in `stints.Race`;
    `seconds` for tyres, a lap's fuel, and at least, the longest and the shortest stint, and what
    the first one has lasted already; `allowed` (levels, c); `sizes` are masks and
    ages told apart, `starts` the loads the race may begin with, `figures` what `stints` packs.
    """
    (
        laps,
        first,
        stops_least,
        counts,
        compounds_least,
        window_low,
        window_high,
        keeps,
        refuels,
        most_fuel,
        begin_compound,
        begin_age,
        begin_mask,
        at_once,
        forced,
        barred_low,
        barred_high,
    ) = figures
    tyres_s, fuel_s, least_s, stint_most_s, stint_least_s, stint_begun_s = seconds
    levels, compounds = allowed.shape
    masks, ages = sizes
    loads = most_fuel + 1 if refuels == 1 else 1
    time_laps, time_loads = time.shape[0], time.shape[3]
    # Leaving: the least time so far, and from which arrival. Where tyres stay on their age counts.
    leaving = np.full((laps + 1, levels, masks, compounds, ages, loads), math.inf)
    shape = leaving.shape
    from_fuel = np.zeros(shape, dtype=np.int32)
    from_mask = np.zeros(shape, dtype=np.int32)
    from_level = np.zeros(shape, dtype=np.int32)
    kept = np.zeros(shape, dtype=np.int8)
    # Arriving: the least over all tyres, for whoever puts on others, and for each that stays on.
    arriving = np.full((laps + 1, levels, masks, loads), math.inf)
    arrived = np.zeros((laps + 1, levels, masks, loads, 4), dtype=np.int32)
    own = (laps + 1, levels, masks, compounds, ages, loads) if keeps == 1 else (1, 1, 1, 1, 1, 1)
    arriving_on = np.full(own, math.inf)
    arrived_on = np.zeros(own, dtype=np.int32)

    for start in starts:
        for c in range(compounds):
            if begin_compound >= 0 and c != begin_compound:
                continue
            if allowed[0, c] == 0:
                continue
            mask = (begin_mask | (1 << c)) if masks > 1 else 0
            age = begin_age if begin_compound >= 0 else new_age[c]
            at = min(age, ages - 1) if ages > 1 else 0
            leaving[first, 0, mask, c, at, start if refuels == 1 else 0] = 0.0

    best = math.inf
    end = np.zeros(6, dtype=np.int64)  # begin, level, mask, compound, age, fuel of the last stint
    for lap in range(first, laps):
        open_now = window_low <= lap <= window_high and not barred_low <= lap <= barred_high
        if lap > first and open_now:
            for level in range(levels):
                if counts == COUNTED and level + 1 == levels:
                    continue
                following = min(level + 1, levels - 1)
                for mask in range(masks):
                    for fuel in range(loads):
                        came = arriving[lap, level, mask, fuel]
                        if came == math.inf:
                            continue
                        last = loads if refuels == 1 else fuel + 1
                        for load in range(fuel, last):
                            pumping = fuel_s * (load - fuel) if refuels == 1 else 0.0
                            stands = max(tyres_s, pumping) if at_once == 1 else tyres_s + pumping
                            total = came + pit[lap] + max(stands, least_s)
                            for c in range(compounds):
                                if allowed[following, c] == 0:
                                    continue
                                other = (mask | (1 << c)) if masks > 1 else 0
                                at = min(new_age[c], ages - 1) if ages > 1 else 0
                                if total < leaving[lap, following, other, c, at, load]:
                                    leaving[lap, following, other, c, at, load] = total
                                    from_fuel[lap, following, other, c, at, load] = fuel
                                    from_mask[lap, following, other, c, at, load] = mask
                                    from_level[lap, following, other, c, at, load] = level
                                    kept[lap, following, other, c, at, load] = 0
                    if keeps == 0:
                        continue
                    for c in range(compounds):
                        if allowed[following, c] == 0:
                            continue
                        for age in range(min(ages, life[c])):
                            for fuel in range(loads):
                                came = arriving_on[lap, level, mask, c, age, fuel]
                                if came == math.inf:
                                    continue
                                last = loads if refuels == 1 else fuel + 1
                                for load in range(fuel, last):
                                    pumping = fuel_s * (load - fuel) if refuels == 1 else 0.0
                                    total = came + pit[lap] + max(pumping, least_s)
                                    if total < leaving[lap, following, mask, c, age, load]:
                                        leaving[lap, following, mask, c, age, load] = total
                                        from_fuel[lap, following, mask, c, age, load] = fuel
                                        from_mask[lap, following, mask, c, age, load] = mask
                                        from_level[lap, following, mask, c, age, load] = level
                                        kept[lap, following, mask, c, age, load] = 1
        for level in range(levels):
            for mask in range(masks):
                for c in range(compounds):
                    for at in range(ages):
                        begun = at if ages > 1 else new_age[c]
                        if ages == 1 and lap == first and begin_compound >= 0:
                            begun = begin_age
                        for fuel in range(loads):
                            left_at = leaving[lap, level, mask, c, at, fuel]
                            if left_at == math.inf:
                                continue
                            longest = min(life[c] - begun, laps - lap)
                            if lap < forced:
                                longest = min(longest, forced - lap)
                            if refuels == 1:
                                longest = min(longest, fuel)
                            lasted = stint_begun_s if lap == first else 0.0
                            total = left_at
                            for n in range(1, longest + 1):
                                now = lap + n - 1
                                load = fuel - (n - 1) if time_loads > 1 else 0
                                at_lap = now if time_laps > 1 else 0
                                lap_s = time[at_lap, c, begun + n - 1, load]
                                total += lap_s
                                lasted += lap_s
                                if lasted > stint_most_s:
                                    break
                                if now + 1 == laps:
                                    enough = level >= stops_least
                                    if enough and masks > 1:
                                        held = 0
                                        for bit in range(compounds):
                                            held += (mask >> bit) & 1
                                        enough = held >= compounds_least
                                    if enough and total < best:
                                        best = total
                                        end[0], end[1], end[2] = lap, level, mask
                                        end[3], end[4], end[5] = c, at, fuel
                                    break
                                short = lasted < stint_least_s
                                if lap > first and short and now + 1 != forced:
                                    continue
                                rest = fuel - n if refuels == 1 else 0
                                if total < arriving[lap + n, level, mask, rest]:
                                    arriving[lap + n, level, mask, rest] = total
                                    arrived[lap + n, level, mask, rest, 0] = n
                                    arrived[lap + n, level, mask, rest, 1] = c
                                    arrived[lap + n, level, mask, rest, 2] = at
                                    arrived[lap + n, level, mask, rest, 3] = fuel
                                older = begun + n
                                if (
                                    keeps == 1
                                    and older < ages
                                    and total < arriving_on[lap + n, level, mask, c, older, rest]
                                ):
                                    arriving_on[lap + n, level, mask, c, older, rest] = total
                                    arrived_on[lap + n, level, mask, c, older, rest] = n

    rows = np.full((ROWS_MOST, ROW_COLUMNS), NO_STOP, dtype=np.int64)
    if best == math.inf:
        return best, rows[:0]
    begins, on_level, of_mask = int(end[0]), int(end[1]), int(end[2])
    tyre, aged, load_left = int(end[3]), int(end[4]), int(end[5])
    length = laps - begins
    row = 0
    while row < ROWS_MOST:
        begun = aged if ages > 1 else new_age[tyre]
        if ages == 1 and begins == first and begin_compound >= 0:
            begun = begin_age
        stays = kept[begins, on_level, of_mask, tyre, aged, load_left]
        rows[row, 0], rows[row, 1], rows[row, 2] = begins, length, tyre
        rows[row, 3], rows[row, 4] = begun, load_left
        rows[row, 5] = 0 if begins > first and stays == 1 else 1
        row += 1
        if begins == first:
            break
        came_fuel = from_fuel[begins, on_level, of_mask, tyre, aged, load_left]
        came_mask = from_mask[begins, on_level, of_mask, tyre, aged, load_left]
        came_level = from_level[begins, on_level, of_mask, tyre, aged, load_left]
        if stays == 1:
            length = arrived_on[begins, came_level, came_mask, tyre, aged, came_fuel]
            aged = aged - length
        else:
            found = arrived[begins, came_level, came_mask, came_fuel]
            length = found[0]
            tyre, aged = found[1], found[2]
        load_left = came_fuel + length if refuels == 1 else 0
        begins -= length
        on_level, of_mask = came_level, came_mask
    return best, rows[:row]
