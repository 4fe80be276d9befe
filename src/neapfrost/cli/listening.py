"""The port that the application answers on, taken before anything slow is loaded."""

import socket

HOST = "127.0.0.1"


def listening(port: int) -> socket.socket:
    """A socket that takes requests from this machine alone, on any free port for 0.

    From here on a request waits instead of being turned away. Raises OSError when the port cannot
    be used.
    """
    # With the protocol named the event loop knows it for TCP, and sends small answers at once
    # instead of holding them back for the acknowledgement of the last one, some 40 ms.
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    try:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        listener.bind((HOST, port))
        listener.listen(128)
    except OSError:
        listener.close()
        raise
    return listener
