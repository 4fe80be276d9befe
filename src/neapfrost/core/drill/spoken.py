"""When what is said of a corner has to begin, so that it is said before it is needed."""

from collections.abc import Sequence

#: A person says so many words a second, and is done this long before the place.
WORDS_PER_S = 3.0
AHEAD_S = 1.2


def begins_s(needed_s: Sequence[float], words: Sequence[str], lap_s: float) -> tuple[float, ...]:
    """When each call begins [s]; in the order of the lap, before it where the first ones must.

    A call ends so long before its place, and none begins before the one ahead of it has ended:
    where corners follow closely it comes as soon as the one before has been said.
    """
    begins: list[float] = []
    free_s = -lap_s
    for at_s, said in zip(needed_s, words, strict=True):
        lasts = len(said.split()) / WORDS_PER_S
        begin = max(at_s - AHEAD_S - lasts, free_s)
        begins.append(begin)
        free_s = begin + lasts
    return tuple(begins)
