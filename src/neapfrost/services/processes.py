"""What every process of its own begins with."""

import os
import signal
import threading
import time

PARENT_LOOKED_FOR_S = 1.0


def live_with_parent(parent: int) -> None:
    """At the start of a process: it ends with its parent, however that one ends."""
    # Ctrl-C reaches every process of the terminal; the parent decides what becomes of it.
    signal.signal(signal.SIGINT, signal.SIG_IGN)

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(PARENT_LOOKED_FOR_S)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()
