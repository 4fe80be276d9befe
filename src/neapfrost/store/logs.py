"""Logs beside the database: kept once, compressed, named by their content."""

import gzip
import hashlib
from pathlib import Path

from neapfrost.store.database import Store
from neapfrost.store.trouble import StoreTrouble

FOLDER = "logs"


def keep_log(store: Store, data: bytes) -> str:
    """Keep a log; returns the hash of its content, under which it is found again.

    Raises StoreTrouble where the folder cannot be written.
    """
    name = hashlib.sha256(data).hexdigest()
    path = _path(store, name)
    if path.is_file():
        return name
    unfinished = path.with_suffix(".unfinished")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        unfinished.write_bytes(gzip.compress(data, 5, mtime=0))
        unfinished.rename(path)
    except OSError as error:
        raise StoreTrouble(f"{path.parent}: the log cannot be kept ({error.strerror})") from None
    return name


def kept_log(store: Store, name: str) -> bytes:
    """A kept log. Raises StoreTrouble where it is not there any more, or damaged."""
    path = _path(store, name)
    try:
        data = gzip.decompress(path.read_bytes())
    except (OSError, EOFError, gzip.BadGzipFile):
        raise StoreTrouble(f"{path}: the log of this run is not there any more") from None
    if hashlib.sha256(data).hexdigest() != name:
        raise StoreTrouble(f"{path}: the log of this run is damaged")
    return data


def _path(store: Store, name: str) -> Path:
    return store.path.parent / FOLDER / f"{name}.csv.gz"
