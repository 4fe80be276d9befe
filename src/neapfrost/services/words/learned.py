"""What a fit says, in words: figures, what cannot be told apart, the driver, the working."""

from collections.abc import Sequence

from neapfrost.core.learned.conclusions import (
    SIGNIFICANT,
    Claim,
    Degradation,
    DriverLearnt,
    Learnt,
    Misfit,
    TimePart,
    Together,
)
from neapfrost.core.learned.figures import WINDS
from neapfrost.core.learned.fit import Posterior
from neapfrost.core.learned.lack_of_fit import Lack
from neapfrost.core.studies.bands import TEN_TO_NINETY
from neapfrost.services.words.saying import Saying

#: What each unknown is called.
LABELS = {
    "grip": "Grip",
    "along": "Longitudinal grip",
    "downforce": "Downforce",
    "drag": "Drag",
    "power": "Power",
    "mass": "Mass",
    "wind_north": "Wind from the north",
    "wind_east": "Wind from the east",
    "use": "driver margin in corners",
    "brakes": "driver braking effort",
    "day": "track grip of the day",
    "degrades": "tyre degradation",
}
#: Why two of them go together, and what would separate them.
WHY = {
    frozenset(("grip", "use")): (
        "a driver who leaves a little margin everywhere looks like a road with a little less "
        "grip; only another driver, or a lap known to be at the limit, separates them"
    ),
    frozenset(("grip", "degrades")): (
        "both lower the speeds of later laps; a longer stint, or a run on new tyres, separates them"
    ),
    frozenset(("grip", "downforce")): (
        "both set cornering speed; slow and fast corners together separate them, and these are "
        "too few or too alike"
    ),
    frozenset(("power", "mass")): ("both set acceleration; weigh the car and the power follows"),
    frozenset(("power", "drag")): (
        "both set acceleration; a long straight near top speed separates them"
    ),
    frozenset(("along", "brakes")): (
        "a driver who brakes less than they could looks like less grip along; one full-effort "
        "stop, or locked wheels, separates them"
    ),
    frozenset(("drag", "wind_north")): "a straight each way separates drag from wind",
    frozenset(("drag", "wind_east")): "a straight each way separates drag from wind",
    frozenset(("grip", "day")): "only more days separate the circuit from the day",
}
CAUSES = {"surface": "grip", "car": "the car", "wind": "the wind", "driver": "the driver"}
CLAIMS: dict[Claim, str] = {
    "otherwise": "differs",
    "perhaps": "may differ",
    "as_stated": "as entered",
    "unknown": "cannot show it",
}
SOURCES = {"held": "the speed in", "pull": "the acceleration out of", "stop": "the braking for"}
#: A corner whose speed the fit leaves this far off is named [m/s].
LEFT_SAID_MS = 0.4
#: Seconds are certain from so many times their half-width on: chance once in a hundred.
SURE_WITHIN = SIGNIFICANT / TEN_TO_NINETY


def describe_value(name: str, value: float, within: float, say: Saying) -> str:
    """A figure's change and its interval: "4.2 ± 1.8 % less"."""
    if name in WINDS:
        word = "more" if value >= 0.0 else "less"
        return f"{say.wind(abs(value))} {word}, ± {say.wind(within)}"
    word = "more" if value >= 0.0 else "less"
    return f"{100.0 * abs(value):.1f} ± {100.0 * within:.1f} % {word}"


def describe_claim(one: Learnt) -> str:
    """A figure's claim in a word or two."""
    return CLAIMS[one.claim] + (", contradicts" if one.contradicts else "")


