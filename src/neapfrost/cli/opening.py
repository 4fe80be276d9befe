"""What every command opens and how it ends: the store in its folder, and sentences."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NoReturn

import typer

from neapfrost.core.errors import InputRefused

if TYPE_CHECKING:
    from neapfrost.store.database import Store

Data = Annotated[Path, typer.Option(envvar="NEAPFROST_DATA", help="Folder for all saved data")]

PLAN_BYTES_MOST = 100 * 1024 * 1024


@contextmanager
def opened(data: Path, make: bool = True) -> "Iterator[Store]":
    """The store in a folder, made if need be; its trouble ends the command with a sentence."""
    from neapfrost.store.database import close_store, open_store
    from neapfrost.store.items import NotThere
    from neapfrost.store.trouble import StoreTrouble

    try:
        store = open_store(data, make)
        try:
            yield store
        finally:
            close_store(store)
    except (StoreTrouble, NotThere) as error:
        fail(error.sentence)


def read_given(path: Path) -> bytes:
    """A file's content, or standard input's for "-"; what cannot be read ends the command."""
    if str(path) == "-":
        return sys.stdin.buffer.read(PLAN_BYTES_MOST + 1)
    try:
        if path.stat().st_size > PLAN_BYTES_MOST:
            fail(f"{path}: larger than {PLAN_BYTES_MOST // 1024 // 1024} MB; no plan is")
        return path.read_bytes()
    except OSError as error:
        fail(f"{path}: cannot be read ({error.strerror})")


def refuse(error: InputRefused) -> NoReturn:
    for fault in error.faults:
        print(fault, file=sys.stderr)
    raise typer.Exit(2)


def fail(message: str) -> NoReturn:
    print(message, file=sys.stderr)
    raise typer.Exit(2)
