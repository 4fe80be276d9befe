"""What the weather does to a lap, in sentences."""

from collections.abc import Sequence
from datetime import datetime

from neapfrost.core.weather.apart import Sign, turned_deg
from neapfrost.core.weather.flips import Call, Flip
from neapfrost.formats.plan import ConditionsDocument
from neapfrost.services.words.saying import Saying

#: What is not said of the weather because nobody would notice.
WIND_TURNED_DEG, WIND_CHANGED_MS, WETTER_PCT, WARMER_C = 20.0, 1.0, 3.0, 3.0
SIGNS: dict[Sign, str] = {
    "rain_mm_h": "rain",
    "wind_from_deg": "wind direction",
    "wind_speed_ms": "wind speed",
    "track_temp_c": "road temperature",
    "air_temp_c": "air temperature",
}


def clock(at: str) -> str:
    """Hour and minute of a moment: "13:40"."""
    return datetime.fromisoformat(at).strftime("%H:%M")


def format_lap_time(seconds: float) -> str:
    """A lap time to hundredths: "1:31.42"."""
    minutes, rest = divmod(round(seconds * 100.0), 6000)
    return f"{minutes}:{rest / 100.0:05.2f}"


def describe_flip(name: str, flip: Flip, at: str, first: bool, say: Saying) -> str:
    """A call that changes at a moment: "Sluice: brake 6 m earlier from 14:05"."""
    when = f"from the start, {clock(at)}" if first else f"from {clock(at)}"
    before, after = flip.before, flip.after
    if flip.what == "braking":
        return f"{name}: brake {_moved(before, after, say)} {when}"
    if before[0] == "flat":
        return f"{name} is no longer flat {when}: {_do(after, say)}"
    if after[0] == "flat":
        return f"{name} is flat {when}"
    if after[0] == "brake":
        return f"{name} needs braking {when}: {_do(after, say)}"
    if after[0] == "lift":
        return f"{name} needs only a lift {when}"
    return f"{name} needs no lift {when}"


def describe_nothing_flips(threshold_m: float, say: Saying) -> str:
    """That no call changes along a session."""
    return (
        f"No call changes: every corner's action stays, and no braking point moves by "
        f"{say.length(threshold_m)}."
    )


def describe_tyre(before: str, after: str, at: str) -> str:
    """Another compound becomes quickest: "Rain is quicker than Medium from 14:22"."""
    return f"{after} is quicker than {before} from {clock(at)}"


def describe_span(times_s: Sequence[float], moments: Sequence[str], own_s: float) -> str:
    """How far the lap goes along the session, and against the plan's own."""
    low, high = min(times_s), max(times_s)
    best, worst = moments[times_s.index(low)], moments[times_s.index(high)]
    if high - low < 0.005:
        return f"The lap stays at {format_lap_time(low)} all session."
    return (
        f"Quickest at {clock(best)} with {format_lap_time(low)}, slowest at {clock(worst)} with "
        f"{format_lap_time(high)}; the plan's own lap is {format_lap_time(own_s)}."
    )


def describe_all_alike() -> str:
    """That no weather asks anything else."""
    return "In every forecast the calls stay the same and no other tyre is quicker."


def describe_alike_until(matters_at: str, first_at: str) -> str:
    """Until when it does not matter which weather comes."""
    if matters_at <= first_at:
        return "The forecasts need different calls from the start."
    return f"Until {clock(matters_at)} every forecast needs the same calls and the same tyre."


def describe_chances(tyre: str, expected_s: float, at: str) -> str:
    """The compound with the least lap over all chances."""
    return (
        f"Weighted by chance, {tyre} is quickest at {clock(at)}: {format_lap_time(expected_s)} "
        "expected."
    )


def describe_call(call: Call, say: Saying) -> str:
    """What is done at a corner, in short: "brake 42 m before it", "flat"."""
    return _do(call, say)


def describe_separation(
    names: tuple[str, str], sign: Sign, values: tuple[float, float], at: str, say: Saying
) -> str:
    """Which reading tells two weathers apart, and from when on."""
    a, b = (_value(sign, value, say) for value in values)
    return (
        f"{SIGNS[sign].capitalize()} separates {names[0]} from {names[1]} at {clock(at)}: {a} "
        f"against {b}."
    )


