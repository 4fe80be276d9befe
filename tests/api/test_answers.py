"""Answers that are kept, and those worked out before they are asked."""

import asyncio
from collections.abc import Awaitable, Callable
from concurrent.futures import ThreadPoolExecutor, wait

import anyio
import httpx
import pytest

from api.client import Client
from neapfrost.api.answers import KEPT_MOST, Answer, Answers, answer_to, foresee
from neapfrost.api.app import create_app
from neapfrost.demo.plans import composed
from neapfrost.services.laps.solver_processes import processes_ready, start_solvers, stop_solvers
from neapfrost.store.database import Store


class Bench:
    """Work that takes until it is told to end, and what of it has been begun."""

    def __init__(self) -> None:
        self.answers = Answers(processes=2)
        self.begun: list[str] = []
        self.gates: dict[str, asyncio.Event] = {}

    def work(self, name: str, held: bool = False) -> Callable[[], Awaitable[Answer]]:
        async def answer() -> Answer:
            self.begun.append(name)
            if held:
                await self.gates.setdefault(name, asyncio.Event()).wait()
            return f"lap of {name}"

        return answer

    async def ask(self, name: str, held: bool = False) -> Answer:
        return await answer_to(self.answers, name, self.work(name, held))


def run(story: Callable[[Bench], Awaitable[None]]) -> None:
    """Let a story happen in an event loop of its own."""

    async def told() -> None:
        with anyio.fail_after(20.0):
            await story(Bench())

    # In a thread of its own: a browser test before this one leaves a loop in the main thread.
    with ThreadPoolExecutor(1) as thread:
        thread.submit(anyio.run, told).result()


async def turns() -> None:
    """Let everything go on that can."""
    for _ in range(10):
        await asyncio.sleep(0)


def test_what_has_been_asked_before_is_not_worked_out_again() -> None:
    async def story(bench: Bench) -> None:
        assert await bench.ask("a") == await bench.ask("a") == "lap of a"
        await bench.ask("b")
        assert bench.begun == ["a", "b"]

    run(story)


def test_what_two_ask_at_once_is_worked_out_once_and_outlasts_one_who_goes() -> None:
    async def story(bench: Bench) -> None:
        first = asyncio.ensure_future(bench.ask("a", held=True))
        second = asyncio.ensure_future(bench.ask("a"))
        await turns()
        first.cancel()
        await turns()
        bench.gates["a"].set()
        assert await second == "lap of a"
        assert bench.begun == ["a"]
        assert bench.answers.awaited == 0

    run(story)


def test_work_goes_ahead_one_by_one_and_only_while_a_process_is_free() -> None:
    async def story(bench: Bench) -> None:
        asked = [asyncio.ensure_future(bench.ask(name, held=True)) for name in ("a", "b")]
        await turns()
        coming = [(name, bench.work(name, held=True)) for name in ("up", "down")]
        foresee(bench.answers, coming)
        await turns()
        assert bench.begun == ["a", "b"]
        bench.gates["a"].set()
        await asked[0]
        await turns()
        assert bench.begun == ["a", "b", "up"]
        # Asked while it is under way, it is waited for and not begun again.
        up = asyncio.ensure_future(bench.ask("up"))
        await turns()
        bench.gates["up"].set()
        assert await up == "lap of up"
        await turns()
        assert bench.begun == ["a", "b", "up", "down"]
        bench.gates["b"].set()
        assert await asked[1] == "lap of b"
        bench.gates["down"].set()

    run(story)


def test_what_was_foreseen_before_is_forgotten() -> None:
    async def story(bench: Bench) -> None:
        foresee(bench.answers, [(name, bench.work(name, held=True)) for name in ("a", "b")])
        foresee(bench.answers, [("c", bench.work("c"))])
        await turns()
        bench.gates["a"].set()
        await turns()
        assert bench.begun == ["a", "c"]
        foresee(bench.answers, [("a", bench.work("a"))])
        await turns()
        assert bench.begun == ["a", "c"]

    run(story)


def test_what_fails_is_told_and_tried_again() -> None:
    async def story(bench: Bench) -> None:
        async def fails() -> Answer:
            raise ValueError("not there")

        with pytest.raises(ValueError, match="not there"):
            await answer_to(bench.answers, "a", fails)
        assert await bench.ask("a") == "lap of a"
        foresee(bench.answers, [("b", fails), ("c", bench.work("c"))])
        await turns()
        assert "b" not in bench.answers.kept
        assert bench.begun == ["a", "c"]

    run(story)


def test_what_fails_late_takes_no_newer_answer_away() -> None:
    async def story(bench: Bench) -> None:
        gate = asyncio.Event()

        async def fails() -> Answer:
            await gate.wait()
            raise ValueError("not there")

        pushed_out = asyncio.ensure_future(answer_to(bench.answers, "a", fails))
        await turns()
        for number in range(KEPT_MOST):
            await bench.ask(str(number))
        assert await bench.ask("a") == "lap of a"
        gate.set()
        with pytest.raises(ValueError, match="not there"):
            await pushed_out
        await bench.ask("a")
        assert bench.begun.count("a") == 1

    run(story)


def test_no_more_are_kept_than_are_wanted() -> None:
    async def story(bench: Bench) -> None:
        for number in range(KEPT_MOST + 5):
            await bench.ask(str(number))
            await bench.ask("0")
        assert len(bench.answers.kept) == KEPT_MOST
        assert bench.begun.count("0") == 1

    run(story)


def test_steps_that_were_foreseen_are_answered_as_if_they_had_not_been(
    store: Store, client: Client
) -> None:
    solvers = start_solvers(composed("k4-dry"), count=2)
    wait(solvers.warmed)
    assert (processes_ready(solvers), processes_ready(None)) == (2, 0)
    where = {"revisions": client.get("/api/plans/1").json()["revisions"], "units": "feet"}
    steps = [[{"field": "grip", "value": value}] for value in (1.41, 1.42)]
    asked = [{**where, "changes": changes} for changes in steps]
    foreseen = {**where, "ways": steps}

    async def story(_: Bench) -> None:
        app = create_app(store, solvers=solvers)
        transport = httpx.ASGITransport(app=app)
        async with httpx.AsyncClient(transport=transport, base_url="http://127.0.0.1") as ahead:
            begun = await ahead.post("/api/plans/1/foresee", json=foreseen)
            assert begun.status_code == 204
            answers = [await ahead.post("/api/plans/1/what-if", json=body) for body in asked]
            assert len(app.state.answers.kept) == 2
        there = [client.post("/api/plans/1/what-if", json=body).json() for body in asked]
        assert [answer.json() for answer in answers] == there

    run(story)
    # Without processes of its own the application says yes, and waits until it is asked.
    assert client.post("/api/plans/1/foresee", json=foreseen).status_code == 204
    refused = client.post("/api/plans/1/foresee", json={**where, "ways": steps * 3})
    assert refused.status_code == 422
    stop_solvers(solvers)
