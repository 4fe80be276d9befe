"""The command line as a person types it."""

import json
import os
import socket
import subprocess
import sys
from pathlib import Path

import httpx
import pytest
from typer.testing import CliRunner

from neapfrost.cli.listening import listening
from neapfrost.cli.main import app
from neapfrost.cli.standins import DayName
from neapfrost.demo.plans import composed
from neapfrost.formats.fit import FitDocument
from neapfrost.formats.plan_file import write_plan
from neapfrost.services.logbook.simulated import SimulatedRun, simulated_log
from neapfrost.standins.weather.days import DAYS
from neapfrost.store.database import close_store, open_store

COMMAND = Path(sys.executable).parent / "neapfrost"


def run_alone(*arguments: str | Path, text: str | None = None) -> subprocess.CompletedProcess[str]:
    """The installed command as a process of its own."""
    return subprocess.run(
        [COMMAND, *arguments], capture_output=True, text=True, input=text, check=False
    )


def run(*arguments: str | Path, text: str | None = None) -> subprocess.CompletedProcess[str]:
    """The command in this process, which spares loading the solver for each of many."""
    words = [str(argument) for argument in arguments]
    done = CliRunner().invoke(app, words, input=text)
    return subprocess.CompletedProcess(words, done.exit_code, done.stdout, done.stderr)


@pytest.fixture
def plan_file(tmp_path: Path) -> Path:
    path = tmp_path / "plan.json"
    path.write_bytes(write_plan(composed("k4-dry")))
    return path


def test_solve_prints_lap_time_and_a_row_for_each_corner(plan_file: Path) -> None:
    done = run_alone("solve", plan_file)
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("1:39.")
    lines = done.stdout.splitlines()
    sluice = next(line for line in lines if line.startswith("Sluice"))
    assert "right" in sluice
    assert "past 100" in sluice
    assert "6→2" in sluice
    assert any(line.startswith("Icehouse") for line in lines)


def test_solve_writes_the_result_document(plan_file: Path, tmp_path: Path) -> None:
    out = tmp_path / "result.json"
    done = run("solve", plan_file, "-o", out, "--step-m", "2")
    assert done.returncode == 0, done.stderr
    assert done.stdout == ""
    result = json.loads(out.read_text())
    assert (result["format"], result["version"], result["step_m"]) == ("neapfrost/result", 1, 2.0)
    assert len(result["trace"]["s_m"]) > 1500
    assert [corner["name"] for corner in result["corners"]][:2] == ["Sluice", "Reedmace"]


def test_solve_reads_standard_input(plan_file: Path) -> None:
    assert run("solve", "-", text=plan_file.read_text()).stdout.startswith("1:39.")


def test_bad_input_exits_2_with_one_line_per_fault(plan_file: Path) -> None:
    document = json.loads(plan_file.read_text())
    document["car"]["mass_kg"] = -1
    document["car"]["aero"]["drag_area"] = 1
    plan_file.write_text(json.dumps(document))
    done = run("solve", plan_file)
    assert done.returncode == 2
    assert done.stdout == ""
    assert done.stderr.splitlines() == [
        "car.mass_kg: -1 was given; more than 0 is expected",
        'car.aero.drag_area: this field is unknown; did you mean "drag_area_m2"?',
    ]


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (["solve", "nowhere.json"], "nowhere.json: cannot be read (No such file or directory)"),
        (["solve", "."], ".: cannot be read (Is a directory)"),
    ],
)
def test_a_file_that_cannot_be_read(arguments: list[str], message: str) -> None:
    done = run(*arguments)
    assert (done.returncode, done.stderr.strip()) == (2, message)


def test_a_result_that_cannot_be_written(plan_file: Path) -> None:
    done = run("solve", plan_file, "-o", "/nowhere/result.json")
    assert done.returncode == 2
    assert "cannot be written (No such file or directory)" in done.stderr


def test_a_step_that_is_not_allowed(plan_file: Path) -> None:
    done = run("solve", plan_file, "--step-m", "50")
    assert (done.returncode, done.stderr.strip()) == (
        2,
        "step_m: 50 was given; between 0.1 and 10 m is allowed",
    )


