"""What every worker process starts with, and how a long task is cancelled."""

import os
import signal
import threading
import time
from collections.abc import Callable, MutableSequence
from dataclasses import dataclass

PARENT_LOOKED_FOR_S = 1.0
#: Long tasks that can be told apart at the same time.
TICKETS = 64

#: In a process of its own: numbers that it shares with its parent, one for each ticket.
_shared: MutableSequence[int] | None = None


@dataclass(frozen=True)
class Ticket:
    """A long task that may be ended from another process, as long as its number stands."""

    place: int
    number: int

    def stopped(self) -> bool:
        """Whether the task is not wanted any more; asked where it is done."""
        return _shared is not None and _shared[self.place] != self.number


def never_stopped() -> bool:
    """Of a task without a ticket."""
    return False


def stopped_by(ticket: Ticket | None) -> Callable[[], bool]:
    """How a task learns that it is not wanted any more."""
    return never_stopped if ticket is None else ticket.stopped


def begin_process(parent: int, shared: MutableSequence[int]) -> None:
    """At the start of a process that does long tasks: it ends with its parent."""
    global _shared  # what a process shares with its parent reaches it here and nowhere else
    _shared = shared
    live_with_parent(parent)


def live_with_parent(parent: int) -> None:
    """At the start of a process: it ends with its parent, however that one ends."""
    # Ctrl-C reaches every process of the terminal; the parent decides what becomes of it.
    signal.signal(signal.SIGINT, signal.SIG_IGN)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(PARENT_LOOKED_FOR_S)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
