"""What a little more is worth, and corners that are one, in sentences."""

from collections.abc import Sequence

from neapfrost.core.studies.linked import Complex, Trade
from neapfrost.core.studies.worth import Worth
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.words.saying import Saying

#: Ranks this far apart are a disagreement worth a word, among so many corners at the top.
APART, TOP = 3, 3


def describe_rankings(found: tuple[Worth, ...], names: list[str]) -> str:
    """Where time spent in a corner and exit carried out of it rank it otherwise."""
    if not found:
        return ""
    by_time = sorted(range(len(found)), key=lambda n: found[n].time_rank)
    by_exit = sorted(
        (n for n in range(len(found)) if found[n].exit_rank is not None),
        key=lambda n: found[n].exit_rank or 0,
    )
    if not by_exit:
        return ""
    if by_time[0] == by_exit[0]:
        lead = f"{names[by_time[0]]} matters most both ways"
    else:
        lead = (
            f"Most time is spent in {names[by_time[0]]}; exit speed matters most out of "
            f"{names[by_exit[0]]}"
        )
    apart = [
        n
        for n in by_exit[:TOP]
        if found[n].time_rank - (found[n].exit_rank or 0) >= APART and n != by_exit[0]
    ]
    if apart:
        lead += (
            "; "
            + ", ".join(names[n] for n in apart)
            + " as well matter more for exit speed than for time"
        )
    return f"{lead}."


def describe_complex(one: Complex, corners: Sequence[CornerResultPart], say: Saying) -> str:
    """Which corners are one, its tightest part, and where the throttle belongs."""
    names = [corner.name for corner in corners]
    joined = " and ".join(names[n] for n in one.corners)
    return (
        f"{joined} act as one corner: {names[one.tightest]} is the tightest part at "
        f"{say.speed(corners[one.tightest].min_speed_ms)}, and the throttle belongs after "
        f"{names[one.throttle_corner]}."
    )


def describe_trade(trade: Trade, found: Sequence[Worth], names: Sequence[str], say: Saying) -> str:
    """What driven radius given in one corner and taken in the next is worth."""
    per, unit = say.metres_per_length, say.length_unit
    first, second = names[trade.first], names[trade.second]
    if trade.first_s is None or trade.second_s is None or trade.break_even is None:
        return f"{first} and {second}: one of them cannot be priced on its own."
    text = (
        f"1 {unit} of driven radius given up in {first} costs {trade.first_s * per:.3f} s and "
        f"1 {unit} gained in {second} gains {trade.second_s * per:.3f} s: worth it from "
        f"{trade.break_even:.2f} {unit} gained per {unit} given up."
    )
    given, taken = found[trade.first], found[trade.second]
    if given.per_min_speed_s is not None and taken.per_min_speed_s is not None:
        text += (
            f" 1 {say.speed_unit} given up in {first} costs "
            f"{given.per_min_speed_s / say.per_speed:.3f} s, 1 {say.speed_unit} more in {second} "
            f"gains {taken.per_min_speed_s / say.per_speed:.3f} s."
        )
    return text
