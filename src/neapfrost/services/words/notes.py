"""What a reader of a lap should know before believing it, in sentences."""

from dataclasses import dataclass

from neapfrost.core.lap.facts import (
    FarAir,
    FuelBeyondTank,
    IdleGears,
    LapFact,
    LightCrest,
    PowerLimited,
    QuickReversals,
    SlowStart,
    StrayBraking,
    Unsettled,
    WeakBrakes,
)
from neapfrost.formats.plan import CircuitDocument
from neapfrost.formats.result import LineEnd
from neapfrost.services.words.lines import SENTENCES
from neapfrost.services.words.saying import Saying


@dataclass(frozen=True)
class NoLineYet:
    """A road on which no line has been computed."""


@dataclass(frozen=True)
class OpenRing:
    """A closed circuit whose end misses its start by more than a survey does [m]."""

    gap_m: float
    length_m: float


@dataclass(frozen=True)
class UnsettledLine:
    """A driven line that may not be what was looked for, and how the search for it ended."""

    ended: LineEnd


@dataclass(frozen=True)
class LostOrder:
    """Something asked for at a corner that the circuit does not have."""

    corner: str


@dataclass(frozen=True)
class GearNotDriven:
    """A gear asked for at a corner; None in `driven` where no gear is chosen there."""

    corner: str
    asked: int
    driven: int | None


Note = LapFact | OpenRing | NoLineYet | UnsettledLine | LostOrder | GearNotDriven


#: What the boards of a circuit count in, in words.
LENGTH_WORDS = {"m": "metres", "yd": "yards", "ft": "feet"}


def describe_boards(circuit: CircuitDocument, say: Saying) -> list[str]:
    """What boards count in, where that is not what distances are shown in."""
    if not circuit.boards or circuit.board_unit == say.unit("length"):
        return []
    return [
        f"Boards here count in {LENGTH_WORDS[circuit.board_unit]}; distances are in "
        f"{LENGTH_WORDS[say.unit('length')]}."
    ]


def describe_note(note: Note, say: Saying) -> str:
    """A note as a sentence."""
    match note:
        case LightCrest(at_m, share):
            return (
                f"Light over the crest at {say.length(at_m)}: {100 * share:.0f} % of the weight is "
                "left on the wheels there; settle before braking."
            )
        case IdleGears(gears):
            names = [f"{gear}" for gear in gears]
            if len(names) == 1:
                return f"Gear {names[0]} is never used."
            return f"Gears {', '.join(names[:-1])} and {names[-1]} are never used."
        case PowerLimited(corner):
            return (
                f"{corner} is limited by power: the engine cannot hold the speed that the tyres "
                "would allow there."
            )
        case WeakBrakes(at_m, given_n, possible_n):
            given, possible = (say.figure(one, "force", 1) for one in (given_n, possible_n))
            return (
                f"The brakes are too weak to reach the tyres' limit: {given} of {possible} at "
                f"{say.length(at_m)}."
            )
        case FuelBeyondTank(fuel_kg, tank_kg):
            return (
                f"{say.figure(fuel_kg, 'mass', 1)} of fuel is more than the tank's "
                f"{say.figure(tank_kg, 'mass', 1)}."
            )
        case StrayBraking(at_m):
            return (
                f"Braking at {say.length(at_m)} is not for a corner: a crest or a change of grip "
                "requires it."
            )
        case Unsettled():
            return "The flying lap has not settled exactly; the last iteration is shown."
        case SlowStart(wanted_ms, reached_ms):
            return (
                f"The start speed of {say.speed(wanted_ms, 1)} is more than the first metres "
                f"allow; the lap starts at {say.speed(reached_ms, 1)}."
            )
        case FarAir(factor, most):
            return (
                f"In this air the engine has {100 * factor:.0f} % of its stated torque: further "
                f"than the ± {100 * most:.0f} % for which the standard's correction is valid."
            )
        case QuickReversals(pairs, shortest_s):
            said = ", ".join(f"{first} to {second}" for first, second in pairs)
            return (
                f"Transition not modelled: {said} in as little as {shortest_s:.2f} s. The model "
                "changes direction at once; expect minimum speeds there 1 to 3 % lower."
            )
        case NoLineYet():
            return (
                "No line has been calculated on this road yet: the lap follows the middle, which "
                "is slower than any racing line."
            )
        case OpenRing(gap_m, length_m):
            return (
                f"The circuit does not close: its end misses its start by {say.length(gap_m)} of "
                f"{say.length(length_m)}. A corner may be missing, or an angle wrong; see the "
                "closure in the Circuit view."
            )
        case UnsettledLine(ended):
            return SENTENCES[ended]
        case LostOrder(corner):
            return f"An override is set at {corner}, which this circuit does not have."
        case GearNotDriven(corner, asked, driven):
            why = (
                "the throttle is not closed there, so no gear is chosen"
                if driven is None
                else f"shifts and revs allow {driven}"
            )
            return f"{corner}: gear {asked} is set and cannot be used; {why}."
