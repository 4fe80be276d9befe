"""The file: opened, migrated, backed up, and what is said when the disk will not have it."""

import contextlib
import sqlite3
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from sqlalchemy import event, text

import neapfrost.store.database as database
from neapfrost.store.database import (
    FILE_NAME,
    Store,
    back_up,
    close_store,
    open_store,
    reading,
    writing,
)
from neapfrost.store.drill import CardContent, Learner, drivers_of, list_cards, put_card
from neapfrost.store.items import (
    Content,
    NotThere,
    add_item,
    get_document,
    get_plan,
    list_items,
    plans_using,
    revise,
    users_of,
)
from neapfrost.store.tables import Base, Plan, Run
from neapfrost.store.trouble import StoreTrouble

CAR = {"vehicle_kind": "car", "mass_kg": 700.0, "peak_power_kw": 200.0}
OLD_COLUMNS = (
    ("cars", "vehicle_kind, mass_kg, peak_power_kw"),
    ("circuits", "length_m, corner_count, closed"),
    ("conditions", "air_temp_c, wind_speed_ms, wetness_pct"),
    ("plans", "car_id, circuit_id, conditions_id"),
)
MIGRATIONS = Path(database.__file__).parent / "migrations"


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    store = open_store(tmp_path)
    yield store
    close_store(store)


def car(name: str, mass_kg: float = 700.0) -> Content:
    return Content(name, {"name": name, "mass_kg": mass_kg}, {**CAR, "mass_kg": mass_kg})


def migrate(path: Path, target: str) -> None:
    """Bring a file to some revision of the schema, as an older application would have left it."""
    engine = database._engine(path)
    with engine.connect() as connection:
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["connection"] = connection
        command.upgrade(config, target)
    engine.dispose()


def test_a_new_file_keeps_what_it_acknowledges(store: Store) -> None:
    with store.engine.connect() as connection:
        pragmas = {
            name: connection.exec_driver_sql(f"PRAGMA {name}").scalar()
            for name in ("journal_mode", "foreign_keys", "synchronous", "busy_timeout")
        }
    assert pragmas == {
        "journal_mode": "wal",
        "foreign_keys": 1,
        "synchronous": 2,
        "busy_timeout": 5000,
    }


def test_the_migrations_make_the_tables_that_the_code_means(store: Store) -> None:
    with store.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_rows_from_before_the_steps_are_still_there_after_the_migration(tmp_path: Path) -> None:
    path = tmp_path / database.FILE_NAME
    migrate(path, "0001")
    with sqlite3.connect(path) as old:
        moment = "2026-01-02 03:04:05.000000"
        for table, columns in OLD_COLUMNS:
            old.execute(
                f"INSERT INTO {table} (id, name, newest, made_at, changed_at, {columns})"
                f" VALUES (1, 'Old {table}', 1, '{moment}', '{moment}', 1, 1, 1)"
            )
        old.execute(
            "INSERT INTO car_revisions (item_id, number, document, content_hash, remark, made_at)"
            f" VALUES (1, 1, '{{\"name\": \"Old cars\"}}', 'h', 'Made', '{moment}')"
        )
    old.close()
    store = open_store(tmp_path)
    with reading(store) as session:
        assert [item.name for item in list_items(session, "plan")] == ["Old plans"]
        assert list_items(session, "plan")[0].baseline is None  # type: ignore[attr-defined]
        assert get_document(session, "car", 1) == {"name": "Old cars"}
        assert session.execute(text("SELECT count(*) FROM plan_steps")).scalar() == 0
    close_store(store)
    again = open_store(tmp_path)
    close_store(again)


