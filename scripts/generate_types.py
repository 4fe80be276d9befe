"""The page's types and units, made of the API's own; written only where they have changed."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from neapfrost.api.app import create_app
from neapfrost.core.car.starting_kinds import starting_table
from neapfrost.services.words.units import units_table
from neapfrost.store.database import close_store, open_store

WEB = Path(__file__).parent.parent / "web"
TYPES = WEB / "src/lib/api/schema.d.ts"
#: What the page shows before it has asked for anything.
TABLES = {"units": units_table, "startingKinds": starting_table}


def untitled(value: Any) -> Any:
    """A description without the titles of its fields, which only say their names once more."""
    if isinstance(value, list):
        return [untitled(one) for one in value]
    if not isinstance(value, dict):
        return value
    # A field that is itself called "title" is described by an object, a title is a text.
    return {
        key: untitled(one)
        for key, one in value.items()
        if key != "title" or not isinstance(one, str)
    }


def generate(folder: Path) -> str:
    """TypeScript types of the API, made in `folder`."""
    store = open_store(folder)
    openapi = create_app(store, static=folder / "none").openapi()
    close_store(store)
    source, target = folder / "openapi.json", folder / "schema.d.ts"
    source.write_text(json.dumps({**untitled(openapi), "info": openapi["info"]}))
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(source), "-o", str(target)],
        cwd=WEB,
        check=True,
        capture_output=True,
    )
    return target.read_text()


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        types = generate(Path(folder))
    files = {TYPES: types}
    for name, table in TABLES.items():
        text = json.dumps(table(), ensure_ascii=False, indent=2) + "\n"
        files[WEB / f"src/lib/api/{name}.json"] = text
    for file, text in files.items():
        if not file.exists() or file.read_text() != text:
            file.write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
