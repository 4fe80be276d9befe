"""What a sweep, a map and a ranking come to, in sentences."""

from collections.abc import Sequence
from typing import Protocol

from neapfrost.core.units import Kind, shown, shown_difference, unit_of
from neapfrost.services.words.saying import NOTHING_S, Saying, seconds

#: What a stretch gains or loses below this is not worth a word [s].
WORTH_A_WORD_S = 0.005
#: So many corners or straights are named on either side.
NAMED_MOST = 4
#: Quantities of axes that are no kind of figure with a choice of units.
PLAIN = ("none", "percent")


class Said(Protocol):
    """An axis, as far as its values are said."""

    @property
    def label(self) -> str: ...
    @property
    def said_unit(self) -> str: ...
    @property
    def quantity(self) -> str: ...
    @property
    def decimals(self) -> int: ...


class Range(Protocol):
    """A band."""

    @property
    def low(self) -> float: ...
    @property
    def high(self) -> float: ...


def describe_value(axis: Said, value: float | str, say: Saying) -> str:
    """A value with its unit: "4.05 to 1", "12 km/h", "Step 5"."""
    if isinstance(value, str):
        return value
    unit = axis.said_unit
    if axis.quantity not in PLAIN:
        kind: Kind = axis.quantity  # type: ignore[assignment]  # every other quantity is a kind
        value, unit = shown(value, kind, say.units), f" {unit_of(kind, say.units)}"
    return f"{value:.{axis.decimals}f}{unit}"


def describe_quickest(label: str, where: str, change_s: float, band: Range | None) -> str:
    """Where it is quickest and what that is worth against the plan as it stands."""
    if abs(change_s) < NOTHING_S:
        return f"{label}: nothing is quicker than the plan."
    worth = f"{seconds(change_s)} {'quicker' if change_s < 0.0 else 'slower'} than the plan"
    if band is not None:
        low, high = sorted((abs(band.low), abs(band.high)))
        if band.low * band.high < 0.0:
            worth += ", within the uncertainty"
        else:
            worth += f", {low:.3f} to {high:.3f} s (80 % band)"
    return f"{label}: quickest at {where}, {worth}."


def describe_at_end(*where: str) -> str:
    """The best lies at the end of what was varied."""
    return f"It is still improving at the end of the range ({' and '.join(where)}): widen it."


def describe_even(first: str, last: str, even_s: float) -> str:
    """What is as good as the best."""
    return f"From {first} to {last} within {even_s:.2f} s of the quickest."


def describe_paid(stretches: Sequence[tuple[str, bool]], changes_s: Sequence[float]) -> str:
    """Who pays for whom: (name, whether a straight) and its change [s] for each stretch."""
    gains = sorted(
        (one for one in zip(changes_s, stretches, strict=True) if one[0] <= -WORTH_A_WORD_S),
        key=lambda one: one[0],
    )
    losses = sorted(
        (one for one in zip(changes_s, stretches, strict=True) if one[0] >= WORTH_A_WORD_S),
        key=lambda one: -one[0],
    )
    if not gains and not losses:
        return ""
    if not losses:
        return f"Time is gained at {_names(gains)}; nothing loses {WORTH_A_WORD_S:.3f} s or more."
    if not gains:
        return f"Time is lost at {_names(losses)}; nothing gains {WORTH_A_WORD_S:.3f} s or more."
    gainers = _names(gains)
    return (
        f"{gainers[:1].upper()}{gainers[1:]} {_verb(gains, 'gain')} {_sum(gains)}; "
        f"{_names(losses)} {_verb(losses, 'lose')} {_sum(losses)}."
    )


def _sum(stretches: Sequence[tuple[float, tuple[str, bool]]]) -> str:
    return f"{abs(sum(change for change, _ in stretches)):.3f} s"


def _verb(stretches: Sequence[object], verb: str) -> str:
    return verb if len(stretches) > 1 else f"{verb}s"


def _names(stretches: Sequence[tuple[float, tuple[str, bool]]]) -> str:
    """Corners by name; straights by the corners they follow; beyond a few, how many more."""
    corners = [name for _, (name, straight) in stretches if not straight]
    straights = [name.removeprefix("after ") for _, (name, straight) in stretches if straight]
    parts = []
    if corners:
        parts.append(_listed(corners))
    if straights:
        word = "the straight after" if len(straights) == 1 else "the straights after"
        parts.append(f"{word} {_listed(straights)}")
    return " and ".join(parts)


def _listed(names: Sequence[str]) -> str:
    if len(names) > NAMED_MOST:
        return f"{', '.join(names[:NAMED_MOST])} and {len(names) - NAMED_MOST} more"
    if len(names) == 1:
        return names[0]
    return f"{', '.join(names[:-1])} and {names[-1]}"


