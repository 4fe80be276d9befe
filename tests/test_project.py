"""What the project says of itself: links that lead somewhere, commands that exist, no way out."""

import os
import re
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


def test_documents_of_the_core_cite_where_their_formulas_come_from() -> None:
    method = (ROOT / "docs" / "method.md").read_text()
    for source in ("Milliken", "Siegler", "Brayshaw", "Alexander", "ISO 2533", "Cossalter"):
        assert source in method
