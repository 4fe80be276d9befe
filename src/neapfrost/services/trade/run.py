"""One study while it is driven: laps a few at a time, and what it has come to, told as it comes.

Laps are driven in the processes that answer what-ifs, never more than those can take at once, so
that a figure stepped in between waits for a few laps and not for all of them.
"""

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, wait
from dataclasses import dataclass, field
from functools import partial
from typing import TypeVar

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import Units
from neapfrost.services.laps.solver_processes import Solvers, ready
from neapfrost.services.processes import Ticket
from neapfrost.services.trade.axes import Settings
from neapfrost.services.trade.laps import Basis, WeighedPlan, basis, draw_times, weigh

Index = TypeVar("Index")
Wanted = TypeVar("Wanted")
Answer = TypeVar("Answer")

#: So many laps are asked for at once: a what-if waits behind them.
LAPS_AT_ONCE = 3


class Cancelled(Exception):
    """The study is not wanted any more."""


@dataclass
class Run:
    """A study under way, for the course that drives it; `show` tells what it has come to.

    `show` raises Cancelled once the study is not wanted any more.
    """

    plan_json: str
    units: Units
    solvers: Solvers | None
    show: Callable[[dict[str, object]], None]
    wanted: Callable[[], bool]
    done: int = field(default=0)
    ticket: Ticket | None = field(init=False)

    def __post_init__(self) -> None:
        """Long tasks carry the ticket of the study, by which they end with it."""
        self.ticket = None if self.solvers is None else self.solvers.ticket()

    def tell(self, **changes: object) -> None:
        """What the study has come to, by the kind of study. Raises Cancelled."""
        self.show(changes)

    def count(self, **changes: object) -> None:
        """One more lap is driven, and what the study has come to with it. Raises Cancelled."""
        self.done += 1
        self.show({"done": self.done, **changes})

    def present(self) -> tuple[Basis, WeighedPlan]:
        """The plan's own lap. Raises InputRefused where it cannot be driven."""
        ((_, present),) = self.laps([(0, ())])
        if isinstance(present, str):
            raise InputRefused([Fault("plan", present)])
        return basis(self.plan_json), present

    def laps(
        self, wanted: Sequence[tuple[Index, Settings]]
    ) -> Iterator[tuple[Index, WeighedPlan | str]]:
        """The plan put in several ways, each weighed. Raises Cancelled."""
        return self.answers(partial(weigh, self.plan_json), wanted)

    def all_laps(self, wanted: Sequence[tuple[Index, Settings]]) -> dict[Index, WeighedPlan | str]:
        """As `laps`, all of them, counted as they come."""
        return self.gathered(partial(weigh, self.plan_json), wanted)

    def drawn(self, wanted: Sequence[tuple[Index, Settings]]) -> dict[Index, Floats]:
        """Lap times with what is uncertain drawn, of each way the plan is put."""
        return self.gathered(partial(draw_times, self.plan_json), wanted, at_once=1)

    def gathered(
        self,
        do: Callable[[Sequence[Wanted]], list[Answer]],
        wanted: Sequence[tuple[Index, Wanted]],
        at_once: int = LAPS_AT_ONCE,
    ) -> dict[Index, Answer]:
        """Every answer, counted as it comes. Raises Cancelled."""
        found: dict[Index, Answer] = {}
        for index, answer in self.answers(do, wanted, at_once):
            found[index] = answer
            self.count()
        return found

    def answers(
        self,
        do: Callable[[Sequence[Wanted]], list[Answer]],
        wanted: Sequence[tuple[Index, Wanted]],
        at_once: int = LAPS_AT_ONCE,
    ) -> Iterator[tuple[Index, Answer]]:
        """Answers as they come, of a few at a time. Raises Cancelled."""
        parts = [wanted[first : first + at_once] for first in range(0, len(wanted), at_once)]
        solvers = self.solvers
        if solvers is None or not ready(solvers):
            for part in parts:
                if not self.wanted():
                    raise Cancelled
                yield from zip([n for n, _ in part], do([s for _, s in part]), strict=True)
            return
        waiting: dict[Future[list[Answer]], Sequence[tuple[Index, Wanted]]] = {}
        at_most = len(solvers.warmed)
        while parts or waiting:
            if not self.wanted():
                for future in waiting:
                    future.cancel()
                if self.ticket is not None:
                    solvers.end(self.ticket)
                raise Cancelled
            while parts and len(waiting) < at_most:
                part = parts.pop(0)
                waiting[solvers.pool.submit(do, [s for _, s in part])] = part
            finished, _ = wait(waiting, timeout=0.5, return_when=FIRST_COMPLETED)
            for future in finished:
                part = waiting.pop(future)
                yield from zip([n for n, _ in part], future.result(), strict=True)


@dataclass(frozen=True)
class Course:
    """How a study is driven, and how many laps that is at the most."""

    laps: int
    drive: Callable[[Run], None]