def describe_best_of_two(labels: tuple[str, str], where: tuple[str, str], change_s: float) -> str:
    """The best of two figures at once."""
    joined = f"{labels[0]} {where[0]} with {_lower(labels[1])} {where[1]}"
    if abs(change_s) < NOTHING_S:
        return f"{joined} is quickest, the same as the plan."
    word = "quicker" if change_s < 0.0 else "slower"
    return f"{joined} is quickest: {seconds(change_s)} {word} than the plan."


def describe_bound(where: tuple[str, str], cost_s: float) -> str:
    """What the limits cost."""
    return (
        f"Without the limits the best is {where[0]} with {where[1]}: the limits cost "
        f"{seconds(cost_s)}."
    )


def _lower(label: str) -> str:
    return label[:1].lower() + label[1:]


def describe_step(axis: Said, value: float | str, step: float | None, say: Saying) -> str:
    """A single change: "Final drive 0.05 lower", "Wing step: Step 5"."""
    if step is None or isinstance(value, str):
        return f"{axis.label}: {value}"
    size = abs(step)
    unit = axis.said_unit
    if axis.quantity not in PLAIN:
        kind: Kind = axis.quantity  # type: ignore[assignment]  # every other quantity is a kind
        size, unit = shown_difference(size, kind, say.units), f" {unit_of(kind, say.units)}"
    decimals = axis.decimals if round(size, axis.decimals) > 0.0 else axis.decimals + 2
    word = "more" if step > 0.0 else "less"
    return f"{axis.label} {size:.{decimals}f}{unit} {word}"


def describe_rival_speed(speed_ms: float, say: Saying) -> str:
    """A rival of whom only a speed is known."""
    return f"a rival at {say.speed(speed_ms)}"


def describe_over_session(
    choice: Sequence[str], mean_s: float, worst_s: float, moments: int
) -> str:
    """The best on average over a session's weather, and its worst lap of that."""
    return (
        f"Over {moments} moments of the forecasts {', '.join(choice)} is quickest on "
        f"average: {mean_s:.3f} s, {worst_s:.3f} s at the worst moment."
    )


def describe_next_change(
    what: str, gain_s: float, band: Range | None, laps: int | None, scatter_s: float
) -> str:
    """What to try next, alone, and how many laps it takes to see it."""
    if gain_s < NOTHING_S or laps is None:
        return "No single change that can be made before the next run gains time."
    worth = f"{seconds(gain_s)}"
    if band is not None and band.low > 0.0:
        worth += f" ({band.low:.3f} to {band.high:.3f})"
    count = "one lap" if laps == 1 else f"{laps} laps"
    return (
        f"Next change: {what}. Expected gain {worth}; with a lap-to-lap spread of "
        f"{scatter_s:.2f} s it takes {count} before and {laps} after to confirm it."
    )


def describe_best_of_all(choice: Sequence[str], change_s: float, tried: int, even: int) -> str:
    """The best of what a car has, among so many combinations, and how many are as good."""
    what = ", ".join(choice)
    if abs(change_s) < NOTHING_S:
        text = f"Of {tried} combinations none is quicker than the plan: {what}"
    else:
        word = "quicker" if change_s < 0.0 else "slower"
        text = (
            f"Of {tried} combinations {what} is quickest, {seconds(change_s)} {word} than the plan"
        )
    if even == 1:
        text += "; one other is as good"
    elif even > 1:
        text += f"; {even} others are as good"
    return f"{text}."


def describe_gears(name: str, change_s: float, top_rpm_pct: float) -> str:
    """The quickest gears, and how far the engine turns at the top speed with them."""
    revs = f"the engine turns {top_rpm_pct:.0f} % of its limit at the top speed"
    if abs(change_s) < NOTHING_S:
        return f"No gears are quicker than the plan's own; {revs}."
    word = "quicker" if change_s < 0.0 else "slower"
    return f"{name[:1].upper()}{name[1:]}: {seconds(change_s)} {word} than the plan; {revs}."


def describe_half_step(
    corners: Sequence[str], longer_s: float | None, shorter_s: float | None
) -> str:
    """Whether a gear is right for the corners it is driven in."""
    ways = [
        (change, word) for change, word in ((longer_s, "longer"), (shorter_s, "shorter")) if change
    ]
    where = f"in {_listed(corners)}" if corners else "not the lowest gear of any corner"
    if not ways:
        return where
    change, word = min(ways)
    if change > -WORTH_A_WORD_S:
        return f"{where}: right as it is"
    return f"{where}: half a step {word} gains {seconds(change)}"