def describe_figure(one: Learnt, say: Saying) -> str:
    """What is said of a figure after a fit."""
    said = describe_value(one.name, one.value, one.within, say)
    stated = (
        f"± {say.wind(one.stated_within)}"
        if one.name in WINDS
        else f"± {100.0 * one.stated_within:.1f} %"
    )
    if one.claim == "unknown":
        return f"No better than the entered value ({stated}): these laps cannot show it."
    sources = ", ".join(f"{SOURCES[source.kind]} {source.corner}" for source in one.sources)
    told = f" Mostly from {sources}." if sources else ""
    if one.claim == "as_stated":
        return f"As entered, within the band: {said}; before {stated}.{told}"
    if one.claim == "perhaps":
        return f"May differ from the entered value: {said}; before {stated}.{told}"
    against = (
        " This contradicts the entered value: check the sheet, or what changed."
        if one.contradicts
        else ""
    )
    return f"Differs from the entered value: {said}; before {stated}.{told}{against}"


def together_told(pairs: Sequence[Together]) -> list[str]:
    """What cannot be separated, and why."""
    told = []
    for pair in pairs:
        one, other = (LABELS[name] for name in (pair.one, pair.other))
        why = WHY.get(frozenset((pair.one, pair.other)))
        reason = f": {why}" if why else ""
        told.append(
            f"{one} and {other[0].lower()}{other[1:]} cannot be separated "
            f"({pair.correlation:+.2f}){reason}."
        )
    return told


def describe_part(part: TimePart) -> str:
    """Seconds of a lap by their cause: "grip: 0.42 ± 0.20 s slower"."""
    word = "slower" if part.time_s >= 0.0 else "quicker"
    sure = "" if abs(part.time_s) > SURE_WITHIN * part.within_s else "; could be zero"
    return f"{CAUSES[part.cause]}: {abs(part.time_s):.2f} ± {part.within_s:.2f} s {word}{sure}"


def describe_fit(
    figures: Sequence[Learnt], misfits: Sequence[Misfit], laps: int, runs: int, say: Saying
) -> list[str]:
    """The fit in short: what was wrong and by how much, what is known better, what is left."""
    wrong = [one for one in figures if one.claim == "otherwise"]
    plural = "run" if runs == 1 else "runs"
    said = [f"From {laps} laps of {runs} {plural}: nothing differs from the entered values."]
    if wrong:
        told = "; ".join(
            f"{LABELS[one.name].lower()} {describe_value(one.name, one.value, one.within, say)}"
            for one in wrong
        )
        said = [f"From {laps} laps of {runs} {plural}, different from the entered values: {told}."]
    perhaps = [one for one in figures if one.claim == "perhaps"]
    if perhaps:
        told = "; ".join(
            f"{LABELS[one.name].lower()} {describe_value(one.name, one.value, one.within, say)}"
            for one in perhaps
        )
        said.append(f"May differ, not yet certain: {told}.")
    unknown = [LABELS[one.name].lower() for one in figures if one.claim == "unknown"]
    if unknown:
        said.append(f"These laps cannot show: {', '.join(unknown)}.")
    if runs > 1:
        said.append("Each run has its own wind; the one shown is the last run's.")
    if misfits:
        before, after = (
            (sum(getattr(one, name) ** 2 for one in misfits) / len(misfits)) ** 0.5
            for name in ("before_ms", "after_ms")
        )
        said.append(
            f"Speeds at the plan's minimum-speed points were {say.speed(before, 1)} off the "
            "plan, and "
            f"are {say.speed(after, 1)} off after the fit."
        )
    left = [one for one in misfits if abs(one.after_ms) >= LEFT_SAID_MS]
    if left:
        told = ", ".join(
            f"{one.corner} {say.speed(abs(one.after_ms), 1)} "
            f"{'higher' if one.after_ms > 0.0 else 'lower'}"
            for one in sorted(left, key=lambda one: -abs(one.after_ms))[:3]
        )
        said.append(f"Unexplained: {told} than the fitted model; check the radius and the line.")
    return said


