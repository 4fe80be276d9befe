"""What a driven lap did otherwise than the predicted one, in a driver's words."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from neapfrost.core.driven.alignment import Aligned
from neapfrost.core.driven.apart import RunsApart
from neapfrost.core.driven.losses import PARTS, CornerLoss
from neapfrost.core.driven.together import CornerTogether, LapsTogether, ranged
from neapfrost.core.driven.trend import Trend
from neapfrost.core.lap.corners import CornerResult
from neapfrost.formats.run import LapKind
from neapfrost.services.words.saying import Saying, gear_word
from neapfrost.services.words.weather import format_lap_time

#: Below these nobody says that anything was otherwise: metres, speeds [m/s], seconds.
METRES_SAID, SPEED_SAID_MS, NEITHER_SAID_S, TIME_SAID_S = 3.0, 0.28, 0.15, 0.02
FULL_SAID_M = 6.0
#: A speed that reads wrong by less than this share is not spoken of.
SCALE_SAID = 0.004
#: So many corners are named where the time went.
NAMED_MOST = 3
WHERE = {
    "braking": "in braking",
    "entry": "at the entry",
    "middle": "mid-corner",
    "exit": "at the exit",
    "straight": "on the straight after it",
}


class AsDriven(Protocol):
    """What is spoken of at a driven corner, measured just now or kept."""

    @property
    def action(self) -> str: ...
    @property
    def brake_start_to_corner_m(self) -> float | None: ...
    @property
    def gear(self) -> int | None: ...
    @property
    def min_speed_ms(self) -> float: ...
    @property
    def full_throttle_at_m(self) -> float | None: ...


@dataclass(frozen=True)
class Beside:
    """What a lap that others are held against does at a corner; None where that is not known."""

    action: str | None = None
    brake_start_to_corner_m: float | None = None
    gear: int | None = None
    min_speed_ms: float | None = None
    full_throttle_at_m: float | None = None
    exit_speed_ms: float | None = None


def describe_corner(
    driven: AsDriven,
    predicted: Beside,
    neither_s: float | None,
    loss: CornerLoss | None,
    say: Saying,
) -> str:
    """What was otherwise at a corner: "braked 9 m early; minimum 2 km/h low; 0.14 s lost".

    `neither_s` is the time with neither pedal beyond what the predicted lap has.
    """
    parts = _braking(driven, predicted, say)
    if neither_s is not None and neither_s >= NEITHER_SAID_S:
        parts.append(f"{neither_s:.1f} s more coasting")
    parts += _middle(driven, predicted, say)
    if loss is not None and abs(loss.all_s) >= TIME_SAID_S:
        most = max(PARTS, key=lambda part: abs(getattr(loss, f"{part}_s")))
        word = "lost" if loss.all_s > 0.0 else "gained"
        parts.append(f"{abs(loss.all_s):.2f} s {word}, most {WHERE[most]}")
    return "; ".join(parts) if parts else "as predicted"


def describe_run(times_s: Sequence[float], predicted_s: float | None) -> list[str]:
    """The laps of a run in short: the best, their scatter, and against what was predicted."""
    if not times_s:
        return ["This run has no timed lap."]
    best = min(times_s)
    said = [f"{len(times_s)} timed laps, the best {format_lap_time(best)}."]
    found = ranged(times_s)
    if found is not None and found.count > 2:
        said[0] = (
            f"{found.count} timed laps, the best {format_lap_time(best)}, the median "
            f"{format_lap_time(found.median)}, spread {found.spread:.2f} s."
        )
    if predicted_s is not None:
        apart = best - predicted_s
        word = "slower" if apart > 0.0 else "quicker"
        said.append(f"The best is {abs(apart):.2f} s {word} than predicted.")
    return said


def describe_reading(
    times_s: Sequence[float], laps: int, missing: Sequence[str], scale: float, mirrored: bool
) -> list[str]:
    """What was found in a file, and what of it was put right."""
    said = [f"{laps} laps were found, {len(times_s)} of them timed."]
    if times_s:
        said[0] = (
            f"{laps} laps were found, {len(times_s)} of them timed, "
            f"the best {format_lap_time(min(times_s))}."
        )
    if abs(scale - 1.0) >= SCALE_SAID:
        word = "low" if scale > 1.0 else "high"
        said.append(
            f"The speed reads {100.0 * abs(scale - 1.0):.1f} % {word} against the circuit's "
            "length; corrected."
        )
    if mirrored:
        said.append("Lateral acceleration was logged with the opposite sign; it has been flipped.")
    if missing:
        said.append(f"Not logged: {', '.join(missing)}. Results that need it are left out.")
    return said


def describe_unit_doubt(label: str, taken: str, unit: str, against: str, ratio: float) -> str:
    """A channel that contradicts others in its unit; `against` says what gives `ratio` times it."""
    return (
        f"{label} is read as {taken}, but {against} {ratio:.2f} times as much: it is probably in "
        f"{unit}."
    )


def describe_doubt(aligned: Aligned) -> str | None:
    """The question whether a log is of this circuit; None where it plainly is."""
    if aligned.sure:
        return None
    return (
        f"This log fits the circuit badly: its corners agree to {100.0 * aligned.alike:.0f} % and "
        f"its positions are off by {aligned.misfit_m:.1f} m. Is it this circuit? Save it only if "
        "you are sure."
    )


def describe_lap_losses(
    names: Sequence[str],
    losses: Sequence[CornerLoss],
    change_s: float,
    other: str = "the prediction",
) -> list[str]:
    """Where the time of a lap went against another, the most first."""
    word = "slower" if change_s > 0.0 else "quicker"
    than = "predicted" if other == "the prediction" else other
    said = [f"{abs(change_s):.2f} s {word} than {than}."]
    lost = sorted(
        ((loss.all_s, name) for loss, name in zip(losses, names, strict=True)), reverse=True
    )
    worth = [(time, name) for time, name in lost if time >= TIME_SAID_S][:NAMED_MOST]
    if worth:
        told = ", ".join(f"{name} {time:.2f} s" for time, name in worth)
        said.append(f"Most lost at {told}.")
    gained = [(time, name) for time, name in reversed(lost) if time <= -TIME_SAID_S][:NAMED_MOST]
    if gained:
        told = ", ".join(f"{name} {-time:.2f} s" for time, name in gained)
        said.append(f"Gained at {told}.")
    return said


def _braking(driven: AsDriven, predicted: Beside, say: Saying) -> list[str]:
    found = []
    own, plan = driven.brake_start_to_corner_m, predicted.brake_start_to_corner_m
    if own is not None and plan is not None and abs(own - plan) >= METRES_SAID:
        found.append(f"braked {say.length(abs(own - plan))} {'early' if own > plan else 'late'}")
    elif predicted.action is None:
        pass
    elif own is not None and plan is None:
        found.append(f"braked where the plan is {_instead(predicted.action)}")
    elif own is None and plan is not None:
        found.append("did not brake" if driven.action == "flat" else "lifted instead of braking")
    elif own is None and predicted.action == "flat" and driven.action == "lift":
        found.append("lifted where the plan is flat")
    return found


def _middle(driven: AsDriven, predicted: Beside, say: Saying) -> list[str]:
    found = []
    if predicted.min_speed_ms is not None:
        off = driven.min_speed_ms - predicted.min_speed_ms
        if abs(off) >= SPEED_SAID_MS:
            found.append(f"minimum {say.speed(abs(off), 1)} {'high' if off > 0.0 else 'low'}")
    known = driven.gear is not None and predicted.gear is not None
    if known and driven.gear != predicted.gear and driven.action != "flat":
        assert driven.gear is not None  # as just asked
        assert predicted.gear is not None  # likewise
        found.append(f"in {gear_word(driven.gear)} instead of {gear_word(predicted.gear)}")
    own, plan = driven.full_throttle_at_m, predicted.full_throttle_at_m
    if own is not None and plan is not None and FULL_SAID_M <= abs(own - plan) < 400.0:
        found.append(
            f"full throttle {say.length(abs(own - plan))} {'late' if own > plan else 'early'}"
        )
    return found


def _instead(action: str) -> str:
    return {"lift": "needs a lift", "flat": "flat", "through": "no brake"}.get(action, action)


#: A corner whose laps differ by more than so much is said to be driven unevenly [s].
UNEVEN_S = 0.06


def describe_corner_together(corner: CornerTogether, predicted: CornerResult, say: Saying) -> str:
    """A corner over several laps: what is usual, and how evenly it is driven."""
    parts = []
    brake, plan = corner.brake_start_to_corner_m, predicted.brake_start_to_corner_m
    if brake is not None and plan is not None and abs(brake.median - plan) >= METRES_SAID:
        word = "early" if brake.median > plan else "late"
        parts.append(f"usually braked {say.length(abs(brake.median - plan))} {word}")
    off = corner.min_speed_ms.median - predicted.min_speed_ms
    if abs(off) >= SPEED_SAID_MS:
        word = "high" if off > 0.0 else "low"
        parts.append(f"minimum usually {say.speed(abs(off), 1)} {word}")
    if corner.neither_s is not None and corner.neither_s.median >= 2.0 * NEITHER_SAID_S:
        parts.append(f"{corner.neither_s.median:.1f} s coasting")
    if len(corner.gears) > 1:
        usual = max(corner.gears, key=lambda one: one[1])[0]
        parts.append(f"not always in {gear_word(usual)}")
    if corner.lost_s.spread >= UNEVEN_S:
        parts.append(f"inconsistent: spread {corner.lost_s.spread:.2f} s")
    return "; ".join(parts) if parts else "as predicted, lap after lap"


def describe_together(found: LapsTogether, goes: Trend | None, predicted_s: float) -> list[str]:
    """Several laps in short: best and median, what was possible, and how they go along the run."""
    lap = found.lap_s
    said = [
        f"{lap.count} laps: best {format_lap_time(lap.best)}, median "
        f"{format_lap_time(lap.median)}, spread "
        f"{lap.spread:.2f} s; predicted {format_lap_time(predicted_s)}."
    ]
    if found.possible_s is not None:
        gained = max(lap.best - found.possible_s, 0.0)
        said.append(
            f"Theoretical best by corner: {format_lap_time(found.possible_s)}, "
            f"{gained:.2f} s quicker than the best lap."
        )
    if found.corners:
        uneven = sorted(found.corners, key=lambda one: -one.lost_s.spread)[:NAMED_MOST]
        told = ", ".join(f"{one.name} {one.lost_s.spread:.2f} s" for one in uneven)
        said.append(f"Least consistent: {told}.")
    if goes is not None:
        said += _describe_trend(goes)
    return said


def _describe_trend(goes: Trend) -> list[str]:
    within = "80 % band"
    early = (
        f"The first lap is {goes.early_s:.2f} s slower from cold tyres and learning "
        f"({within} ±{goes.early_within_s:.2f} s), settled in {goes.settles_laps:.1f} laps."
        if goes.early_beyond_noise
        else f"Warm-up cannot be separated from the lap-to-lap spread of {goes.scatter_s:.2f} s."
    )
    word = "slower" if goes.fade_s > 0.0 else "quicker"
    fade = (
        f"Each lap is {abs(goes.fade_s):.3f} s {word} than the one before ({within} "
        f"±{goes.fade_within_s:.3f} s)."
        if goes.fade_beyond_noise
        else "Degradation: not measurable from these laps "
        f"({within} ±{goes.fade_within_s:.2f} s a lap)."
    )
    return [early, fade]


#: What each kind of lap is called, and the key that marks one so; none for what is found alone.
LAP_KINDS: dict[LapKind, tuple[str, str]] = {
    "timed": ("timed", "d"),
    "slow": ("slow", "s"),
    "stop": ("with a stop", ""),
    "out": ("out lap", "o"),
    "in": ("in lap", "i"),
    "traffic": ("traffic", "t"),
    "void": ("void", "v"),
}
#: What is called what of the faults one may note at a corner.
FAULTS: dict[str, str] = {
    "braked_early": "braked too early",
    "braked_late": "braked too late",
    "turned_in_early": "turned in too early",
    "over_slowed": "over-slowed",
    "ran_wide": "ran wide",
    "neither_pedal": "coasting",
    "missed_shift": "missed a shift",
    "wrong_reference": "took the wrong reference",
}


def describe_changed(
    before: str | None,
    changes: Sequence[str],
    expected_s: float | None,
    clock: RunsApart | None,
) -> list[str]:
    """What changed since the run before, what it should be worth, and what the clock said."""
    if before is None:
        return ["There is no run before this one with this car on this circuit."]
    said = [f"Nothing changed since {before}."]
    if len(changes) == 1:
        said = [f"One thing changed since {before}: {changes[0]}."]
    elif changes:
        said = [
            f"{len(changes)} things changed at once since {before}: {'; '.join(changes)}. Lap "
            "times cannot separate them: the difference is for all of them together."
        ]
    if expected_s is not None and changes:
        said.append(f"The model expects the lap to change by {expected_s:+.2f} s.")
    if clock is None:
        said.append("Too few laps at the same lap number in both runs to compare them.")
        return said
    interval = f"{clock.change_s:+.2f} ± {clock.within_s:.2f} s"
    if clock.beyond_noise:
        said.append(
            f"Measured {interval} (80 % band) over {clock.pairs} pairs of laps: more than the "
            f"lap-to-lap spread can explain (±{clock.noise_s:.2f} s)."
        )
    else:
        said.append(
            f"Measured {interval} (80 % band): not significant. The lap-to-lap spread alone can "
            f"explain ±{clock.noise_s:.2f} s."
        )
    return said
