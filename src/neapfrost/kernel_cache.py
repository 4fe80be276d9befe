"""Where compiled kernels are kept: beside the Python environment, never inside the source tree."""

import ast
import hashlib
import os
import sys
import tempfile
from pathlib import Path

VARIABLE = "NUMBA_CACHE_DIR"
PACKAGE = Path(__file__).parent
KERNELS = PACKAGE / "core" / "kernels"


def choose_folder() -> None:
    """Point numba's cache at the environment's own folder, unless the user has chosen one.

    Numba reads the variable when it is first imported, so this runs on `import neapfrost`. Each
    state of the sources has a folder of its own: numba renews a function when its own file
    changes, but not when a function or a constant that it uses has changed in another file.
    """
    if VARIABLE in os.environ:
        return
    own = Path(sys.prefix) / "var" / "neapfrost-kernels"
    try:
        own.mkdir(parents=True, exist_ok=True)
        writable = os.access(own, os.W_OK)
    except OSError:
        writable = False
    shared = Path(tempfile.gettempdir()) / f"neapfrost-kernels-{os.getuid()}"
    os.environ[VARIABLE] = str((own if writable else shared) / digest(sources()))


def sources(kernels: Path = KERNELS, package: Path = PACKAGE) -> list[Path]:
    """Every file of the package that a kernel can read: the kernels, and all that they import.

    Constants count as much as functions: a compiled kernel has them frozen into it.
    """
    waiting, found = sorted(kernels.glob("*.py")), set[Path]()
    while waiting:
        source = waiting.pop()
        if source in found:
            continue
        found.add(source)
        waiting += _imported_by(source, package)
    return sorted(found)


def digest(files: list[Path]) -> str:
    """A mark of the content of some files."""
    mark = hashlib.sha256()
    for file in files:
        mark.update(file.read_bytes())
    return mark.hexdigest()[:16]


def _imported_by(source: Path, package: Path) -> list[Path]:
    """Files of the package that a file imports."""
    modules: list[str] = []
    for node in ast.walk(ast.parse(source.read_bytes())):
        if isinstance(node, ast.ImportFrom) and node.module is not None and node.level == 0:
            # What is imported from a package may be a module of it.
            modules += [node.module, *(f"{node.module}.{name.name}" for name in node.names)]
        elif isinstance(node, ast.Import):
            modules += [name.name for name in node.names]
    files = []
    for module in modules:
        first, *inner = module.split(".")
        if first != package.name:
            continue
        place = package.joinpath(*inner)
        files += [place.with_suffix(".py"), place / "__init__.py"]
    # What starts the package is no kernel's business, though every import runs it.
    return [file for file in files if file.is_file() and file != package / "__init__.py"]


if __name__ == "__main__":
    # For make: compiled kernels are as old as these files.
    print(*(file.relative_to(PACKAGE.parents[1]) for file in sources()))
