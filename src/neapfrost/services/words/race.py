"""What a race asks for, in sentences."""

from collections.abc import Sequence

from neapfrost.core.measures import figure
from neapfrost.services.words.saying import NOTHING_S, Saying, seconds
from neapfrost.services.words.weather import format_lap_time

#: A plan that is closer than this to the best is as good [s].
AS_GOOD_S = 1.0

#: Less fuel than this is none [l].
LITRES_LEAST = 0.05


def format_race_time(seconds: float) -> str:
    """The time of a race: "24 min 8 s", "6 h 02 min"."""
    whole = round(seconds)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    return f"{hours} h {minutes:02d} min" if hours else f"{minutes} min {left} s"


def describe_laps(laps: Sequence[int]) -> str:
    """Laps after which it is stopped: "after lap 12 and lap 25"."""
    names = [f"lap {lap}" for lap in laps]
    if len(names) > 1:
        return f"after {', '.join(names[:-1])} and {names[-1]}"
    return f"after {names[0]}" if names else "no stop"


def stops_word(count: int) -> str:
    """No stop, one stop, two stops."""
    words = {0: "No stop", 1: "One stop", 2: "Two stops", 3: "Three stops", 4: "Four stops"}
    return words.get(count, f"{count} stops")


def describe_compounds(names: Sequence[str]) -> str:
    """The compounds in their order, what follows itself said once with how often."""
    found: list[tuple[str, int]] = []
    for name in names:
        if found and found[-1][0] == name:
            found[-1] = (name, found[-1][1] + 1)
        else:
            found.append((name, 1))
    return ", ".join(name if times == 1 else f"{times} × {name}" for name, times in found)


def describe_stops_and_tyres(stops: Sequence[int], compounds: Sequence[str]) -> str:
    """The stops of a plan and its tyres."""
    where = f" {describe_laps(stops)}" if stops else ""
    return f"{stops_word(len(stops))}{where}: {describe_compounds(compounds)}"


def describe_plan(stops: Sequence[int], compounds: Sequence[str], behind_s: float) -> str:
    """A plan of stops in a line, with what it is behind the best."""
    said = describe_stops_and_tyres(stops, compounds)
    return f"{said}." if behind_s < NOTHING_S else f"{said}; {behind_s:.1f} s slower."


def describe_drivers(driver_s: Sequence[float]) -> str:
    """How long each driver drives; nothing where one drives alone."""
    if len(driver_s) < 2:
        return ""
    times = [f"driver {n} {format_race_time(time)}" for n, time in enumerate(driver_s, start=1)]
    return f"Driving time: {', '.join(times)}."


def describe_race(
    laps: int,
    ended_by: str,
    total_s: float,
    litres: tuple[float, float],
    fits: bool,
    refuels: bool,
) -> list[str]:
    """The race in a sentence or two: its laps, its time, its fuel with and without a margin."""
    start, exact = (figure(one, "volume", 1) for one in litres)
    by = {"laps": "", "distance": ", by the distance", "time": ", by the clock"}[ended_by]
    said = [f"{laps} laps{by}, {format_race_time(total_s)}."]
    if refuels:
        said.append(f"{exact} of fuel are used, {start} with reserve.")
    elif fits:
        said.append(f"Start with {start} of fuel; the race uses {exact}.")
    else:
        said.append(f"{start} of fuel are needed, more than the tank holds.")
    return said


def describe_edge(laps: int, spare_s: float, faster_s: float) -> str:
    """How near a race by the clock is to another number of laps."""
    return (
        f"The last lap starts {spare_s:.1f} s before time is up. {laps + 1} laps would need laps "
        f"{faster_s:.2f} s quicker."
    )


def describe_refuelled(litres: float) -> str:
    """Fuel taken in at a stop: "32 l", "0.4 l"; empty where none is."""
    if litres < LITRES_LEAST:
        return ""
    return figure(litres, "volume", 0 if litres >= 10.0 else 1)


def describe_no_plan(refuels: bool, tank_laps: float | None, laps: int, stops_needed: bool) -> str:
    """Why there is no plan."""
    if not refuels and tank_laps is not None and tank_laps < laps:
        return (
            f"The tank lasts {tank_laps:.1f} laps of {laps}, and refuelling is not allowed: "
            "enter a refuelling rate, or fewer reserve laps."
        )
    if stops_needed:
        return (
            "No strategy meets all of these rules: check the pit window, the number of stops, "
            "the longest stint, and the tyre life."
        )
    return "No strategy reaches the finish: the tyres or the fuel do not last."


def describe_crossover(ranges: Sequence[tuple[str, float, float]]) -> str:
    """Which tyre for which water."""
    if len(ranges) == 1:
        return f"{ranges[0][0]} is the best tyre at any wetness."
    parts = [f"{ranges[0][0]} up to {ranges[0][2]:.0f} % wet"]
    for name, low, high in ranges[1:]:
        parts.append(f"{name} from {low:.0f} %" if high >= 100.0 else f"{name} to {high:.0f} %")
    return f"{', '.join(parts)}."