def describe_wait(names: tuple[str, str], told_at: str | None, matters_at: str | None) -> str:
    """Until when one can wait for two weathers to show which they are."""
    pair = f"{names[0]} and {names[1]}"
    if matters_at is None:
        return f"{pair} need the same calls throughout."
    if told_at is None:
        return f"{pair} need different calls from {clock(matters_at)}; no reading separates them."
    if told_at <= matters_at:
        return f"{pair} need different calls from {clock(matters_at)}: you can wait until then."
    return (
        f"{pair} need different calls from {clock(matters_at)}, before any reading separates "
        f"them at {clock(told_at)}: until then the decision is a guess."
    )


def describe_weather_moved(before: ConditionsDocument, now: ConditionsDocument, say: Saying) -> str:
    """How the weather has changed: "wind turned 60° and 2 m/s stronger, line 20 % wet"."""
    parts = []
    turned = turned_deg(before.wind_from_deg, now.wind_from_deg)
    stronger = now.wind_speed_ms - before.wind_speed_ms
    wind = []
    if abs(turned) >= WIND_TURNED_DEG and min(before.wind_speed_ms, now.wind_speed_ms) > 0.5:
        wind.append(f"turned {abs(turned):.0f}°")
    if abs(stronger) >= WIND_CHANGED_MS:
        wind.append(f"{say.wind(abs(stronger))} {'stronger' if stronger > 0.0 else 'weaker'}")
    if wind:
        parts.append(f"wind {' and '.join(wind)}")
    wetter = now.wetness_pct - before.wetness_pct
    if abs(wetter) >= WETTER_PCT:
        parts.append(f"the line {now.wetness_pct:.0f} % wet instead of {before.wetness_pct:.0f} %")
    for name, value in (("air", "air_temp_c"), ("road", "track_temp_c")):
        change = getattr(now, value) - getattr(before, value)
        if abs(change) >= WARMER_C:
            parts.append(
                f"{name} {say.degrees(abs(change))} {'warmer' if change > 0.0 else 'colder'}"
            )
    rubber = now.rubber_factor - before.rubber_factor
    if abs(rubber) >= 0.005:
        parts.append(
            f"{abs(100.0 * rubber):.1f} % {'more' if rubber > 0.0 else 'less'} rubber grip"
        )
    return ", ".join(parts)


def describe_since(
    weather: str, moved: Sequence[tuple[str, Flip]], lap_change_s: float, say: Saying
) -> str:
    """What the present weather has done to a plan: its calls by corner, and the lap."""
    parts = [weather] if weather else []
    braking = [(name, one) for name, one in moved if one.what == "braking"]
    if braking:
        name, most = max(braking, key=lambda pair: abs(_by_m(pair[1].before, pair[1].after)))
        by = _moved(most.before, most.after, say)
        if len(braking) == 1:
            parts.append(f"brake {by} for {name}")
        else:
            parts.append(f"{len(braking)} braking points moved, most at {name}: {by}")
    for name, one in moved:
        if one.what == "action":
            parts.append(_action_now(name, one))
    if abs(lap_change_s) >= 0.005:
        slower = "slower" if lap_change_s > 0.0 else "quicker"
        parts.append(f"the lap {abs(lap_change_s):.2f} s {slower}")
    if not parts:
        return "No change from the weather since this plan."
    return f"Since this plan: {'; '.join(parts)}."


def describe_no_lap_now(weather: str, trouble: str) -> str:
    """That a plan has no lap in the present weather, and why."""
    moved = weather or "the weather has changed"
    return f"Since this plan: {moved}; no lap is possible now ({trouble})."


def _action_now(name: str, flip: Flip) -> str:
    if flip.before[0] == "flat":
        return f"{name} no longer flat"
    words = {
        "flat": "flat",
        "brake": "needs braking",
        "lift": "needs a lift",
        "through": "without a lift",
    }
    return f"{name} now {words.get(flip.after[0], flip.after[0])}"


def _do(call: Call, say: Saying) -> str:
    if call[0] == "brake" and call[1] is not None:
        if call[1] < 0.0:
            return f"brake {say.length(-call[1])} into it"
        return f"brake {say.length(call[1])} before it"
    return call[0]


def _by_m(before: Call, after: Call) -> float:
    return (after[1] or 0.0) - (before[1] or 0.0)


def _moved(before: Call, after: Call, say: Saying) -> str:
    by_m = _by_m(before, after)
    return f"{say.length(abs(by_m))} {'earlier' if by_m > 0.0 else 'later'}"


def _value(sign: Sign, value: float, say: Saying) -> str:
    match sign:
        case "rain_mm_h":
            return f"{value:.1f} mm/h"
        case "wind_from_deg":
            return f"{value:.0f}°"
        case "wind_speed_ms":
            return say.wind(value)
    return say.temperature(value)
