"""Files of points read in a process of its own, which has bounds and can be stopped at any moment.

A file from outside may ask for any amount of time and memory. The process is kept for the next
file; it is ended, and another begun, when a file takes too long, too much, or is not wanted.
"""

import logging
import os
import re
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Any

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.services.processes import live_with_parent

SECONDS_MOST = 40.0
#: What a file may take beyond what the process has once it is ready.
MEMORY_MOST_BYTES = 450 * 2**20
#: Files read at the same time; more wait for each other.
AT_ONCE = 2
LOOKED_EVERY_S = 0.1
#: A reader has loaded what it takes after so long at the most.
STARTS_MOST_S = 60.0

Tell = Callable[[int], None]
#: A task is told of its steps through its last parameter.
Task = Callable[..., Any]

TOO_MUCH = "the file needs more memory than is allowed; reduce its points or columns"
NO_ROAD = "no road fits these points; the points of one lap, in order, are expected"

log = logging.getLogger(__name__)


class InThisProcess:
    """Reads files where it is, without bounds."""

    def run(self, task: Task, *given: object, tell: Tell, wanted: Callable[[], bool]) -> Any:
        """What a task comes to. Raises InputRefused as it does."""
        del wanted
        return understood(task, *given, tell)

    def stop(self) -> None:
        """Nothing is left behind."""


@dataclass(eq=False)
class _Reader:
    process: BaseProcess
    pipe: Connection
    ready: bool = False


class InReaders:
    """Reads files in processes of their own, two at a time."""

    def __init__(
        self,
        load: Callable[[], None],
        seconds_most: float = SECONDS_MOST,
        memory_most_bytes: int = MEMORY_MOST_BYTES,
    ) -> None:
        """`load` loads, in each process, what its first file would, before memory is bounded."""
        self._load = load
        self._seconds_most, self._memory_most_bytes = seconds_most, memory_most_bytes
        self._places = threading.Semaphore(AT_ONCE)
        self._lock = threading.Lock()
        self._idle: list[_Reader] = []
        self._busy: set[_Reader] = set()

    def run(self, task: Task, *given: object, tell: Tell, wanted: Callable[[], bool]) -> Any:
        """What a task of a module comes to; `wanted` is asked whether anybody still waits.

        Raises InputRefused as the task does, where it goes beyond its bounds, and where it is
        stopped.
        """
        while not self._places.acquire(timeout=LOOKED_EVERY_S):
            if not wanted():
                raise stopped()
        try:
            answer = self._answered(task, given, tell, wanted)
        finally:
            self._places.release()
        if isinstance(answer, list):
            raise InputRefused(answer)
        return answer[0]

    def _answered(
        self, task: Task, given: tuple[object, ...], tell: Tell, wanted: Callable[[], bool]
    ) -> list[Fault] | tuple[Any]:
        """What a reader answers; it is kept where it did, and ended where anything else came."""
        reader = self._taken()
        try:
            reader.pipe.send((task, given))
            answer = self._heard(reader, tell, wanted)
        except BaseException:
            self._end(reader)
            raise
        with self._lock:
            self._busy.discard(reader)
            self._idle.append(reader)
        return answer

    def stop(self) -> None:
        """End all readers."""
        with self._lock:
            every = [*self._idle, *self._busy]
            self._idle.clear()
        for reader in every:
            self._end(reader)

    def _taken(self) -> _Reader:
        with self._lock:
            while self._idle:
                reader = self._idle.pop()
                if reader.process.is_alive():
                    self._busy.add(reader)
                    return reader
        context = get_context("spawn")
        here, there = context.Pipe()
        process = context.Process(
            target=_read_on,
            args=(there, self._load, self._memory_most_bytes, os.getpid()),
            daemon=True,
        )
        process.start()
        there.close()
        reader = _Reader(process, here)
        with self._lock:
            self._busy.add(reader)
        return reader

    def _heard(
        self, reader: _Reader, tell: Tell, wanted: Callable[[], bool]
    ) -> list[Fault] | tuple[Any]:
        # A file's time runs once its reader is there; one that is kept has said so long ago.
        deadline = time.monotonic() + (self._seconds_most if reader.ready else STARTS_MOST_S)
        while True:
            if not wanted():
                raise stopped()
            if time.monotonic() > deadline:
                raise InputRefused([Fault("", too_long(self._seconds_most))])
            if not reader.pipe.poll(LOOKED_EVERY_S):
                continue
            try:
                word, content = reader.pipe.recv()
            except (EOFError, OSError):
                raise InputRefused([Fault("", TOO_MUCH)]) from None
            if word == "ready":
                reader.ready = True
                deadline = time.monotonic() + self._seconds_most
            elif word == "step":
                tell(content)
            elif word == "refused":
                return [Fault(path, marked) for path, marked in content]
            else:
                return (content,)

    def _end(self, reader: _Reader) -> None:
        with self._lock:
            self._busy.discard(reader)
        reader.process.kill()
        reader.process.join()
        reader.pipe.close()


