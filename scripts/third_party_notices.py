"""The licences of what is shipped inside the built page, beside it: fonts, styles and scripts."""

import json
from pathlib import Path

ROOT = Path(__file__).parent.parent
MODULES = ROOT / "web" / "node_modules"
OUT = ROOT / "src" / "neapfrost" / "api" / "static" / "THIRD_PARTY_NOTICES.txt"
#: What the page imports; each brings along what it depends on.
SHIPPED = (
    "@fontsource-variable/brygada-1918",
    "@fontsource-variable/instrument-sans",
    "daisyui",
    "d3-array",
    "d3-scale",
    "openapi-fetch",
    "svelte",
    "tailwindcss",
)
#: Of these only the code that runs in a browser is shipped, not what they are built with.
ALONE = ("svelte", "tailwindcss", "daisyui")


def shipped() -> list[str]:
    """Every package in the page, in the order of their names."""
    found: set[str] = set()
    left = list(SHIPPED)
    while left:
        name = left.pop()
        if name in found:
            continue
        found.add(name)
        if name not in ALONE:
            package = json.loads((MODULES / name / "package.json").read_text())
            left += package.get("dependencies", {})
    return sorted(found)


def notice(name: str) -> str:
    """A package's name, version and licence. Raises FileNotFoundError where it has none."""
    folder = MODULES / name
    package = json.loads((folder / "package.json").read_text())
    texts = [file for file in sorted(folder.iterdir()) if file.name.upper().startswith("LICEN")]
    if not texts and "license" not in package:
        raise FileNotFoundError(f"{name} names no licence")
    text = texts[0].read_text().strip() if texts else f"Licence: {package['license']}"
    return f"{name} {package['version']}\n\n{text}\n"


if __name__ == "__main__":
    OUT.write_text(("\n" + 78 * "-" + "\n\n").join(notice(name) for name in shipped()))
