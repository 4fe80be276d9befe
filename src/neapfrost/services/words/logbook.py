"""What a driven lap did otherwise than the predicted one, in a driver's words."""

import statistics
from collections.abc import Sequence

from neapfrost.core.driven.losses import PARTS, CornerLoss
from neapfrost.core.driven.measures import DrivenCorner
from neapfrost.core.lap.corners import CornerResult
from neapfrost.services.words.saying import Saying, gear_word
from neapfrost.services.words.weather import lap_said

#: Below these nobody says that anything was otherwise: metres, speeds [m/s], seconds.
METRES_SAID, SPEED_SAID_MS, NEITHER_SAID_S, TIME_SAID_S = 3.0, 0.28, 0.15, 0.02
FULL_SAID_M = 6.0
#: So many corners are named where the time went.
NAMED_MOST = 3
WHERE = {
    "braking": "in braking",
    "entry": "on the way in",
    "middle": "in the middle",
    "exit": "on the way out",
    "straight": "on the straight after it",
}


def corner_said(
    driven: DrivenCorner,
    predicted: CornerResult,
    neither_s: float | None,
    loss: CornerLoss,
    say: Saying,
) -> str:
    """What was otherwise at a corner: "braked 9 m early; minimum 2 km/h low; 0.14 s lost".

    `neither_s` is the time with neither pedal beyond what the predicted lap has.
    """
    parts = _braking(driven, predicted, say)
    if neither_s is not None and neither_s >= NEITHER_SAID_S:
        parts.append(f"{neither_s:.1f} s longer with neither pedal")
    parts += _middle(driven, predicted, say)
    if abs(loss.all_s) >= TIME_SAID_S:
        most = max(PARTS, key=lambda part: abs(getattr(loss, f"{part}_s")))
        word = "lost" if loss.all_s > 0.0 else "gained"
        parts.append(f"{abs(loss.all_s):.2f} s {word}, most {WHERE[most]}")
    return "; ".join(parts) if parts else "as predicted"


def run_said(times_s: Sequence[float], predicted_s: float | None) -> list[str]:
    """The laps of a run in short: the best, their scatter, and against what was predicted."""
    if not times_s:
        return ["No lap of this run was driven for its time."]
    best = min(times_s)
    said = [f"{len(times_s)} timed laps, the best {lap_said(best)}."]
    if len(times_s) > 2:
        median = statistics.median(times_s)
        scatter = statistics.stdev(times_s)
        said[0] = (
            f"{len(times_s)} timed laps, the best {lap_said(best)}, the median {lap_said(median)}, "
            f"scattering by {scatter:.2f} s."
        )
    if predicted_s is not None:
        apart = best - predicted_s
        word = "slower" if apart > 0.0 else "quicker"
        said.append(f"The best is {abs(apart):.2f} s {word} than predicted.")
    return said


def lap_losses_said(
    names: Sequence[str], losses: Sequence[CornerLoss], change_s: float
) -> list[str]:
    """Where the time of a lap went, the most first."""
    word = "slower" if change_s > 0.0 else "quicker"
    said = [f"{abs(change_s):.2f} s {word} than predicted."]
    lost = sorted(
        ((loss.all_s, name) for loss, name in zip(losses, names, strict=True)), reverse=True
    )
    worth = [(time, name) for time, name in lost if time >= TIME_SAID_S][:NAMED_MOST]
    if worth:
        told = ", ".join(f"{name} {time:.2f} s" for time, name in worth)
        said.append(f"The most is lost at {told}.")
    gained = [(time, name) for time, name in reversed(lost) if time <= -TIME_SAID_S][:NAMED_MOST]
    if gained:
        told = ", ".join(f"{name} {-time:.2f} s" for time, name in gained)
        said.append(f"Gained at {told}.")
    return said


def _braking(driven: DrivenCorner, predicted: CornerResult, say: Saying) -> list[str]:
    found = []
    own, plan = driven.brake_start_to_corner_m, predicted.brake_start_to_corner_m
    if own is not None and plan is not None and abs(own - plan) >= METRES_SAID:
        found.append(f"braked {say.length(abs(own - plan))} {'early' if own > plan else 'late'}")
    elif own is not None and plan is None:
        found.append(f"braked where the plan has {_instead(predicted.action)}")
    elif own is None and plan is not None:
        found.append("did not brake" if driven.action == "flat" else "lifted instead of braking")
    elif own is None and predicted.action == "flat" and driven.action == "lift":
        found.append("lifted where it is flat")
    return found


def _middle(driven: DrivenCorner, predicted: CornerResult, say: Saying) -> list[str]:
    found = []
    off = driven.min_speed_ms - predicted.min_speed_ms
    if abs(off) >= SPEED_SAID_MS:
        found.append(f"minimum {say.speed(abs(off), 1)} {'high' if off > 0.0 else 'low'}")
    if driven.gear is not None and driven.gear != predicted.gear and driven.action != "flat":
        found.append(f"in {gear_word(driven.gear)} instead of {gear_word(predicted.gear)}")
    own, plan = driven.full_throttle_at_m, predicted.full_throttle_at_m
    if own is not None and plan is not None and FULL_SAID_M <= abs(own - plan) < 400.0:
        found.append(
            f"full throttle {say.length(abs(own - plan))} {'late' if own > plan else 'early'}"
        )
    return found


def _instead(action: str) -> str:
    return {"lift": "a lift", "flat": "it flat", "through": "no brake"}.get(action, action)
