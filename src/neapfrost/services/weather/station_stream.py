"""What a station tells as it tells it, for as long as somebody listens."""

from collections.abc import AsyncIterator

import anyio
import httpx
from httpx_sse import SSEError, aconnect_sse

from neapfrost.formats.weather import ReadingDocument
from neapfrost.services.weather.station import (
    ANSWERS_WITHIN_S,
    SILENT_FOR_S,
    StationGone,
    reading_from,
)

#: A station that is gone is asked for again after this time [s].
ASKED_AGAIN_S = 1.0


async def heard_from(address: str) -> AsyncIterator[ReadingDocument | str]:
    """Readings as they come, and a sentence whenever none do; a station that is gone may return."""
    timeout = httpx.Timeout(ANSWERS_WITHIN_S, read=SILENT_FOR_S)
    async with httpx.AsyncClient(trust_env=False, timeout=timeout) as client:
        while True:
            try:
                async with aconnect_sse(client, "GET", f"{address}/stream") as source:
                    async for event in source.aiter_sse():
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
