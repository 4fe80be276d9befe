"""How the core says that it cannot compute something: by field, in sentences."""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from neapfrost.core.measures import said


@dataclass(frozen=True)
class Fault:
    """One thing wrong with an input: the field's path, and a sentence on what was expected.

    `marked` may hold figures that are said in a person's units; `message` has them in SI.
    """

    path: str
    marked: str

    @property
    def message(self) -> str:
        """The sentence in SI, as documents are written."""
        return said(self.marked)

    def __str__(self) -> str:
        return f"{self.path}: {self.message}" if self.path else self.message


class InputRefused(ValueError):
    """An input that no lap can be computed from; carries every fault found."""

    def __init__(self, faults: list[Fault]) -> None:
        super().__init__("\n".join(str(fault) for fault in faults))
        self.faults = faults


class LapImpossible(InputRefused):
    """A plan whose every field is allowed, but which the vehicle cannot drive to the end."""

    def __init__(self, path: str, message: str) -> None:
        super().__init__([Fault(path, message)])


def placed_in(part: str, faults: Iterable[Fault]) -> list[Fault]:
    """Faults of what is a part of something larger ("car"), by their path in the larger one."""
    return [Fault(".".join(filter(None, (part, fault.path))), fault.marked) for fault in faults]


@contextmanager
def refused_in(part: str) -> Iterator[None]:
    """What is refused inside is refused as that part of something larger."""
    try:
        yield
    except InputRefused as error:
        raise InputRefused(placed_in(part, error.faults)) from error
