"""What the framework makes at the first request of an endpoint is made before anything listens."""

from importlib import import_module

from fastapi import FastAPI
from starlette.types import Message

from lauschen.api.door.office import Office


async def warm_up(app: FastAPI, office: Office) -> None:
    """Asks each endpoint once, as nobody who is signed in: that holds the loop for up to 100 ms, and nobody waits.

    Nothing comes of it: everything but signing in itself needs a session, and that has an empty body here.
    Then everybody who is here is read, for lists.
    """
    import_module("anyio._backends._asyncio")  # at the first live view otherwise
    host = next(iter(office.host_names)).encode()
    office.is_warming = True
    try:
        for path, methods in app.openapi()["paths"].items():
            for method in methods:
                await _ask(app, host, method.upper(), path)
    finally:
        office.is_warming = False
    await office.kept.bring_up_to_date()


async def _ask(app: FastAPI, host: bytes, method: str, path: str) -> None:
    parts = ["0" if part.startswith("{") else part for part in path.split("/")]
    filled = "/".join(parts)

    async def receive() -> Message:
        return {"type": "http.request", "body": b"{}", "more_body": False}

    async def send(_: Message) -> None:
        pass

    scope = {
        "type": "http",
        "asgi": {"version": "3.0"},
        "http_version": "1.1",
        "method": method,
        "scheme": "http",
        "path": filled,
        "raw_path": filled.encode(),
        "root_path": "",
        "query_string": b"",
        "headers": [(b"host", host), (b"content-type", b"application/json")],
        "client": ("127.0.0.1", 0),
        "server": ("127.0.0.1", 0),
    }
    await app(scope, receive, send)
