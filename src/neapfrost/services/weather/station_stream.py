"""What a station tells as it tells it, for as long as somebody listens."""

import time
from collections.abc import AsyncIterator
from typing import cast

import anyio
import httpx
from httpx_sse import EventSource, SSEError, aconnect_sse

from neapfrost.formats.weather import ReadingDocument
from neapfrost.services.weather.station import (
    ANSWERS_WITHIN_S,
    SILENT_FOR_S,
    StationGone,
    reading_from,
)

#: A station that is gone is asked for again after this time [s].
ASKED_AGAIN_S = 1.0
#: An event of a station is no longer than this, nor is it on its way for longer [s].
EVENT_CHARACTERS_MOST, EVENT_MOST_S = 64 * 1024, 25.0


async def heard_from(address: str) -> AsyncIterator[ReadingDocument | str]:
    """Readings as they come, and a sentence whenever none do; a station that is gone may return."""
    timeout = httpx.Timeout(ANSWERS_WITHIN_S, read=SILENT_FOR_S)
    async with httpx.AsyncClient(trust_env=False, timeout=timeout) as client:
        while True:
            try:
                async with aconnect_sse(client, "GET", f"{address}/stream") as source:
                    bounded = cast(httpx.Response, _Bounded(source.response))
                    async for event in EventSource(bounded).aiter_sse():
                        # What only keeps the line open carries nothing.
                        if event.event == "reading" and event.data:
                            yield reading_from(event.data)
                gone = "the station has stopped"
            except StationGone as trouble:
                gone = trouble.sentence
            except (httpx.HTTPError, SSEError):
                gone = f"no station answers at {address}"
            yield gone
            await anyio.sleep(ASKED_AGAIN_S)


class _Bounded:
    """A response whose events end: what is read of one is held until it does."""

    def __init__(self, response: httpx.Response) -> None:
        self._response = response
        self.headers = response.headers

    async def aiter_text(self) -> AsyncIterator[str]:
        """The text as it comes. Raises StationGone for an event without an end."""
        pending, since, last = 0, time.monotonic(), ""
        async for text in self._response.aiter_text():
            # An empty line ends an event, however lines are ended.
            joined = (last + text).replace("\r\n", "\n").replace("\r", "\n")
            if "\n\n" in joined:
                pending, since = len(joined) - joined.rindex("\n\n") - 2, time.monotonic()
            else:
                pending += len(text)
            last = text[-3:]
            if pending > EVENT_CHARACTERS_MOST or (
                pending > 0 and time.monotonic() - since > EVENT_MOST_S
            ):
                raise StationGone("the station sent a line without an end")
            yield text
