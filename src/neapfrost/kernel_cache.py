"""Where compiled kernels are kept: beside the Python environment, never inside the source tree."""

import hashlib
import os
import sys
import tempfile
from pathlib import Path

VARIABLE = "NUMBA_CACHE_DIR"
KERNELS = Path(__file__).parent / "core" / "kernels"


def choose_folder() -> None:
    """Point numba's cache at the environment's own folder, unless the user has chosen one.

    Numba reads the variable when it is first imported, so this runs on `import neapfrost`. Each
    state of the kernels' sources has a folder of its own: numba renews a function when its own
    file changes, but not when a function it calls has changed in another file.
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
    os.environ[VARIABLE] = str((own if writable else shared) / _sources_digest())


def _sources_digest() -> str:
    digest = hashlib.sha256()
    for source in sorted(KERNELS.glob("*.py")):
        digest.update(source.read_bytes())
    return digest.hexdigest()[:16]