def describe_change(
    weathers: Sequence[str],
    chances_pct: Sequence[float],
    best_laps: Sequence[int | None],
    means: Sequence[tuple[int, float]],
    pays_pct: float,
) -> list[str]:
    """When to stop next, over the weathers that may come."""
    if not means:
        return ["No stop is possible here in any forecast."]
    best_lap, best_s = min(means, key=lambda one: one[1])
    said = [f"Across all forecasts: stop after lap {best_lap}."]
    now_lap, now_s = means[0]
    if now_lap == best_lap:
        if len(means) > 1:
            said.append(f"Waiting a lap costs {means[1][1] - now_s:.1f} s on average.")
    else:
        said.append(f"Stopping now costs {now_s - best_s:.1f} s on average.")
    each = [
        f"{name} ({chance:.0f} %): after lap {lap}"
        for name, chance, lap in zip(weathers, chances_pct, best_laps, strict=True)
        if lap is not None
    ]
    said.append(f"{'; '.join(each)}.")
    said.append(f"Chance that stopping now is right: {pays_pct:.0f} %.")
    return said


def describe_agreement(planned: int | None, on_average: int | None, own_tyres: bool) -> str:
    """How the next stop over all forecasts goes with the stint plan, which is for one of them."""
    if on_average is None:
        return "The stint plan is for one forecast; over all of them no stop is possible now."
    if own_tyres:
        return "The stint plan is for the tyres it was planned on, not for those entered here."
    if planned is None:
        return (
            "The stint plan, for the forecast it is planned in, makes no further stop: these are "
            "the costs of one that is needed all the same."
        )
    if planned == on_average:
        return "The stint plan stops after the same lap."
    return (
        f"The stint plan stops after lap {planned}: it is the best plan for one forecast, this is "
        "the lap that costs least over all of them."
    )


def describe_neutralised(lap: int, laps: int, gain_s: float | None, stops: bool) -> str:
    """What to do under a neutralisation that begins now, in a lap, and lasts so many laps."""
    lasts = f"Neutralised from lap {lap} for {laps} {'lap' if laps == 1 else 'laps'}"
    if gain_s is None:
        forced = "the rules, the fuel or the tyres leave no other choice"
        return f"{lasts}: {'stop at once' if stops else 'stay out'}; {forced}."
    if stops:
        return f"{lasts}: stop at once, {gain_s:.1f} s quicker than staying out."
    return f"{lasts}: stay out, {-gain_s:.1f} s quicker than stopping."


def describe_rival(lap: int, gap_s: float, rival_lap: int) -> str:
    """When to stop against a rival."""
    when = (
        f"{rival_lap - lap} laps before them"
        if lap < rival_lap
        else "on the same lap"
        if lap == rival_lap
        else f"{lap - rival_lap} laps after them"
    )
    ahead = f"{abs(gap_s):.1f} s {'ahead' if gap_s >= 0.0 else 'behind'}"
    return f"Best after lap {lap}, {when}: {ahead} once both have stopped."


def describe_slow(ranges: Sequence[tuple[int, int]], laps: int) -> str:
    """When a neutralisation should be used for a stop."""
    if not ranges:
        return "A stop under a safety car or full-course yellow never gains time here."
    parts = [f"lap {a}" if a == b else f"laps {a} to {b}" for a, b in ranges]
    return (
        f"Under a safety car or full-course yellow that begins at {', '.join(parts)} of {laps}, "
        "stop at once; in other laps stay out."
    )


def describe_saving(saved_kg: float, cost_s: float, burnt_kg: float, rule_s: float | None) -> str:
    """A saving and its price."""
    said = (
        f"{figure(saved_kg, 'mass', 3)} a lap ({100.0 * saved_kg / burnt_kg:.1f} %) cost "
        f"{cost_s:.3f} s a lap"
    )
    if rule_s is not None and rule_s > cost_s + NOTHING_S:
        said += f"; the same lift everywhere costs {rule_s:.3f} s"
    return f"{said}."


def describe_energy(
    gain_s: float, spent_mj: float, price_ms_per_kj: float, rule_s: float
) -> list[str]:
    """What a store's energy brings, and its price."""
    said = [
        f"{spent_mj:.2f} MJ a lap gain {gain_s:.3f} s; the last kilojoule gains "
        f"{price_ms_per_kj:.2f} ms."
    ]
    if rule_s > NOTHING_S:
        said.append(f"Deploying all of it from every exit is {rule_s:.3f} s slower.")
    return said


def describe_lap_times(first_s: float, last_s: float) -> str:
    """Lap times of a stint from its first lap to its last."""
    return f"{format_lap_time(first_s)} to {format_lap_time(last_s)}"


