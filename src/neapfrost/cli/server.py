"""Running the application on the loopback interface."""

import socket

import uvicorn

from neapfrost.api.app import create_app
from neapfrost.demo.plans import demo_plans
from neapfrost.services.predict import predict_lap

HOST = "127.0.0.1"


def run_server(port: int) -> None:
    """Serve until interrupted; prints the address once requests are answered.

    Raises OSError when the port cannot be used.
    """
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.bind((HOST, port))
    # From here on a request waits instead of being turned away.
    listener.listen(128)
    # The first solve loads the compiled kernels; nobody should wait for that in the page.
    predict_lap(demo_plans()[0].document, trace_points=10)
    config = uvicorn.Config(create_app(), log_level="warning", access_log=False)
    print(f"Neapfrost is at http://{HOST}:{listener.getsockname()[1]}/", flush=True)
    uvicorn.Server(config).run(sockets=[listener])
