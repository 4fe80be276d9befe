"""The SQLite file: opening, migrating, reading, writing, backing up."""

import contextlib
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, inspect
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from neapfrost.store.tables import Base
from neapfrost.store.trouble import StoreTrouble, trouble_from

FILE_NAME = "neapfrost.db"
BUSY_MS = 5000
#: What the file says of itself: "NFRT" in four bytes.
APPLICATION_ID = 0x4E465254
#: Tables that every store has had since the first; a file without them is somebody else's.
FIRST_TABLES = frozenset(
    ("alembic_version", "cars", "circuits", "plans", "car_revisions", "plan_revisions")
)
WRITES = "writes"  # execution option of a session that is going to write


@dataclass(frozen=True)
class Store:
    """An open store; its writers wait for their turn here, where SQLite's own wait starves them."""

    engine: Engine
    path: Path
    turn: threading.Lock = field(default_factory=threading.Lock, compare=False)


def open_store(folder: Path, make: bool = True) -> Store:
    """Open the store in a folder, making both if need be and wanted, and bring it up to date.

    Raises StoreTrouble when the file is not there and not to be made, cannot be used, is not one of
    Neapfrost's, is damaged, or was written by a newer Neapfrost.
    """
    path = folder / FILE_NAME
    if not make and not path.is_file():
        raise StoreTrouble(f"{path}: is not there; name the data folder with --data")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise StoreTrouble(f"{folder}: the folder cannot be made ({error.strerror})") from None
    _refuse_foreign(path)
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
        with store.turn, Session(engine) as session, session.begin():
            yield session
    except DBAPIError as error:
        raise trouble_from(error, store.path) from None


def back_up(store: Store, target: Path) -> None:
    """Copy the whole store into a new file while it may be in use. Raises StoreTrouble."""
    if target.exists():
        raise StoreTrouble(f"{target}: exists already; a backup never overwrites a file")
    # Under another name until it is whole: one that failed stands in nobody's way.
    unfinished = target.with_name(f".{target.name}.unfinished")
    try:
        unfinished.unlink(missing_ok=True)
        with (
            contextlib.closing(sqlite3.connect(store.path)) as source,
            contextlib.closing(sqlite3.connect(unfinished)) as copy,
        ):
            source.backup(copy)
            # One file, whole in itself: no write-ahead log beside it.
            copy.execute("PRAGMA journal_mode=DELETE")
        unfinished.rename(target)
    except (sqlite3.Error, OSError) as error:
        with contextlib.suppress(OSError):
            unfinished.unlink(missing_ok=True)
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
    config = _alembic()
    config.attributes["connection"] = connection
    script = ScriptDirectory.from_config(config)
    present = MigrationContext.configure(connection).get_current_revision()
    connection.rollback()
    if present != script.get_current_head():
        command.upgrade(config, "head")
    there = set(inspect(connection).get_table_names())
    missing = sorted(set(Base.metadata.tables) - there)
    if missing:
        raise StoreTrouble(
            f'{path}: is damaged, its table "{missing[0]}" is missing; put a backup in its place'
        )
    connection.rollback()
    connection.exec_driver_sql(f"PRAGMA application_id={APPLICATION_ID}")
    connection.commit()


def _alembic() -> Config:
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    return config


def _refuse_foreign(path: Path) -> None:
    """Refuse a file of another program or of a newer Neapfrost, or a damaged one.

    It is decided by what the file says of itself and by its tables, read only: nothing of a file
    that is refused is changed, not even how it keeps its journal.
    """
    if not path.is_file() or path.stat().st_size == 0:
        return
    try:
        address = f"{path.absolute().as_uri()}?mode=ro"
        with contextlib.closing(sqlite3.connect(address, uri=True)) as file:
            made_by = file.execute("PRAGMA application_id").fetchone()[0]
            tables = {row[0] for row in file.execute("SELECT name FROM sqlite_master")}
            sound = file.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
            revisions = []
            if "alembic_version" in tables:
                revisions = [row[0] for row in file.execute("SELECT * FROM alembic_version")]
    except sqlite3.DatabaseError as error:
        # What the engine says of it when it is opened is told in the same words as ever.
        if "not a database" in str(error) or "malformed" in str(error):
            raise trouble_from(DBAPIError("", None, error), path) from None
        return
    own = made_by == APPLICATION_ID or (made_by == 0 and tables >= FIRST_TABLES)
    if not own and (tables or made_by != 0):
        raise StoreTrouble(
            f"{path}: was made by another program; move it away or name another folder"
        )
    if not sound or (own and len(revisions) != 1):
        raise StoreTrouble(f"{path}: the file is damaged; put a backup in its place")
    known = {one.revision for one in ScriptDirectory.from_config(_alembic()).walk_revisions()}
    if not known.issuperset(revisions):
        raise StoreTrouble(
            f"{path}: was written by a newer Neapfrost; update the application to open it"
        )
