"""The least that the same HTTP server can do: one short answer, nothing looked at."""

import uvicorn
import uvloop

from lauschen.http.server import listen

HEADERS = [(b"content-type", b"text/plain"), (b"content-length", b"5")]


async def hello(scope: dict, receive: object, send: object) -> None:  # type: ignore[type-arg]
    await send({"type": "http.response.start", "status": 200, "headers": HEADERS})  # type: ignore[operator]
    await send({"type": "http.response.body", "body": b"hello"})  # type: ignore[operator]


async def serve() -> None:
    (sock,) = listen(["127.0.0.1"], 0)
    config = uvicorn.Config(
        hello, loop="none", lifespan="off", log_config=None, access_log=False, timeout_keep_alive=60
    )
    print(sock.getsockname()[1], flush=True)
    await uvicorn.Server(config).serve(sockets=[sock])


if __name__ == "__main__":
    uvloop.run(serve())
