"""What every request has to pass: host, origin, size; and the headers on the way out."""

import re

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from neapfrost.api.errors import error_response
from neapfrost.core.errors import Fault

BODY_MOST = 5 * 1024 * 1024
#: Files of points are larger than any document; their reader says how large they may be.
FILE_BODY_MOST = 52 * 1024 * 1024
FILES_PATHS = re.compile("/api/imports|/api/plans/[0-9]+/readings")
HOSTS = {"127.0.0.1", "localhost", "[::1]"}
CONTENT_SECURITY_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; "
    "img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'none'; "
    "frame-ancestors 'none'"
)
HEADERS = [
    (b"content-security-policy", CONTENT_SECURITY_POLICY.encode()),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
]


class Guard:
    """ASGI wrapper: refuses foreign hosts, foreign pages and large bodies; adds security headers.

    A page of another origin can make a browser send requests here, under a name of its own that
    leads to this machine (the Host header gives it away) or straight to this address (the Origin
    header does).
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def send_guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                message = {**message, "headers": [*message["headers"], *HEADERS]}
            await send(message)

        headers = {name.lower(): value for name, value in scope["headers"]}
        host = headers.get(b"host", b"").decode("latin-1")
        name = host.rsplit(":", 1)[0] if not host.endswith("]") else host
        if name not in HOSTS:
            fault = Fault("", f'this application answers on this machine only, not as "{name}"')
            await error_response(400, [fault])(scope, receive, send_guarded)
            return
        origin = headers.get(b"origin", b"").decode("latin-1")
        if origin and origin != f"http://{host}":
            fault = Fault("", f'a page of "{origin}" may not call this application')
            await error_response(400, [fault])(scope, receive, send_guarded)
            return
        path = scope["path"]
        is_file = FILES_PATHS.fullmatch(path) is not None
        most = FILE_BODY_MOST if is_file else BODY_MOST
        length = headers.get(b"content-length", b"0")
        if length.isdigit() and int(length) > most:
            await self._too_large(most, scope, receive, send_guarded)
            return

        # A body without a stated length is read here, so that it is counted before it is parsed.
        body = bytearray()
        more = scope["method"] in ("POST", "PUT", "PATCH", "DELETE")
        while more:
            message = await receive()
            if message["type"] != "http.request":
                return
            body += message.get("body", b"")
            if len(body) > most:
                await self._too_large(most, scope, receive, send_guarded)
                return
            more = message.get("more_body", False)
        given = False

        async def receive_counted() -> Message:
            nonlocal given
            if given:
                return await receive()
            given = True
            return {"type": "http.request", "body": bytes(body), "more_body": False}

        await self.app(scope, receive_counted, send_guarded)

    async def _too_large(self, most: int, scope: Scope, receive: Receive, send: Send) -> None:
        fault = Fault("", f"the body is larger than {most // 1024 // 1024} MB")
        await error_response(413, [fault])(scope, receive, send)
