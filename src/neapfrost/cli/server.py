"""Running the application on the loopback interface."""

import logging
import signal
import socket
import sys
import threading

import uvicorn

from neapfrost.api.app import create_app
from neapfrost.demo.plans import demo_plans
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.laps.solver_processes import start_solvers, stop_solvers
from neapfrost.services.plans.listing import listed
from neapfrost.services.plans.opening import opening
from neapfrost.store.database import Store
from neapfrost.store.logs import sweep_logs
from neapfrost.store.trouble import StoreTrouble

LOG = logging.getLogger(__name__)


def run_server(store: Store, listener: socket.socket, solvers_wanted: int | None = None) -> None:
    """Serve a store on a socket that listens until interrupted; prints the address once ready.

    `solvers_wanted` processes answer what-ifs, by default two at most; with 0 this one does.
    """
    # The first solve loads the compiled kernels; nobody should wait for that in the page.
    first = demo_plans()[0].document
    # The server hands a signal on once it is done; ending by an exception runs what follows.
    ended = threading.Event()

    def end(*_: object) -> None:
        ended.set()
        sys.exit(0)

    signal.signal(signal.SIGTERM, end)
    solvers = None if solvers_wanted == 0 else start_solvers(first, solvers_wanted)
    app = create_app(store, solvers=solvers)
    try:
        predict_lap(first, trace_points=10)
        _look_at_the_plans(store)
        sweep_logs(store)
        if ended.is_set():
            return  # the compiler's own callbacks swallow an exit that falls into them
        config = uvicorn.Config(app, log_level="warning", access_log=False)
        host, port = listener.getsockname()
        print(f"Neapfrost is at http://{host}:{port}/", flush=True)
        uvicorn.Server(config).run(sockets=[listener])
    finally:
        app.state.line_jobs.stop()
        app.state.study_jobs.stop()
        app.state.imports.close()
        app.state.readings.close()
        if solvers is not None:
            stop_solvers(solvers)


def _look_at_the_plans(store: Store) -> None:
    """Solve what the page asks for: the lap it opens with, and those of its list."""
    try:
        opening(store)
        listed(store, "plan")
    except StoreTrouble as trouble:
        LOG.warning("%s", trouble)  # the page says it as well, and goes on with what it can
