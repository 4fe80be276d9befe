"""The application as a wheel, installed where neither its sources nor Node are."""

import subprocess
import sys
import sysconfig
import zipfile
from pathlib import Path

import httpx
import pytest

ROOT = Path(__file__).parents[2]
PIP = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--quiet"]


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("wheel")
    subprocess.run([*PIP, "wheel", "--no-deps", "--wheel-dir", folder, ROOT], check=True)
    return next(folder.glob("*.whl"))


def test_a_wheel_holds_all_that_is_shipped(wheel: Path) -> None:
    names = zipfile.ZipFile(wheel).namelist()
    assert "neapfrost/api/static/index.html" in names
    notices = zipfile.ZipFile(wheel).read("neapfrost/api/static/THIRD_PARTY_NOTICES.txt").decode()
    assert "SIL OPEN FONT LICENSE" in notices
    assert "svelte" in notices
    for kept in ("store/migrations/env.py", "demo/data/plans/k4-dry.json"):
        assert f"neapfrost/{kept}" in names
    assert not [name for name in names if name.startswith(("tests/", "web/", "bench/"))]


def test_a_wheel_runs_in_an_environment_of_its_own(wheel: Path, tmp_path: Path) -> None:
    """What the wheel depends on is lent to the new environment, so that nothing is fetched."""
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", tmp_path / "env"], check=True)
    python = tmp_path / "env" / "bin" / "python"
    script = "import sysconfig; print(sysconfig.get_paths()['purelib'])"
    library = Path(subprocess.check_output([python, "-c", script], text=True).strip())
    (library / "lent.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")
    subprocess.run([*PIP, "--python", python, "install", "--no-deps", wheel], check=True)
    own = {
        "PATH": str(python.parent),
        "HOME": str(tmp_path),
        "PORT": "0",
        "NEAPFROST_DATA": str(tmp_path / "data"),
        "NEAPFROST_SOLVERS": "0",
        # A new place would be compiled for once more; no lap is asked for here.
        "NUMBA_DISABLE_JIT": "1",
    }
    with subprocess.Popen(
        [python.parent / "neapfrost", "serve"],
        cwd=tmp_path,
        env=own,
        stdout=subprocess.PIPE,
        text=True,
    ) as process:
        try:
            assert process.stdout is not None
            address = next(line for line in process.stdout if "http://" in line).split()[-1]
            with httpx.Client(base_url=address, timeout=300.0) as client:
                assert "<title>Neapfrost" in client.get("/").text
                assert client.get("/api/health").is_success
                assert "SIL OPEN FONT" in client.get("/THIRD_PARTY_NOTICES.txt").text
        finally:
            process.terminate()
