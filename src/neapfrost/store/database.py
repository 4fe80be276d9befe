"""The SQLite file: opening, migrating, reading, writing, backing up."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from neapfrost.store.trouble import StoreTrouble, trouble_from

FILE_NAME = "neapfrost.db"
BUSY_MS = 5000
WRITES = "writes"  # execution option of a session that is going to write


@dataclass(frozen=True)
class Store:
    """An open store."""

    engine: Engine
    path: Path


def open_store(folder: Path) -> Store:
    """Open the store in a folder, making both if needed, and bring it up to date.

    Raises StoreTrouble when the file cannot be used or was written by a newer Neapfrost.
    """
    path = folder / FILE_NAME
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreTrouble(f"{folder}: the folder cannot be made ({error.strerror})") from None
    store = Store(_engine(path), path)
    try:
        with store.engine.connect().execution_options(**{WRITES: True}) as connection:
            _migrate(connection, path)
    except DBAPIError as error:
        store.engine.dispose()
        raise trouble_from(error, path) from None
    except StoreTrouble:
        store.engine.dispose()
        raise
    return store


def close_store(store: Store) -> None:
    """Close every connection."""
    store.engine.dispose()


@contextmanager
def reading(store: Store) -> Iterator[Session]:
    """A session that sees one state of the store."""
    try:
        with Session(store.engine) as session:
            yield session
    except DBAPIError as error:
        raise trouble_from(error, store.path) from None


@contextmanager
def writing(store: Store) -> Iterator[Session]:
    """A session that writes: all of it, on disk once the block ends, or nothing.

    It takes the file's write lock at once, so that what it reads is still so when it writes.
    """
    try:
        engine = store.engine.execution_options(**{WRITES: True})
        with Session(engine) as session, session.begin():
            yield session
    except DBAPIError as error:
        raise trouble_from(error, store.path) from None


def back_up(store: Store, target: Path) -> None:
    """Copy the whole store into a new file while it may be in use. Raises StoreTrouble."""
    if target.exists():
        raise StoreTrouble(f"{target}: exists already; a backup never overwrites a file")
    try:
        with sqlite3.connect(store.path) as source, sqlite3.connect(target) as copy:
            source.backup(copy)
            # One file, whole in itself: no write-ahead log beside it.
            copy.execute("PRAGMA journal_mode=DELETE")
        source.close()
        copy.close()
    except sqlite3.Error as error:
        raise StoreTrouble(f"{target}: the backup could not be written ({error})") from None


def now() -> datetime:
    """The present moment, UTC; stored without its zone."""
    return datetime.now(UTC).replace(tzinfo=None)


def _engine(path: Path) -> Engine:
    engine = create_engine(
        f"sqlite:///{path}", connect_args={"timeout": BUSY_MS / 1000, "check_same_thread": False}
    )

    @event.listens_for(engine, "connect")
    def prepare(connection: Any, _: Any) -> None:
        # The driver's own transaction handling is turned off; _begin says how one starts.
        connection.isolation_level = None
        cursor = connection.cursor()
        cursor.execute(f"PRAGMA busy_timeout={BUSY_MS}")
        cursor.execute("PRAGMA journal_mode=WAL")
        # An acknowledged change is on the disk, also after the power has gone.
        cursor.execute("PRAGMA synchronous=FULL")
        cursor.execute("PRAGMA foreign_keys=ON")
        cursor.close()

    @event.listens_for(engine, "begin")
    def begin(connection: Connection) -> None:
        writes = connection.get_execution_options().get(WRITES, False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine


def _migrate(connection: Connection, path: Path) -> None:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["connection"] = connection
    script = ScriptDirectory.from_config(config)
    present = MigrationContext.configure(connection).get_current_revision()
    connection.rollback()
    known = {revision.revision for revision in script.walk_revisions()}
    if present is not None and present not in known:
        raise StoreTrouble(
            f"{path}: was written by a newer Neapfrost; update the application to open it"
        )
    if present != script.get_current_head():
        command.upgrade(config, "head")
