"""Logs beside the database: kept once, compressed, named by their content."""

import contextlib
import gzip
import hashlib
import os
import re
import time
import zlib
from pathlib import Path

from sqlalchemy import select

from neapfrost.store.database import Store, reading
from neapfrost.store.tables import RunRevision
from neapfrost.store.trouble import StoreTrouble

FOLDER, UNUSED, UNFINISHED = "logs", "unused", ".unfinished"
#: A file younger than this may be on its way into the database [s].
ON_ITS_WAY_S = 3_600.0
#: What nobody refers to is put aside for so long before it is deleted [s]: a backup of the database
#: that is put back may refer to it again.
ASIDE_S = 30 * 86_400.0


def keep_log(store: Store, data: bytes) -> str:
    """Keep a log; returns the hash of its content, under which it is found again.

    One that is there but damaged is written anew. Raises StoreTrouble where the folder cannot be
    written.
    """
    name = hashlib.sha256(data).hexdigest()
    path = _path(store, name)
    if _content(path) == data:
        return name
    unfinished = path.with_suffix(UNFINISHED)
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with unfinished.open("wb") as file:
            file.write(gzip.compress(data, 5, mtime=0))
            file.flush()
            os.fsync(file.fileno())
        unfinished.replace(path)
        _sync_folder(path.parent)
    except OSError as error:
        with contextlib.suppress(OSError):
            unfinished.unlink(missing_ok=True)
        raise StoreTrouble(f"{path.parent}: the log cannot be saved ({error.strerror})") from None
    return name


def kept_log(store: Store, name: str) -> bytes:
    """A kept log. Raises StoreTrouble where it is not there any more, or damaged."""
    path = _path(store, name)
    aside = path.parent / UNUSED / path.name
    if not path.is_file() and aside.is_file():
        with contextlib.suppress(OSError):
            aside.replace(path)
    if not path.is_file():
        raise StoreTrouble(f"{path}: the log of this run is not there any more")
    data = _content(path)
    if data is None or hashlib.sha256(data).hexdigest() != name:
        raise StoreTrouble(
            f"{path}: the log of this run is damaged; import the log again, or put a backup of "
            "the file in its place"
        )
    return data


def sweep_logs(store: Store) -> None:
    """Put aside logs that no revision of a run refers to, and delete what was never finished.

    What was put aside is deleted a month later. Trouble with the disk is left for whoever needs it.
    """
    folder = store.path.parent / FOLDER
    if not folder.is_dir():
        return
    now = time.time()
    with contextlib.suppress(OSError):
        for path in (folder / UNUSED).glob("*.csv.gz"):
            if now - path.stat().st_mtime > ASIDE_S:
                path.unlink()
        for path in folder.glob(f"*{UNFINISHED}"):
            if now - path.stat().st_mtime > ON_ITS_WAY_S:
                path.unlink()
        used = _used(store)
        for path in folder.glob("*.csv.gz"):
            old = now - path.stat().st_mtime > ON_ITS_WAY_S
            if old and path.name.removesuffix(".csv.gz") not in used:
                (folder / UNUSED).mkdir(exist_ok=True)
                path.replace(folder / UNUSED / path.name)
                os.utime(folder / UNUSED / path.name)


def _used(store: Store) -> set[str]:
    """The logs that any revision of any run refers to, damaged ones as well as they can be read."""
    found: set[str] = set()
    with reading(store) as session:
        for text in session.scalars(select(RunRevision.document)):
            found.update(re.findall(r'"log"\s*:\s*"([0-9a-f]{64})"', text))
    return found


def _content(path: Path) -> bytes | None:
    """What a kept file holds; None where it is not there or cannot be unpacked."""
    try:
        return gzip.decompress(path.read_bytes())
    except (OSError, EOFError, zlib.error):
        return None


def _sync_folder(folder: Path) -> None:
    """Make the folder's own entries last, where the system can."""
    if not hasattr(os, "O_DIRECTORY"):
        return
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _path(store: Store, name: str) -> Path:
    return store.path.parent / FOLDER / f"{name}.csv.gz"