def describe_driver(driver: DriverLearnt) -> list[str]:
    """What a fit says of the driver."""

    def share(value: float, within: float) -> str:
        return f"{100.0 * value:.1f} ± {100.0 * within:.1f} %"

    first, within = driver.lacks[0]
    return [
        f"Leaves {share(driver.unused, driver.unused_within)} of the grip unused in corners once "
        "the circuit is learnt; this depends most on the assumed driver.",
        f"Leaves {share(driver.brakes_unused, driver.brakes_unused_within)} of the brakes unused.",
        f"On the first lap {share(first, within)} of the grip was still unused; two thirds of it "
        f"came by {driver.settles_laps:.1f} laps.",
    ]


def describe_degradation(tyre: Degradation, compound: str) -> str:
    """How a run's tyres degrade: fitted against stated, or that the laps cannot show it."""
    fitted = f"{100.0 * tyre.share:.2f} ± {100.0 * tyre.within:.2f} % of the grip per lap"
    of = f" of {compound}" if compound else ""
    entered = f"{100.0 * tyre.stated:.2f} %" + (" entered" if compound else " assumed")
    if not tyre.known:
        return (
            f"Degradation{of} cannot be separated from grip by these laps ({fitted}): a longer "
            "stint, or a run on new tyres, would separate them."
        )
    differs = "differs from" if tyre.differs else "agrees with"
    return f"Degradation{of}: {fitted}, which {differs} the {entered}."


def describe_lack(lack: Lack, say: Saying) -> str:
    """What no values of the figures describe, and what to check."""
    if lack.of == "pulls":
        return (
            f"These figures do not describe this car: acceleration still differs by "
            f"{lack.size:.2f} m/s² at the same places on every lap. Check the torque curve, the "
            "gear ratios and the grades of the straights; the bands are not valid."
        )
    if lack.of == "speeds":
        return (
            "These figures do not describe this car: speeds at the plan's minimum-speed points are "
            f"further off than before the fit ({say.speed(lack.size, 1)}). Check the car and the "
            "circuit's radii; the bands are not valid."
        )
    return (
        f"These figures do not describe this car: the best lap is {lack.size:.2f} s quicker than "
        "they allow at the limit. Check the car, the circuit and the laps; the bands are not valid."
    )


def describe_working(found: Posterior) -> list[str]:
    """How the figures were found, with this fit's own numbers."""
    rows = found.rows
    held, pull, stop = (len(rows.of(kind)) for kind in ("held", "pull", "stop"))
    scatter, spread = found.scatter, found.spread
    return [
        f"{held} grip-limited speeds, each the mean beside the plan's minimum-speed point, so "
        "that noise does not lower it; the model's lap is measured in the same way.",
        f"{pull} full-throttle accelerations in one gear, and {stop} straight-line brakings: "
        "measured acceleration from the speeds at their ends, against the model's at the same "
        "speeds and places.",
        "The inertia of wheels and engine is taken as entered. Only accelerations in different "
        "gears could separate it from the power: the engine's part falls with the square of the "
        "ratio.",
        "The lap is calculated with each figure a little higher and a little lower; the fit "
        "minimises the sum of squared residuals, each over its spread, and of the changes, each "
        "over its entered band. A residual beyond twice its spread counts less and less, as "
        "mistakes and traffic should.",
        f"Spread found: {100.0 * scatter['held']:.2f} % of a cornering speed, "
        f"{scatter['pull']:.3f} m/s² of an acceleration, {100.0 * scatter['stop']:.1f} % of a "
        "braking.",
        f"Corners vary by {100.0 * spread['corner']:.2f} % of speed (radius and "
        f"line), laps by {100.0 * spread['lap']:.2f} % of grip, straights by "
        f"{spread['straight']:.3f} m/s² (grade).",
        f"The model was linearised around the answer {len(found.shows)} time"
        f"{'s' if len(found.shows) > 1 else ''} again; bands are 80 % bands of the least-squares "
        "fit with its priors. A figure is said to differ "
        "where chance would do it in one case of a hundred.",
    ]
