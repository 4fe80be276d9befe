"""Requests to an application in this process, without a network."""

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import anyio
import httpx

from neapfrost.api.app import create_app
from neapfrost.services.laps.solver_processes import Solvers
from neapfrost.store.database import Store


class Client:
    """Sends one request after the other to an application on a store."""

    def __init__(
        self, store: Store, host: str = "127.0.0.1:8765", solvers: Solvers | None = None
    ) -> None:
        self.app = create_app(store, solvers=solvers)
        self.host = host

    def request(self, method: str, path: str, **request: Any) -> httpx.Response:
        async def send() -> httpx.Response:
            transport = httpx.ASGITransport(app=self.app)
            address = f"http://{self.host}"
            async with httpx.AsyncClient(transport=transport, base_url=address) as client:
                return await client.request(method, path, **request)

        # In a thread of its own: a browser test before this one leaves a loop in the main thread.
        with ThreadPoolExecutor(1) as thread:
            return thread.submit(anyio.run, send).result()

    def get(self, path: str, **request: Any) -> httpx.Response:
        return self.request("GET", path, **request)

    def post(self, path: str, **request: Any) -> httpx.Response:
        return self.request("POST", path, **request)

    def put(self, path: str, **request: Any) -> httpx.Response:
        return self.request("PUT", path, **request)

    def delete(self, path: str, **request: Any) -> httpx.Response:
        return self.request("DELETE", path, **request)
