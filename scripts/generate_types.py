"""The page's types from the API's schema; with --check, only whether they are up to date."""

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from neapfrost.api.app import create_app
from neapfrost.store.database import close_store, open_store

WEB = Path(__file__).parent.parent / "web"
SCHEMA = WEB / "openapi.json"
TYPES = WEB / "src/lib/api/schema.d.ts"


def generate(folder: Path) -> tuple[str, str]:
    """OpenAPI document and TypeScript types, made in `folder`."""
    store = open_store(folder)
    openapi = create_app(store, static=folder / "none").openapi()
    close_store(store)
    document = json.dumps(openapi, indent=1, ensure_ascii=False) + "\n"
    source, target = folder / "openapi.json", folder / "schema.d.ts"
    source.write_text(document)
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", str(source), "-o", str(target)],
        cwd=WEB,
        check=True,
        capture_output=True,
    )
    return document, target.read_text()


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        document, types = generate(Path(folder))
    if "--check" in sys.argv:
        if SCHEMA.read_text() != document or TYPES.read_text() != types:
            print("web/openapi.json or the types made from it are out of date; run `make types`")
            return 1
        print("The page's types match the API.")
        return 0
    SCHEMA.write_text(document)
    TYPES.write_text(types)
    return 0


if __name__ == "__main__":
    sys.exit(main())
