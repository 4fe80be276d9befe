"""What the project says of itself: links that lead somewhere, commands that exist, no way out."""

import ast
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from neapfrost import kernel_cache

ROOT = Path(__file__).parent.parent
PAGES = [ROOT / "README.md", *sorted((ROOT / "docs").rglob("*.md"))]


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_lead_somewhere(page: Path) -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", page.read_text()):
        assert (page.parent / target).exists(), target


def test_every_make_command_in_the_readme_exists() -> None:
    makefile = (ROOT / "Makefile").read_text()
    for command in re.findall(r"`make (\w+)`", (ROOT / "README.md").read_text()):
        assert re.search(rf"^{command}:", makefile, re.MULTILINE), command


def test_the_built_page_names_no_address_but_name_spaces() -> None:
    static = ROOT / "src" / "neapfrost" / "api" / "static"
    assert (static / "index.html").exists()
    allowed = ("http://www.w3.org/", "https://svelte.dev/e/", "http://127.0.0.1")
    for file in static.rglob("*"):
        if file.suffix in (".js", ".css", ".html", ".svg"):
            for address in re.findall(r"https?://[\w./-]+", file.read_text()):
                assert address.startswith(allowed), (file.name, address)


def test_fonts_are_shipped() -> None:
    static = ROOT / "src" / "neapfrost" / "api" / "static"
    fonts = {path.name for path in static.rglob("*.woff2")}
    assert any("brygada" in name and "italic" in name for name in fonts)
    assert any("instrument-sans" in name and "wdth" in name for name in fonts)


def test_kernels_are_cached_outside_the_sources(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv(kernel_cache.VARIABLE, raising=False)
    kernel_cache.choose_folder()
    folder = Path(os.environ[kernel_cache.VARIABLE])
    assert ROOT / "src" not in folder.parents
    monkeypatch.setenv(kernel_cache.VARIABLE, "/somewhere/else")
    kernel_cache.choose_folder()
    assert os.environ[kernel_cache.VARIABLE] == "/somewhere/else"


@pytest.mark.parametrize(("given", "kept"), [({}, "1"), ({"OPENBLAS_NUM_THREADS": "3"}, "3")])
def test_linear_algebra_takes_one_thread_unless_told_otherwise(
    given: dict[str, str], kept: str
) -> None:
    name = "OPENBLAS_NUM_THREADS"
    environment = {key: value for key, value in os.environ.items() if key != name} | given
    script = f"import sys, neapfrost, os; print(os.environ[{name!r}], 'numpy' in sys.modules)"
    said = subprocess.check_output([sys.executable, "-c", script], env=environment, text=True)
    assert said.split() == [kept, "False"]


def test_a_changed_constant_asks_for_new_kernels(tmp_path: Path) -> None:
    """Kernels freeze the constants that they import: the mark of their sources counts these."""
    package = tmp_path / "neapfrost"
    shutil.copytree(kernel_cache.PACKAGE / "core", package / "core")

    def mark() -> str:
        return kernel_cache.digest(kernel_cache.sources(package / "core" / "kernels", package))

    before = mark()
    assert before == kernel_cache.digest(kernel_cache.sources())
    survey = package / "core" / "survey" / "closure.py"
    survey.write_text(f"{survey.read_text()}\n# no kernel reads this\n")
    assert mark() == before
    constants = package / "core" / "constants.py"
    text = constants.read_text().replace("DOWNSHIFT_REV_SHARE = 0.97", "DOWNSHIFT_REV_SHARE = 0.9")
    assert text != constants.read_text()
    constants.write_text(text)
    assert mark() != before


def test_make_compiles_anew_for_all_that_a_kernel_reads() -> None:
    told = subprocess.run(
        [sys.executable, kernel_cache.__file__], capture_output=True, text=True, check=True
    ).stdout.split()
    assert "src/neapfrost/core/constants.py" in told
    assert all((ROOT / source).is_file() for source in told)


#: So long and with so many parameters a function may be; beyond it says why, beside it.
LINES_MOST, PARAMETERS_MOST = 80, 8


def test_long_functions_say_why() -> None:
    for file in sorted((ROOT / "src").rglob("*.py")):
        lines = file.read_text().splitlines()
        for node in ast.walk(ast.parse("\n".join(lines))):
            if not isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                continue
            long = (node.end_lineno or node.lineno) - node.lineno + 1 > LINES_MOST
            many = len(node.args.args) + len(node.args.kwonlyargs) > PARAMETERS_MOST
            first = min([node.lineno, *(one.lineno for one in node.decorator_list)])
            reason = lines[first - 2] if first > 1 else ""
            told = reason.startswith("#") and len(reason) > 20
            assert told or not (long or many), f"{file.name}: {node.name}"


#: Figures that are the world's or everybody's, and the one file that says each.
STANDS_ONCE = {
    9.80665: "core/constants.py",
    0.44704: "core/units.py",
    0.514444: "core/units.py",
    0.3048: "core/units.py",
    0.9144: "core/units.py",
    33.8639: "core/units.py",
    0.0689476: "core/units.py",
    1.42: "core/car/starting_car.py",
}


def test_what_everybody_shares_stands_once() -> None:
    source = ROOT / "src" / "neapfrost"
    for file in sorted(source.rglob("*.py")):
        place = file.relative_to(source).as_posix()
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Constant) and isinstance(node.value, float):
                assert STANDS_ONCE.get(node.value, place) == place, f"{place}:{node.lineno}"
            # As a factor 3.6 is km/h in a m/s; elsewhere it is a number like others.
            if isinstance(node, ast.BinOp) and place != "core/units.py":
                factors = [
                    one.value for one in (node.left, node.right) if isinstance(one, ast.Constant)
                ]
                assert 3.6 not in factors, f"{place}:{node.lineno}"


def test_documents_of_the_core_cite_where_their_formulas_come_from() -> None:
    method = (ROOT / "docs" / "method.md").read_text()
    for source in ("Milliken", "Siegler", "Brayshaw", "Alexander", "ISO 2533", "Cossalter"):
        assert source in method
