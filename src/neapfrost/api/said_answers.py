"""Figures that stand as marks in answers, said in the units of whoever asks, at the border."""

from urllib.parse import parse_qs

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from neapfrost.api.spoken import HEADER, wanted_units
from neapfrost.core.measures import BEGIN, said_json

#: How a mark begins in JSON, and in any other text.
MARKS = (b"\\u0002", BEGIN.encode())
TEXTS = ("application/json", "text/")


class SaidAnswers:
    """Every text that leaves the API: what has no marks in it leaves untouched."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self.app(scope, receive, send)
            return
        query = parse_qs(scope["query_string"].decode("latin-1")).get("units", [])
        told = next(iter(query), None) or Headers(scope=scope).get(HEADER)
        units = wanted_units(scope["path"], told)
        held: Message | None = None

        async def saying(message: Message) -> None:
            nonlocal held
            if message["type"] == "http.response.start":
                kind = Headers(raw=message["headers"]).get("content-type", "")
                if kind.startswith(TEXTS):
                    held = message
                    return
            elif held is not None:
                if not message.get("more_body", False):
                    body = message.get("body", b"")
                    if any(mark in body for mark in MARKS):
                        body = said_json(body.decode(), units).encode()
                        headers = MutableHeaders(raw=held["headers"])
                        headers["content-length"] = str(len(body))
                        message = {**message, "body": body}
                begin, held = held, None
                await send(begin)
            await send(message)

        await self.app(scope, receive, saying)