def test_plans_from_before_the_weather_keep_their_steps_and_have_none(tmp_path: Path) -> None:
    path = tmp_path / database.FILE_NAME
    migrate(path, "0002")
    moment = "2026-01-02 03:04:05.000000"
    with sqlite3.connect(path) as old:
        for table, columns in OLD_COLUMNS:
            old.execute(
                f"INSERT INTO {table} (id, name, newest, made_at, changed_at, {columns})"
                f" VALUES (1, 'Old {table}', 1, '{moment}', '{moment}', 1, 1, 1)"
            )
        old.execute(
            "INSERT INTO plan_steps (plan_id, state, label, kind, item_id, before, after, car,"
            " circuit, conditions, plan, made_at)"
            f" VALUES (1, 'done', 'Made', 'plan', 1, 0, 1, 1, 1, 1, 1, '{moment}')"
        )
    old.close()
    store = open_store(tmp_path)
    with writing(store) as session:
        (plan,) = list_items(session, "plan")
        assert isinstance(plan, Plan)
        assert plan.weather_id is None
        assert session.execute(text("SELECT label FROM plan_steps")).scalar() == "Made"
        searched_by = {"begins_at": "2031-05-17T09:00", "reading_count": 3, "weather_count": 0}
        plan.weather_id = add_item(session, "weather", Content("Day", {}, searched_by), "Created")
    with reading(store) as session:
        assert [plan.name for plan in plans_using(session, "weather", 1)] == ["Old plans"]
    close_store(store)


def test_plans_from_before_the_logbook_have_no_run(tmp_path: Path) -> None:
    path = tmp_path / database.FILE_NAME
    migrate(path, "0003")
    store = open_store(tmp_path)
    columns = {
        "circuit": "Fen",
        "car": "K",
        "driven_at": "2031-05-17T10:00:00",
        "lap_count": 3,
        "best_lap_s": None,
    }
    with writing(store) as session:
        assert list_items(session, "run") == []
        add_item(session, "run", Content("Run", {"name": "Run"}, columns), "Read")
    with reading(store) as session:
        assert plans_using(session, "run", 1) == []
        assert users_of(session, "run") == {}
        assert get_document(session, "run", 1) == {"name": "Run"}
    close_store(store)


def test_runs_from_before_events_stay_and_belong_to_none(tmp_path: Path) -> None:
    path = tmp_path / database.FILE_NAME
    migrate(path, "0004")
    moment = "2026-01-02 03:04:05.000000"
    with sqlite3.connect(path) as old:
        old.execute(
            "INSERT INTO runs (id, name, newest, made_at, changed_at, circuit, car, driven_at,"
            f" lap_count, best_lap_s) VALUES (1, 'Old run', 1, '{moment}', '{moment}', 'Fen', 'K',"
            " '2031-05-17T10:00:00', 3, 92.5)"
        )
        old.execute(
            "INSERT INTO run_revisions (item_id, number, document, content_hash, remark, made_at)"
            f" VALUES (1, 1, '{{}}', 'x', 'Read', '{moment}')"
        )
    old.close()
    store = open_store(tmp_path)
    with writing(store) as session:
        (run,) = list_items(session, "run")
        assert isinstance(run, Run)
        assert (run.name, run.best_lap_s, run.event_id, run.session) == (
            "Old run",
            92.5,
            None,
            None,
        )
        assert get_document(session, "run", 1) == {}
        held = {"circuit": "Fen", "held_on": "2031-05-17"}
        run.event_id = add_item(session, "event", Content("Spring", {}, held), "Created")
        run.session = 1
        taught = {"plan_id": None, "circuit": "Fen", "car": "K"}
        add_item(session, "fit", Content("Fit", {"of": [1]}, taught), "Created")
    with reading(store) as session:
        assert [one.name for one in list_items(session, "event")] == ["Spring"]
        assert get_document(session, "fit", 1) == {"of": [1]}
    close_store(store)


