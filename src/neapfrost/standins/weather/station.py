"""The simulated station on a loopback port: its present reading, its record, and its stream.

- `GET /` names the station and says that it is simulated.
- `GET /reading` is the present reading as JSON, `GET /record.csv` every reading since it began.
- `GET /stream` sends each new reading as a server-sent event named "reading".
"""

import csv
import io
import json
import socket
import threading
import time
from collections.abc import AsyncIterator
from dataclasses import asdict, dataclass, field
from datetime import datetime, timedelta
from typing import Any

import anyio
import uvicorn
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from neapfrost.core.weather.along_session import Reading
from neapfrost.standins.weather.days import DAYS, StationDay

NAME = "Simulated weather station"


@dataclass
class Station:
    """A station with a clock of its own that goes `pace` times real time."""

    day: str
    begins: datetime
    seed: int = 1
    pace: float = 1.0
    every_s: float = 60.0
    started: float = field(default_factory=time.monotonic)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def __post_init__(self) -> None:
        midnight = self.begins.replace(hour=0, minute=0, second=0, microsecond=0)
        self._midnight = midnight
        begins_s = (self.begins - midnight).total_seconds()
        self._readings = StationDay(self.day, self.seed, begins_s, self.every_s)

    def read(self) -> list[Reading]:
        """Every reading so far, one at least."""
        with self.lock:
            return self._readings.readings(self._count())

    def next_in_s(self) -> float:
        """Seconds of this world until the next reading."""
        gone_s = (time.monotonic() - self.started) * self.pace
        return (self._count() * self.every_s - gone_s) / self.pace

    def told(self, reading: Reading) -> dict[str, Any]:
        """A reading as the station tells it."""
        values = asdict(reading)
        at = self._midnight + timedelta(seconds=values.pop("at_s"))
        return {"at": at.isoformat(), **values}

    def _count(self) -> int:
        gone_s = (time.monotonic() - self.started) * self.pace
        return int(gone_s / self.every_s) + 1


#: A stream looks so often whether the station is to stop [s].
LOOKS_EVERY_S = 0.2


def station_app(station: Station, ended: threading.Event) -> Starlette:
    """What a station serves until it has `ended`."""

    async def about(_: Request) -> Response:
        return JSONResponse(
            {
                "name": NAME,
                "simulated": True,
                "day": DAYS[station.day].says,
                "pace": station.pace,
                "every_s": station.every_s,
            }
        )

    async def reading(_: Request) -> Response:
        return JSONResponse(station.told(station.read()[-1]))

    async def record(_: Request) -> Response:
        sheet = io.StringIO()
        rows = [station.told(one) for one in station.read()]
        writer = csv.DictWriter(sheet, fieldnames=list(rows[0]), lineterminator="\r\n")
        writer.writeheader()
        writer.writerows(rows)
        return Response(sheet.getvalue(), media_type="text/csv; charset=utf-8")

    async def readings() -> AsyncIterator[ServerSentEvent]:
        last = ""
        while not ended.is_set():
            told = station.told(station.read()[-1])
            if told["at"] != last:
                last = told["at"]
                yield ServerSentEvent(json.dumps(told), event="reading", id=last)
            await anyio.sleep(min(max(station.next_in_s(), 0.01), LOOKS_EVERY_S))

    async def stream(_: Request) -> Response:
        return EventSourceResponse(readings())

    return Starlette(
        routes=[
            Route("/", about),
            Route("/reading", reading),
            Route("/record.csv", record),
            Route("/stream", stream),
        ]
    )


class RunningStation:
    """A station that serves on a socket in a thread of its own until it is stopped."""

    def __init__(self, station: Station, listener: socket.socket) -> None:
        self._ended = threading.Event()
        app = station_app(station, self._ended)
        config = uvicorn.Config(app, log_level="warning", access_log=False, lifespan="off")
        self._server = uvicorn.Server(config)
        self._thread = threading.Thread(
            target=self._server.run, kwargs={"sockets": [listener]}, daemon=True
        )
        host, port = listener.getsockname()
        self.address = f"http://{host}:{port}"

    def start(self) -> None:
        """Begin to answer."""
        self._thread.start()

    def stop(self) -> None:
        """Stop answering; whoever listens is let go."""
        self._ended.set()
        self._server.should_exit = True
        self._thread.join(timeout=3.0)


def serve_station(station: Station, listener: socket.socket) -> None:
    """Serve a station until interrupted."""
    config = uvicorn.Config(
        station_app(station, threading.Event()), log_level="warning", access_log=False
    )
    uvicorn.Server(config).run(sockets=[listener])
