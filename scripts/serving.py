"""The application as a process of its own, on a free port, for whoever drives it from outside."""

import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Literal

COMMAND = Path(sys.executable).parent / "neapfrost"


@contextmanager
def running_server(
    command: Literal["demo", "serve"] = "demo",
    data: Path | None = None,
    solvers: int | None = None,
    station: bool = False,
) -> Iterator[str]:
    """Start `neapfrost demo` or `serve` and yield its address; stopped at the end.

    Without a data folder it gets one of its own, which is gone afterwards. `solvers` is how many
    processes answer what-ifs; with `station` a simulated one runs beside the demo world.
    """
    wanted = {} if solvers is None else {"NEAPFROST_SOLVERS": str(solvers)}
    wanted["NEAPFROST_STATION"] = str(int(station))
    with tempfile.TemporaryDirectory() as own:
        process = subprocess.Popen(
            [COMMAND, command],
            env={**os.environ, "PORT": "0", "NEAPFROST_DATA": str(data or own), **wanted},
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
