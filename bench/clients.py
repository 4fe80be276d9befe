"""Fifty people stepping a figure at once: what-if requests from as many clients."""

import asyncio
import json
import time
import urllib.request
from dataclasses import dataclass
from urllib.parse import urlsplit

CLIENTS = 50
EACH = 12
PLANS = 5  # of the demo's, that they work on
PACE_S = 1.0  # between one step of a client and its next


@dataclass(frozen=True)
class Load:
    """Times of all requests [ms], sorted, and how many were not answered with a lap."""

    times_ms: list[float]
    errors: int


def many_clients(address: str, clients: int = CLIENTS) -> Load:
    """So many clients, each stepping once a second; no two requests alike.

    They talk over plain sockets: on few cores a full HTTP client would be measured instead.
    """
    times: list[float] = []
    errors = [0]
    requests = [_requests(number, address) for number in range(clients)]

    async def run() -> None:
        await asyncio.gather(
            *(
                _client(number / clients, address, requests[number], times, errors)
                for number in range(clients)
            )
        )

    asyncio.run(run())
    return Load(sorted(times), errors[0])


def _requests(number: int, address: str) -> list[bytes]:
    """What one client sends, step after step, ready to be written."""
    plan_id = 1 + number % PLANS
    with urllib.request.urlopen(f"{address}api/plans/{plan_id}") as answer:
        revisions = json.loads(answer.read())["revisions"]
    against = {"plan_id": plan_id, "revisions": revisions}
    found = []
    for step in range(EACH):
        # No two requests ask for the same lap, so that none is answered from memory.
        change = {"field": "grip", "value": 1.2 + 0.0005 * (number * EACH + step)}
        asked = {"revisions": revisions, "changes": [change], "against": against}
        body = json.dumps(asked).encode()
        head = (
            f"POST /api/plans/{plan_id}/what-if HTTP/1.1\r\nhost: {urlsplit(address).netloc}\r\n"
            f"content-type: application/json\r\ncontent-length: {len(body)}\r\n\r\n"
        )
        found.append(head.encode() + body)
    return found


async def _client(
    late_s: float, address: str, requests: list[bytes], times: list[float], errors: list[int]
) -> None:
    await asyncio.sleep(PACE_S * late_s)
    parts = urlsplit(address)
    reader, writer = await asyncio.open_connection(parts.hostname, parts.port, limit=2**22)
    for request in requests:
        begun = time.perf_counter()
        writer.write(request)
        errors[0] += await _status(reader) != 200
        taken = time.perf_counter() - begun
        times.append(1000.0 * taken)
        await asyncio.sleep(max(PACE_S - taken, 0.0))
    writer.close()


async def _status(reader: asyncio.StreamReader) -> int:
    """Read one whole answer; its status."""
    head = (await reader.readuntil(b"\r\n\r\n")).decode("latin-1").lower()
    length = next(
        int(line.split(":")[1]) for line in head.split("\r\n") if line.startswith("content-length")
    )
    await reader.readexactly(length)
    return int(head.split()[1])
