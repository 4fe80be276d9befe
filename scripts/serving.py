"""The application as a process of its own, on a free port, for whoever drives it from outside."""

import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

COMMAND = Path(sys.executable).parent / "neapfrost"


@contextmanager
def running_server() -> Iterator[str]:
    """Start `neapfrost demo` and yield its address; stopped at the end."""
    with tempfile.TemporaryDirectory() as data:
        process = subprocess.Popen(
            [COMMAND, "demo"],
            env={**os.environ, "PORT": "0", "NEAPFROST_DATA": data},
            stdout=subprocess.PIPE,
            text=True,
        )
        try:
            assert process.stdout is not None
            for line in process.stdout:
                if "http://" in line:
                    yield line.split()[-1]
                    break
            else:
                raise RuntimeError("the application ended before it was ready")
        finally:
            process.terminate()
            process.wait(timeout=20)
            if process.stdout is not None:
                process.stdout.close()
