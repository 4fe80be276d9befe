"""What can go wrong with the file the work is kept in, said as sentences."""

from pathlib import Path

from sqlalchemy.exc import DBAPIError


class StoreTrouble(Exception):
    """The store cannot read or write; `sentence` says why, and what to do."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


#: What SQLite says, and what it means to a person.
_MEANINGS = (
    ("disk is full", "the disk is full; nothing of this change was saved. Make room and try again"),
    (
        "readonly database",
        "the file or its folder is read-only; nothing of this change was saved. Allow writing "
        "there "
        "or start with another data folder",
    ),
    (
        "unable to open database file",
        "the file cannot be opened; the folder must exist and allow writing",
    ),
    (
        "database is locked",
        "another program is writing to the file and has not let go of it; try again",
    ),
    (
        "disk i/o error",
        "the disk did not take the write; nothing of this change was saved. The disk may be full "
        "or "
        "failing",
    ),
    ("not a database", "the file is not one of Neapfrost's; move it away or name another folder"),
    ("malformed", "the file is damaged; put a backup in its place"),
)


def trouble_from(error: DBAPIError, path: Path) -> StoreTrouble:
    """Translate what the database driver raised about a file."""
    said = str(error.orig)
    for sign, meaning in _MEANINGS:
        if sign in said.lower():
            return StoreTrouble(f"{path}: {meaning}")
    return StoreTrouble(f"{path}: the database refused ({said})")