def describe_passing(
    possible: Sequence[tuple[str, str, float]],
    places: Sequence[tuple[str, float]],
    say: Saying,
) -> list[str]:
    """Where a pass is possible: (corner, side, metres later); else what the nearest asks for."""
    if possible:
        parts = [
            f"{name} on the {side} ({say.length(later)} later)" for name, side, later in possible
        ]
        return [f"Overtaking is possible at {'; '.join(parts)}. Defend the same places."]
    if places:
        name, later = places[0]
        return [
            f"Overtaking is not possible under braking alone; the best place is {name}, braking "
            f"{say.length(later)} later."
        ]
    return ["No straight here ends in a braking zone."]


def describe_work(tyre: str, share_pct: float, corners: Sequence[str], eased: str) -> list[str]:
    """Which tyre is worked hardest, where, and what eases it."""
    said = [
        f"The {tyre} works hardest: {share_pct:.0f} % of the lap’s sliding energy, most in "
        f"{', '.join(corners)}."
    ]
    return [*said, eased] if eased else said


def describe_eased(name: str, cost_s: float, saved_kj: float, say: Saying) -> str:
    """What easing a corner costs the lap and saves a tyre."""
    step = f"1 {say.speed_unit}"
    return (
        f"{step} less in {name} saves that tyre {saved_kj:.1f} kJ a lap and costs {cost_s:.3f} s."
    )


def describe_warm_up(
    compound: str,
    laps: int,
    needs_mj: float,
    cost_s: float,
    off_window: tuple[float, float],
    say: Saying,
) -> str:
    """What a cold set needs until it is warm; `off_window` is by how many °C and seconds a lap."""
    count = "one lap" if laps == 1 else f"{laps} laps"
    said = (
        f"{compound} is warm after {count}, with {needs_mj:.1f} MJ put into the set; this costs "
        f"{cost_s:.2f} s."
    )
    off_c, off_s = off_window
    if abs(off_c) < 0.5:
        return said
    side = "colder" if off_c < 0.0 else "warmer"
    return (
        f"{said} The road is {say.degrees(abs(off_c))} {side} than its window, "
        f"{off_s:.2f} s a lap, however many laps it does."
    )


def describe_lanes(
    lines: Sequence[tuple[str, float, float]], laps: int, slowing: bool
) -> list[str]:
    """Which way round is quicker: (name, behind over the run, behind for a lap), the best first."""
    best = lines[0]
    lap = min(lines, key=lambda one: one[2])
    said = [f"Over {laps} laps {best[0]} is quickest."]
    if lap[0] != best[0]:
        said.append(f"For a single lap it is {lap[0]}.")
    if len(lines) > 1:
        said.append(f"{lines[1][0]} loses {lines[1][1]:.1f} s over the run.")
    if not slowing:
        said.append("No corner on the plan’s line needs slowing for.")
    return said


def describe_flap(gain_s: float | None, zones: int) -> str:
    """What a flap is worth."""
    where = "its zone" if zones == 1 else f"its {zones} zones"
    if gain_s is None:
        return f"No lap is possible with the flap open in {where}."
    if gain_s < 0.0:
        return (
            f"The flap open in {where} costs {-gain_s:.3f} s a lap: a corner needs the downforce."
        )
    return f"The flap open in {where} gains {gain_s:.3f} s a lap."


def describe_maker(
    what: str,
    later_m: float,
    possible: bool,
    cost_s: float | None,
    spent_mj: float | None,
    say: Saying,
) -> str:
    """What something else on the car behind makes of a place, and what it costs."""
    there = "possible" if possible else "not yet"
    said = f"with {what}: braking {say.length(later_m)} later, {there}"
    if spent_mj is not None:
        return f"{said}; uses {spent_mj:.2f} MJ"
    if cost_s is None or abs(cost_s) < NOTHING_S:
        return said
    return f"{said}; the lap alone is {seconds(cost_s)} {'slower' if cost_s > 0.0 else 'quicker'}"


def describe_pit_measured(loss_s: float, stops: int, stood_s: float) -> str:
    """Where a pit loss is from that the logbook has."""
    count = "one stop" if stops == 1 else f"{stops} stops"
    return (
        f"measured, from the logbook: {count} lost {loss_s:.1f} s, less {stood_s:g} s stationary "
        "for tyres"
    )


def describe_fade_measured(
    lap_s: float, within_s: float, runs: int, laps: int, stated_pct: float
) -> str:
    """Where a compound's fade is from that the logbook has."""
    count = "one run" if runs == 1 else f"{runs} runs"
    return (
        f"measured, from the logbook: {lap_s:+.3f} ± {within_s:.3f} s a lap over {laps} laps of "
        f"{count}, corrected for fuel; the sheet has {stated_pct:g} %"
    )
