"""Figures that stand as marks in answers, said in the units of whoever asks, at the border."""

from urllib.parse import parse_qs

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from neapfrost.api.spoken import HEADER, wanted_units
from neapfrost.core.measures import BEGIN, said, said_json

JSON = "application/json"
#: What is read by people, and how a mark begins there.
MARKS = {JSON: b"\\u0002", "text/": BEGIN.encode()}


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
        kind: str | None = None

        async def saying(message: Message) -> None:
            nonlocal held, kind
            if message["type"] == "http.response.start":
                told_type = Headers(raw=message["headers"]).get("content-type", "")
                kind = next((one for one in MARKS if told_type.startswith(one)), None)
                if kind is not None:
                    held = message
                    return
            elif held is not None and kind is not None:
                body = message.get("body", b"")
                # What comes in parts, a station's stream, is said where it is made.
                if not message.get("more_body", False) and MARKS[kind] in body:
                    say = said_json if kind == JSON else said
                    body = say(body.decode(), units).encode()
                    MutableHeaders(raw=held["headers"])["content-length"] = str(len(body))
                    message = {**message, "body": body}
                begin, held = held, None
                await send(begin)
            await send(message)

        await self.app(scope, receive, saying)
