"""The calls at a corner with their reasons, one sentence each."""

from collections.abc import Sequence

from neapfrost.core.studies.braking import BrakingCall
from neapfrost.core.studies.flat import FlatCall, Threshold
from neapfrost.core.studies.gear import GearCall
from neapfrost.core.studies.hold import HoldCall
from neapfrost.core.studies.stretch import Stretch
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.words.saying import NOTHING_S, Saying, gear_word, seconds

#: What a driver does beyond a threshold, as it is said.
DOES = {"flat": "flat", "lift": "lift", "brake": "brake", "through": "slow"}
VERBS = {"brake": "Brake", "lift": "Lift only"}


def into_next(
    corners: Sequence[CornerResultPart], corner: int, stretch: Stretch | None, say: Saying
) -> str:
    """What the corner leads onto: how far on full throttle, to which corner, how fast there."""
    following = corners[(corner + 1) % len(corners)]
    if stretch is None:
        return f"Straight into {following.name}: no full throttle between."
    length = say.length(stretch.length_m)
    if stretch.next_corner is None:
        return f"{length} to the finish, up to {gear_word(stretch.gear_to)}."
    ending = corners[stretch.next_corner]
    if ending.action != "brake" or ending.brake_start_speed_ms is None:
        return f"{length} to {ending.name}, up to {gear_word(stretch.gear_to)}."
    return (
        f"{length} to the braking point for {ending.name}, up to {gear_word(stretch.gear_to)}, "
        f"{say.speed(ending.brake_start_speed_ms)} there."
    )


def gear_reason(call: GearCall) -> str:
    """Which gear is quickest, and what the next best costs."""
    reached = [option for option in call.options if option.reached]
    best = next(option for option in reached if option.gear == call.quickest)
    others = sorted(
        (o for o in reached if o.gear != call.quickest), key=lambda option: option.cost_s or 0.0
    )
    reason = f"{gear_word(best.gear)} is quickest, at {best.rpm:.0f} rpm"
    if others:
        next_best = others[0]
        reason += (
            f"; {gear_word(next_best.gear)} at {next_best.rpm:.0f} rpm costs "
            f"{seconds(next_best.cost_s or 0.0)}"
        )
    missed = [option.gear for option in call.options if not option.reached]
    if missed:
        reason += f"; {gear_word(missed[-1])} is not reached in time"
    return f"{reason}."


def hold_reason(call: HoldCall, shift_s: float, say: Saying) -> str:
    """Take the next gear or hold this one, what it costs, and at which shift time that turns."""
    cost = {option.top_gear: option.cost_s for option in call.options}
    gain = cost[call.taken - 1] - cost[call.taken]
    upper, lower = gear_word(call.taken), gear_word(call.taken - 1)
    length = say.length(call.lift_m - call.from_m)
    if abs(gain) < NOTHING_S:
        reason = f"Taking {upper} or holding {lower} costs the same over the {length}"
    elif gain > 0.0:
        reason = f"Take {upper}: holding {lower} costs {seconds(gain)} over the {length}"
    else:
        reason = f"Hold {lower}: taking {upper} costs {seconds(gain)} over the {length}"
    if call.break_even_shift_s is not None:
        reason += (
            f"; equal at a shift time of {call.break_even_shift_s:.2f} s, yours is {shift_s:.2f} s"
        )
    elif call.paid_back_m is not None and call.paid_back_m >= 1.0:
        reason += f"; the shift pays back after {say.length(call.paid_back_m)}"
    return f"{reason}."


def describe_threshold(one: Threshold, say: Saying) -> str:
    """At which grip, fuel or wind a corner is taken otherwise."""
    does = DOES[one.action]
    if one.figure == "grip":
        percent = 100.0 * (one.value - 1.0)
        return f"{does} with {abs(percent):.1f} % {'more' if percent > 0.0 else 'less'} grip"
    if one.figure == "fuel":
        side = "from" if one.up else "below"
        return f"{does} {side} {say.figure(one.value, 'mass')} of fuel"
    if one.value >= 0.0:
        side = "when the tailwind passes" if one.up else "when the tailwind falls below"
        return f"{does} {side} {say.wind(one.value)}"
    side = "when the headwind falls below" if one.up else "when the headwind passes"
    return f"{does} {side} {say.wind(-one.value)}"


def flat_reason(call: FlatCall, say: Saying) -> str:
    """Flat, lift or brake, and what is left."""
    if call.action == "flat":
        reason = f"Flat with {call.grip_left_pct or 0.0:.0f} % of the grip left"
    elif call.action == "through" and call.grip_left_pct is not None:
        reason = f"Through, accelerating, with {call.grip_left_pct:.0f} % of the grip left"
    elif call.overspeed_ms is None:
        reason = "Not flat here"
    else:
        verb = VERBS.get(call.action, "Slowing for the next")
        reason = f"{verb}: {say.speed(call.overspeed_ms)} too fast on full throttle"
    if not call.in_doubt:
        reason += "; no realistic grip, wind or fuel changes that"
    elif not call.thresholds:
        reason += "; none of the figures tried changes that"
    return f"{reason}."


def braking_shape(call: BrakingCall, say: Saying) -> str:
    """How the pedal is used: hit, eased after so far, off before or after turning in."""
    planned = call.options[0]
    left = planned.turn_in_effort_pct
    shape = (
        f"Brake at {planned.peak_effort_pct:.0f} %, ease off after {say.length(planned.release_m)}"
    )
    if planned.turn_in_m < -0.5:
        shape += ", all after turn-in"
    elif left is None or left < 5.0:
        shape += ", off before turn-in"
    else:
        shape += f", {left:.0f} % left at turn-in"
    if planned.reapplied_m:
        places = " and ".join(say.length(at) for at in planned.reapplied_m)
        shape += f", again after {places}"
    return f"{shape}."


def braking_reason(call: BrakingCall) -> str:
    """What the other ways to brake cost."""
    by_school = {option.school: option for option in call.options}
    parts = []
    for school, name in (("straight", "in a straight line"), ("gentle", "gently and early")):
        option = by_school.get(school)
        if option is not None:
            verb = "costs" if option.cost_s >= -NOTHING_S else "gains"
            parts.append(f"{name} {verb} {seconds(option.cost_s)}")
    return f"Braking {'; '.join(parts)}." if parts else ""


def describe_road(call: BrakingCall, say: Saying) -> str:
    """What slope, crests and dips do to the braking; nothing where it is less than a metre."""
    said = []
    if abs(call.grade_m) >= 0.75:
        way = "downhill" if call.steepest_pct < 0.0 else "uphill"
        sooner = "earlier" if call.grade_m > 0.0 else "later"
        slope = f"{abs(call.steepest_pct):.1f} %"
        said.append(f"{way} {slope}: brake {say.length(abs(call.grade_m))} {sooner} than level")
    if abs(call.crest_m) >= 0.75:
        over = "over a crest" if call.crest_m > 0.0 else "through a dip"
        sooner = "earlier" if call.crest_m > 0.0 else "later"
        said.append(f"{over}: {say.length(abs(call.crest_m))} {sooner} than without")
    return "; ".join(said).capitalize()
