"""Running the application on the loopback interface."""

import signal
import socket
import sys

import uvicorn

from neapfrost.api.app import create_app
from neapfrost.demo.plans import demo_plans
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.laps.solver_processes import start_solvers, stop_solvers
from neapfrost.store.database import Store

HOST = "127.0.0.1"


def run_server(store: Store, port: int, solvers_wanted: int | None = None) -> None:
    """Serve a store until interrupted; prints the address once requests are answered.

    `solvers_wanted` processes answer what-ifs, by default two at most; with 0 this one does.
    Raises OSError when the port cannot be used.
    """
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.bind((HOST, port))
    # From here on a request waits instead of being turned away.
    listener.listen(128)
    # The first solve loads the compiled kernels; nobody should wait for that in the page.
    first = demo_plans()[0].document
    # The server hands a signal on once it is done; ending by an exception runs what follows.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    solvers = None if solvers_wanted == 0 else start_solvers(first, solvers_wanted)
    app = create_app(store, solvers=solvers)
    try:
        predict_lap(first, trace_points=10)
        config = uvicorn.Config(app, log_level="warning", access_log=False)
        print(f"Neapfrost is at http://{HOST}:{listener.getsockname()[1]}/", flush=True)
        uvicorn.Server(config).run(sockets=[listener])
    finally:
        app.state.line_jobs.stop()
        if solvers is not None:
            stop_solvers(solvers)