def test_a_figure_is_swept_and_the_table_written(tmp_path: Path) -> None:
    plan, out = tmp_path / "plan.json", tmp_path / "sweep.csv"
    plan.write_bytes(write_plan(composed("dunlin-heath")))
    words = ("sweep", plan, "--figure", "final_drive", "--from", "3.8", "--to", "4.4")
    done = run(*words, "--count", "3", "-o", out)
    assert done.returncode == 0, done.stderr
    assert "quickest" in done.stdout
    assert len(out.read_text().splitlines()) >= 4
    assert run(*words[:3], "fnal_drive").stderr.strip().endswith('did you mean "final_drive"?')
    unwritten = run(*words, "--count", "3", "-o", tmp_path / "nowhere" / "sweep.csv")
    assert unwritten.returncode != 0
    assert "cannot be written" in unwritten.stderr


def test_what_is_worth_most_is_ranked(tmp_path: Path) -> None:
    plan = tmp_path / "plan.json"
    plan.write_bytes(write_plan(composed("dunlin-heath")))
    done = run("rank", plan)
    assert done.returncode == 0, done.stderr
    assert "Mass 5.0 kg less" in done.stdout
    assert "Next change:" in done.stdout


def test_a_race_is_planned_printed_and_written(tmp_path: Path) -> None:
    plan, out = tmp_path / "plan.json", tmp_path / "race.csv"
    plan.write_bytes(write_plan(composed("dunlin-heath")))
    done = run("race", plan, "--laps", "9")
    assert done.returncode == 0, done.stderr
    assert "9 laps" in done.stdout
    assert "Assumptions" in done.stdout
    written = run("race", plan, "--laps", "9", "-o", out)
    assert written.returncode == 0, written.stderr
    assert out.read_text().startswith("Stint,")
    other = run("race", plan, "-o", tmp_path / "race.xls")
    assert other.returncode == 2
    assert ".md, .csv or .json is expected" in other.stderr
    hill = tmp_path / "hill.json"
    hill.write_bytes(write_plan(composed("dunlin-hill")))
    assert "closed circuit" in run("race", hill).stderr


def test_schema_is_published() -> None:
    schema = json.loads(run("schema", "plan").stdout)
    assert schema["title"] == "PlanDocument"
    assert json.loads(run("schema", "result").stdout)["title"] == "ResultDocument"
    assert run("schema", "other").returncode == 2


def test_input_is_refused_before_anything_slow_is_imported(tmp_path: Path) -> None:
    bad = tmp_path / "bad.json"
    bad.write_text("{}")
    script = (
        "import sys\n"
        "from neapfrost.formats.plan_file import read_plan\n"
        f"try: read_plan(open({str(bad)!r}, 'rb').read())\n"
        "except ValueError: pass\n"
        "print([name for name in ('numba', 'scipy', 'fastapi') if name in sys.modules])\n"
    )
    done = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=True
    )
    assert done.stdout.strip() == "[]"


