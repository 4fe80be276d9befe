"""Fifty people at once: what-ifs stepped from as many clients, or edits kept of as many plans."""

import asyncio
import json
import time
import urllib.request
from collections.abc import Generator, Iterable, Mapping
from dataclasses import dataclass
from urllib.parse import urlsplit

CLIENTS = 50
EACH = 12
PLANS = 5  # of the demo's, that they work on
PACE_S = 1.0  # between one step of a client and its next
KEPT_OPEN_S = 4.0  # the server hangs up on who is silent for longer

Revisions = Mapping[str, int | None]
#: What a client sends, request after request; it is given the body of each answer.
Script = Generator[bytes, bytes, None]


@dataclass(frozen=True)
class Load:
    """Times of all requests [ms], sorted, and how many were not answered with a lap."""

    times_ms: list[float]
    errors: int


def many_clients(address: str, scripts: Iterable[Script], pace_s: float = PACE_S) -> Load:
    """A client for each script, each sending its next request so long after the last one.

    They talk over plain sockets: on few cores a full HTTP client would be measured instead.
    """
    times: list[float] = []
    errors = [0]
    clients = list(scripts)

    async def run() -> None:
        await asyncio.gather(
            *(
                _client(pace_s * number / len(clients), pace_s, address, script, times, errors)
                for number, script in enumerate(clients)
            )
        )

    asyncio.run(run())
    return Load(sorted(times), errors[0])


def stepping(address: str, clients: int = CLIENTS) -> list[Script]:
    """Clients that step a figure of a demo plan; no two requests ask for the same lap."""

    def script(number: int) -> Script:
        plan_id = 1 + number % PLANS
        with urllib.request.urlopen(f"{address}api/plans/{plan_id}") as answer:
            revisions = json.loads(answer.read())["revisions"]
        against = {"plan_id": plan_id, "revisions": revisions}
        for step in range(EACH):
            # None is answered from memory.
            change = {"field": "grip", "value": 1.2 + 0.0005 * (number * EACH + step)}
            asked = {"revisions": revisions, "changes": [change], "against": against}
            yield request(address, f"/api/plans/{plan_id}/what-if", asked)

    return [script(number) for number in range(clients)]


def editing(address: str, bases: Mapping[int, Revisions], edits: int) -> list[Script]:
    """Clients that keep edits of a plan of their own, from the revisions of each plan on."""

    def script(plan_id: int, base: Revisions) -> Script:
        for number in range(1, edits + 1):
            change = {"field": "fuel_kg", "value": 5.0 + 0.01 * number + 0.0001 * plan_id}
            asked = {"base": base, "changes": [change]}
            body = yield request(address, f"/api/plans/{plan_id}/changes", asked)
            base = json.loads(body).get("revisions", base)

    return [script(plan_id, base) for plan_id, base in bases.items()]


def request(address: str, path: str, asked: Mapping[str, object]) -> bytes:
    """A POST, ready to be written."""
    body = json.dumps(asked).encode()
    head = (
        f"POST {path} HTTP/1.1\r\nhost: {urlsplit(address).netloc}\r\n"
        f"content-type: application/json\r\ncontent-length: {len(body)}\r\n\r\n"
    )
    return head.encode() + body


async def _client(
    late_s: float,
    pace_s: float,
    address: str,
    script: Script,
    times: list[float],
    errors: list[int],
) -> None:
    asked = next(script)
    await asyncio.sleep(late_s)
    parts = urlsplit(address)
    reader, writer = await asyncio.open_connection(parts.hostname, parts.port, limit=2**22)
    while True:
        if pace_s > KEPT_OPEN_S:
            writer.close()
            reader, writer = await asyncio.open_connection(parts.hostname, parts.port, limit=2**22)
        begun = time.perf_counter()
        writer.write(asked)
        status, body = await _answer(reader)
        taken = time.perf_counter() - begun
        errors[0] += status != 200
        times.append(1000.0 * taken)
        try:
            asked = script.send(body)
        except StopIteration:
            break
        await asyncio.sleep(max(pace_s - taken, 0.0))
    writer.close()


async def _answer(reader: asyncio.StreamReader) -> tuple[int, bytes]:
    """Read one whole answer; its status and its body."""
    head = (await reader.readuntil(b"\r\n\r\n")).decode("latin-1").lower()
    length = next(
        int(line.split(":")[1]) for line in head.split("\r\n") if line.startswith("content-length")
    )
    return int(head.split()[1]), await reader.readexactly(length)