@dataclass(eq=False)
class Watch:
    """A file on its way: the step it has come to, and whether it is to stop."""

    step: int = 0
    stop: threading.Event = field(default_factory=threading.Event)

    def tell(self, step: int) -> None:
        """Note a step. Raises InputRefused where the file is to be stopped."""
        self.step = step
        if self.stop.is_set():
            raise stopped()


class Watches:
    """The files on their way that somebody watches, each under a name of its sender's choice."""

    def __init__(self) -> None:
        self._watched: dict[str, Watch] = {}

    @contextmanager
    def watching(self, name: str | None) -> Iterator[Watch]:
        """A file on its way, watched under a name as long as it is."""
        watch = Watch()
        if name is not None:
            self._watched[name] = watch
        try:
            yield watch
        finally:
            if name is not None:
                self._watched.pop(name, None)

    def step(self, name: str) -> int:
        """The step that a watched file has come to; the first before it begins."""
        return self._watched.get(name, Watch()).step

    def stop(self, name: str) -> None:
        """Stop a file on its way: at once in a process of its own, else at its next step."""
        if name in self._watched:
            self._watched[name].stop.set()


def too_long(seconds_most: float) -> str:
    """That a file was given up."""
    return (
        f"The file took longer than {seconds_most:.0f} s and was stopped: use a shorter file, or "
        "one lap of it."
    )


def stopped() -> InputRefused:
    """That a file was not wanted any more."""
    return InputRefused([Fault("import", "stopped; nothing of the file was saved")])


def understood(task: Task, *given: object) -> Any:
    """What a task comes to. Raises InputRefused for whatever else goes wrong in it as well."""
    try:
        return task(*given)
    except InputRefused:
        raise
    except MemoryError:
        raise InputRefused([Fault("", TOO_MUCH)]) from None
    except (ArithmeticError, LookupError, RuntimeError, TypeError, ValueError) as error:
        # A file from outside may hold what nobody thought of; whoever sent it gets a sentence.
        log.warning("a file could not be read", exc_info=error)
        raise InputRefused([Fault("", NO_ROAD)]) from None


def _read_on(
    pipe: Connection, load: Callable[[], None], memory_most_bytes: int, parent: int
) -> None:
    """In the process of its own: one task after the other."""
    live_with_parent(parent)
    load()
    _bound_memory(memory_most_bytes)
    pipe.send(("ready", None))
    while True:
        try:
            task, given = pipe.recv()
        except EOFError:
            return
        try:
            answer = ("done", understood(task, *given, lambda step: pipe.send(("step", step))))
        except InputRefused as refused:
            answer = ("refused", [(fault.path, fault.marked) for fault in refused.faults])
        pipe.send(answer)


def _bound_memory(beyond_bytes: int) -> None:
    """Let this process have so much more memory than it has.

    Where the system does not tell or does not bound it (macOS, Windows), files are read without
    that bound; the bounds on their size and on their time hold everywhere.
    """
    try:
        import resource

        status = Path("/proc/self/status").read_text(encoding="ascii")
    except (ImportError, OSError):
        log.info("memory of file readers is not bounded on this system")
        return
    has = re.search(r"VmData:\s+(\d+) kB", status)
    if has is not None:
        most = int(has[1]) * 1024 + beyond_bytes
        resource.setrlimit(resource.RLIMIT_DATA, (most, most))