def test_plans_from_before_the_drill_are_known_by_nobody(tmp_path: Path) -> None:
    migrate(tmp_path / database.FILE_NAME, "0005")
    moment = "2026-01-02 03:04:05.000000"
    with sqlite3.connect(tmp_path / database.FILE_NAME) as old:
        for kind, columns, values in (
            ("cars", "vehicle_kind, mass_kg, peak_power_kw", "'car', 700, 150"),
            ("circuits", "length_m, corner_count, closed", "2400, 9, 1"),
            ("conditions", "air_temp_c, wind_speed_ms, wetness_pct", "17, 2, 0"),
            ("plans", "car_id, circuit_id, conditions_id, follows_station", "1, 1, 1, 0"),
        ):
            old.execute(
                f"INSERT INTO {kind} (id, name, newest, made_at, changed_at, {columns})"
                f" VALUES (1, 'Old', 1, '{moment}', '{moment}', {values})"
            )
    old.close()
    store = open_store(tmp_path)
    learner = Learner(1, "Wren", "plan")
    with writing(store) as session:
        assert get_plan(session, 1).name == "Old"
        assert list_cards(session, learner) == []
        content = CardContent("{}", "{}", True, datetime(2026, 3, 2))
        for _ in range(2):
            put_card(session, learner, "Fen", "brake", content)
        put_card(session, Learner(1, "", "plan"), "Fen", "brake", content)
    with reading(store) as session:
        assert [(card.corner, card.answers) for card in list_cards(session, learner)] == [
            ("Fen", 2)
        ]
        assert drivers_of(session, 1) == []
    close_store(store)


def test_a_file_from_a_newer_application_is_refused(tmp_path: Path) -> None:
    close_store(open_store(tmp_path))
    with sqlite3.connect(tmp_path / database.FILE_NAME) as file:
        file.execute("UPDATE alembic_version SET version_num = '9999'")
    file.close()
    with pytest.raises(StoreTrouble, match="written by a newer Neapfrost; update the application"):
        open_store(tmp_path)


def test_a_file_that_is_no_database_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / database.FILE_NAME
    path.write_bytes(b"these are my notes, not a database at all\n" * 200)
    before = path.read_bytes()
    with pytest.raises(StoreTrouble, match="not one of Neapfrost's"):
        open_store(tmp_path)
    assert path.read_bytes() == before


def test_a_folder_that_cannot_be_made_is_named() -> None:
    with pytest.raises(StoreTrouble, match=r"^/proc/none: the folder cannot be made"):
        open_store(Path("/proc/none"))


def test_a_full_disk_gets_a_sentence_and_keeps_what_was_there(store: Store) -> None:
    with writing(store) as session:
        item = add_item(session, "car", car("Kept"), "Created")
    pages = 0
    with store.engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar() or 0

    def no_more_pages(connection: sqlite3.Connection, _: object) -> None:
        connection.execute(f"PRAGMA max_page_count={pages + 2}")

    event.listen(store.engine, "connect", no_more_pages)
    store.engine.dispose()  # the next connection is a new one, on a disk without room
    large = Content("Kept", {"name": "Kept", "note": "x" * 500_000}, CAR)
    with (
        pytest.raises(StoreTrouble, match="the disk is full; nothing of this change was saved"),
        writing(store) as session,
    ):
        revise(session, "car", item, large, "Too much")
    with reading(store) as session:
        assert get_document(session, "car", item) == {"name": "Kept", "mass_kg": 700.0}


def test_a_read_only_file_gets_a_sentence(store: Store) -> None:
    def read_only(connection: sqlite3.Connection, _: object) -> None:
        connection.execute("PRAGMA query_only=ON")

    event.listen(store.engine, "connect", read_only)
    store.engine.dispose()
    with (
        pytest.raises(StoreTrouble, match="read-only; nothing of this change was saved"),
        writing(store) as session,
    ):
        add_item(session, "car", car("New"), "Created")