def test_a_port_in_use_is_said_in_a_sentence(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        done = subprocess.run(
            [COMMAND, "demo"],
            env={**os.environ, "PORT": str(port), "NEAPFROST_DATA": str(tmp_path)},
            capture_output=True,
            text=True,
            check=False,
        )
    assert done.returncode == 2
    assert f"port {port} on 127.0.0.1 cannot be used" in done.stderr


def test_small_answers_are_not_held_back() -> None:
    """An event loop turns the delay off for sockets that it knows for TCP."""
    with listening(0) as listener, socket.create_connection(listener.getsockname()[:2]):
        taken, _ = listener.accept()
        with taken:
            assert taken.proto == socket.IPPROTO_TCP


def test_a_data_folder_that_cannot_be_written(tmp_path: Path) -> None:
    (tmp_path / "data").write_text("a file, not a folder")
    done = subprocess.run(
        [COMMAND, "demo"],
        env={**os.environ, "PORT": "0", "NEAPFROST_DATA": str(tmp_path / "data")},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 2
    assert "data: the folder cannot be made" in done.stderr


def test_plans_are_imported_exported_and_backed_up(plan_file: Path, tmp_path: Path) -> None:
    data = tmp_path / "data"
    done = run("import", plan_file, "--data", data)
    assert done.returncode == 0, done.stderr
    assert done.stdout.strip() == (
        f"{plan_file}: saved as plan 1, Kittiwake K4, dry, qualifying fuel"
    )
    again = run("import", plan_file, "--data", data)
    assert "is already saved as plan 1" in again.stdout
    assert run("export", "1", "--data", data).stdout == plan_file.read_text()
    out = tmp_path / "out"
    assert run("export", "-o", out, "--data", data).returncode == 0
    assert (out / "plan-1.json").read_text() == plan_file.read_text()
    target = tmp_path / "backup" / "neapfrost.db"
    target.parent.mkdir()
    done = run("backup", target, "--data", data)
    assert done.returncode == 0, done.stderr
    assert run("export", "1", "--data", target.parent).stdout == plan_file.read_text()
    refused = run("backup", target, "--data", data)
    assert (refused.returncode, refused.stderr.strip()) == (
        2,
        f"{target}: exists already; a backup never overwrites a file",
    )


def test_one_bad_file_among_several_keeps_nothing(plan_file: Path, tmp_path: Path) -> None:
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "neapfrost/plan",\n "version" 1}')
    data = tmp_path / "data"
    done = run("import", plan_file, bad, "--data", data)
    assert done.returncode == 2
    assert f"{bad}: nothing was saved" in done.stderr
    assert "line 2" in done.stderr
    assert not data.exists()


def describe_test_what_cannot_be_exported_is(tmp_path: Path) -> None:
    data = tmp_path / "data"
    absent = run("export", "5", "--data", data)
    assert absent.returncode == 2
    assert f"{data / 'neapfrost.db'}: is not there" in absent.stderr
    assert not data.exists()
    close_store(open_store(data))
    none = run("export", "5", "--data", data)
    assert (none.returncode, none.stderr.strip()) == (2, "there is no plan 5")
    unnamed = run("export", "--data", data)
    assert unnamed.returncode == 2
    assert "every plan is written into a folder" in unnamed.stderr


def test_a_simulated_station_is_served_and_stopped() -> None:
    assert {one.value for one in DayName} == set(DAYS)
    process = subprocess.Popen(
        [COMMAND, "standin", "weather", "--day", "shower", "--begins", "13:30", "--pace", "600"],
        stdout=subprocess.PIPE,
        text=True,
    )
    try:
        assert process.stdout is not None
        address = process.stdout.readline().split()[-1]
        about = httpx.get(f"{address}/", timeout=20).json()
        assert about["simulated"]
        assert about["pace"] == 600.0
        reading = httpx.get(f"{address}/reading", timeout=20).json()
        assert reading["at"][11:13] in ("13", "14")
        with httpx.stream("GET", f"{address}/stream", timeout=20) as stream:
            lines = stream.iter_lines()
            told = [next(lines) for _ in range(8)]
        assert "event: reading" in told
    finally:
        process.terminate()
        assert process.wait(timeout=20) is not None
        if process.stdout is not None:
            process.stdout.close()


def test_a_station_at_no_time_is_refused() -> None:
    found = run("standin", "weather", "--begins", "half past")
    assert found.returncode == 2
    assert "hour and minute as 11:30" in found.stderr


def test_a_simulated_logger_writes_a_log(plan_file: Path, tmp_path: Path) -> None:
    log = tmp_path / "log.csv"
    done = run("standin", "logger", plan_file, "-o", log, "--laps", "2", "--rate", "10")
    assert done.returncode == 0, done.stderr
    lines = log.read_text().splitlines()
    assert lines[0] == '"Logger","Simulated data logger"'
    assert lines[4].startswith("Time,Speed,Latitude")
    assert run("standin", "logger", tmp_path / "none.json", "-o", log).returncode == 2


def test_logs_are_read_and_listed_and_teach_their_plan(plan_file: Path, tmp_path: Path) -> None:
    log = tmp_path / "log.csv"
    wanted = SimulatedRun(laps=4, seed=3, rate_hz=10.0)
    log.write_text(simulated_log(composed("k4-dry"), wanted))
    data: list[str | Path] = ["--data", tmp_path / "data"]
    assert run("import", plan_file, *data).returncode == 0
    read = run("log", "import", log, "--plan", "1", *data)
    assert read.returncode == 0, read.stderr
    assert f"{log}: run 1. 2 timed laps" in read.stdout
    listed = run("log", "list", *data).stdout
    assert "plan 1: Kittiwake K4, dry, qualifying fuel" in listed
    assert "run 1: 1:" in listed
    assert "run 1" not in run("log", "list", "oversteer", *data).stdout
    kept = tmp_path / "fit.json"
    fitted = run("fit", "1", "-o", kept, *data)
    assert fitted.returncode == 0, fitted.stderr
    assert "Model fit" in fitted.stdout
    assert FitDocument.model_validate_json(kept.read_text()).runs[0].id == 1
    for arguments, said in (
        (("log", "import", tmp_path / "none.csv", "--plan", "1"), "cannot be read"),
        (("log", "import", plan_file, "--plan", "1"), "this file is JSON; a log of samples"),
        (("log", "import", log, "--plan", "9"), "there is no plan 9"),
        (("fit", "7"), "there is no run 7"),
    ):
        refused = run(*arguments, *data)
        assert refused.returncode == 2
        assert said in refused.stderr
