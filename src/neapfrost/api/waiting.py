"""Long work that ends when nobody waits for it any more."""

import threading
from collections.abc import Callable
from typing import Annotated, TypeVar

import anyio
from fastapi import Query, Request
from starlette.concurrency import run_in_threadpool

Answer = TypeVar("Answer")

#: How often it is looked whether somebody still waits [s].
LOOKED_EVERY_S = 0.1

#: The name under which whoever sends a file may ask how far it is.
Watch = Annotated[
    str | None,
    Query(
        pattern="^[0-9A-Za-z-]{8,64}$",
        description="A name of the caller's choice under which progress is reported",
    ),
]


async def while_waited_for(
    request: Request, task: Callable[[Callable[[], bool]], Answer]
) -> Answer:
    """What a task comes to in a thread; it is given what says whether its client has gone.

    The request's body has to be read before. Raises what the task raises.
    """
    gone = threading.Event()
    raised: list[Exception] = []
    found: list[Answer] = []

    async def watch() -> None:
        while not await request.is_disconnected():
            await anyio.sleep(LOOKED_EVERY_S)
        gone.set()

    async with anyio.create_task_group() as tasks:
        tasks.start_soon(watch)
        try:
            found.append(await run_in_threadpool(task, gone.is_set))
        except Exception as error:
            raised.append(error)
        tasks.cancel_scope.cancel()
    if raised:
        raise raised[0]
    return found[0]