def test_a_file_that_another_program_holds_gets_a_sentence(
    store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    def impatient(connection: sqlite3.Connection, _: object) -> None:
        connection.execute("PRAGMA busy_timeout=10")

    event.listen(store.engine, "connect", impatient)
    store.engine.dispose()
    other = sqlite3.connect(store.path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    with (
        pytest.raises(StoreTrouble, match="another program is writing"),
        writing(store) as session,
    ):
        add_item(session, "car", car("New"), "Created")
    other.execute("ROLLBACK")
    other.close()


def test_a_backup_is_whole_and_never_overwrites(store: Store, tmp_path: Path) -> None:
    with writing(store) as session:
        add_item(session, "car", car("Kept"), "Created")
    folder = tmp_path / "elsewhere"
    folder.mkdir()
    target = folder / database.FILE_NAME
    back_up(store, target)
    assert [path.name for path in folder.iterdir()] == [database.FILE_NAME]
    copy = open_store(folder)
    with reading(copy) as session:
        assert [item.name for item in list_items(session, "car")] == ["Kept"]
    close_store(copy)
    with pytest.raises(StoreTrouble, match="exists already; a backup never overwrites"):
        back_up(store, target)
    with pytest.raises(StoreTrouble, match="the backup could not be written"):
        back_up(store, tmp_path / "no such folder" / "file.db")


def test_nothing_of_a_failed_write_remains(store: Store) -> None:
    def half_a_write() -> None:
        with writing(store) as session:
            add_item(session, "car", car("Half"), "Created")
            raise RuntimeError("mid-corner")

    with pytest.raises(RuntimeError, match="mid-corner"):
        half_a_write()
    with reading(store) as session:
        assert list_items(session, "car") == []


def test_what_is_not_there_is_said_by_kind_and_number(store: Store) -> None:
    with reading(store) as session, pytest.raises(NotThere, match="no car 7"):
        get_document(session, "car", 7)
    with writing(store) as session:
        item = add_item(session, "car", car("One"), "Created")
        with pytest.raises(NotThere, match=f"no revision 4 of car {item}"):
            get_document(session, "car", item, 4)


def foreign_file(path: Path, *statements: str) -> bytes:
    with contextlib.closing(sqlite3.connect(path)) as file:
        for statement in statements:
            file.execute(statement)
        file.commit()
    return path.read_bytes()


@pytest.mark.parametrize(
    ("statements", "said"),
    [
        (
            ("CREATE TABLE alembic_version (version_num TEXT)", "CREATE TABLE photos (name TEXT)"),
            "made by another program",
        ),
        (
            ("CREATE TABLE plans (name TEXT)", "CREATE TABLE cars (name TEXT)"),
            "made by another program",
        ),
        (("PRAGMA application_id=7",), "made by another program"),
    ],
)
def test_a_file_of_another_program_is_never_written_to(
    tmp_path: Path, statements: tuple[str, ...], said: str
) -> None:
    path = tmp_path / FILE_NAME
    before = foreign_file(path, *statements)
    with pytest.raises(StoreTrouble, match=said):
        open_store(tmp_path)
    assert path.read_bytes() == before
    assert [one.name for one in tmp_path.iterdir()] == [FILE_NAME]


@pytest.mark.parametrize(
    ("statement", "said"),
    [
        ("UPDATE alembic_version SET version_num = '9999'", "written by a newer Neapfrost"),
        ("INSERT INTO alembic_version VALUES ('0001')", "the file is damaged"),
        ("DELETE FROM alembic_version", "the file is damaged"),
    ],
)
def test_a_file_that_is_refused_is_left_as_it_is(tmp_path: Path, statement: str, said: str) -> None:
    close_store(open_store(tmp_path))
    path = tmp_path / FILE_NAME
    with contextlib.closing(sqlite3.connect(path)) as file:
        file.execute("PRAGMA journal_mode=DELETE")
    before = foreign_file(path, statement)
    with pytest.raises(StoreTrouble, match=said):
        open_store(tmp_path)
    assert path.read_bytes() == before
