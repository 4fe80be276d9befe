"""Answers to what-ifs: kept for when they are asked again, some worked out before they are asked.

Whoever steps a figure will most likely step it again. While fewer wait for answers than there are
solver processes, one of these works out what comes next.
All of this is only touched by the event loop, between two of its turns.
"""

import asyncio
from collections import OrderedDict, deque
from collections.abc import Awaitable, Callable, Hashable, Sequence
from dataclasses import dataclass, field

from neapfrost.core.errors import Fault

Answer = str | list[Fault]
Work = Callable[[], Awaitable[Answer]]

#: So many answers are kept, some 120 KB each.
KEPT_MOST = 48


@dataclass
class Answers:
    """Answers by what was asked, the last asked last; how many wait, and what is foreseen.

    `processes` answer at once; none stands for an application that works nothing out ahead.
    """

    processes: int = 0
    kept: OrderedDict[Hashable, "asyncio.Future[Answer]"] = field(default_factory=OrderedDict)
    awaited: int = 0
    foreseen: deque[tuple[Hashable, Work]] = field(default_factory=deque)
    ahead: "asyncio.Future[Answer] | None" = None


async def answer_to(answers: Answers, asked: Hashable, work: Work) -> Answer:
    """The answer to what is asked: the one kept or under way, else what the work comes to.

    Raises what the work raises; nothing is kept then.
    """
    under_way = answers.kept.get(asked) or _begun(answers, asked, work)
    answers.kept.move_to_end(asked)
    answers.awaited += 1
    try:
        # Others may wait for the same answer: who goes away does not end it.
        return await asyncio.shield(under_way)
    finally:
        answers.awaited -= 1
        _work_ahead(answers)


def foresee(answers: Answers, coming: Sequence[tuple[Hashable, Work]]) -> None:
    """Work out what will most likely be asked, one after the other, as long as a process is free.

    What was foreseen before and has not been begun is forgotten.
    """
    answers.foreseen = deque(coming)
    _work_ahead(answers)


def _begun(answers: Answers, asked: Hashable, work: Work) -> "asyncio.Future[Answer]":
    under_way = asyncio.ensure_future(work())
    answers.kept[asked] = under_way
    while len(answers.kept) > KEPT_MOST:
        answers.kept.popitem(last=False)

    def ended(done: "asyncio.Future[Answer]") -> None:
        failed = done.cancelled() or done.exception() is not None
        # What was pushed out meanwhile may have been asked, and begun, once more.
        if failed and answers.kept.get(asked) is done:
            del answers.kept[asked]

    under_way.add_done_callback(ended)
    return under_way


def _work_ahead(answers: Answers) -> None:
    if answers.awaited >= answers.processes or answers.ahead is not None:
        return
    while answers.foreseen:
        asked, work = answers.foreseen.popleft()
        if asked not in answers.kept:
            answers.ahead = _begun(answers, asked, work)
            answers.ahead.add_done_callback(lambda _: _ahead_is_done(answers))
            return


def _ahead_is_done(answers: Answers) -> None:
    answers.ahead = None
    _work_ahead(answers)
