"""The staff listener: the JSON API under /api, its errors as RFC 9457 problems, and the built console."""

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from sqlite3 import Connection

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException

from lauschen import __version__
from lauschen.acts.moving.moves import Wake
from lauschen.api.desk import routes as desk
from lauschen.api.door import routes as session
from lauschen.api.door.auth import Gate, NotFromHere, Passwords, SignInNeeded, session_token
from lauschen.api.door.guards import Guards, problem
from lauschen.api.door.shared import Shared
from lauschen.api.door.tries import SignInTries
from lauschen.api.guests import routes as guests
from lauschen.api.models import Problem
from lauschen.api.now import routes as now
from lauschen.api.paths import routes as paths
from lauschen.api.shapes import Shaper
from lauschen.core.errors import Invalid, NotThere, Unavailable
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.road.worker import Worker
from lauschen.store import staff

CONSOLE = Path(__file__).parent / "console"


@dataclass(slots=True)
class Office:
    """What the endpoints work with."""

    road: Road
    registry: Registry
    reader: Connection
    wake: Wake
    worker: Worker
    database: Path
    key_file: Path
    host_names: frozenset[str]
    gate: Gate
    passwords: Passwords
    is_closing: Callable[[], bool]
    ports: dict[str, int]
    """Where RADIUS is heard: `auth`, `acct` and, if it is, `tls`."""
    radius_host: str
    is_warming: bool = False
    """Nothing listens yet (warm.py)."""
    feeds: int = 0
    """Live views that are open."""
    now_shown: Shared = field(init=False)
    """The picture of now, made once for all that look."""
    guests_shown: Shared = field(init=False)

    def __post_init__(self) -> None:
        self.now_shown, self.guests_shown = (
            Shared(lambda: self.road.feed.revision, self.road.clock.monotonic) for _ in range(2)
        )

    def shaper(self) -> Shaper:
        return Shaper(self.road.house, self.road.keys, self.reader, self.road.clock.now())


def make_office(
    road: Road,
    registry: Registry,
    reader: Connection,
    wake: Wake,
    worker: Worker,
    *,
    database: Path,
    key_file: Path,
    host_names: frozenset[str],
    is_closing: Callable[[], bool],
    ports: dict[str, int],
    radius_host: str,
) -> Office:
    passwords = Passwords()
    gate = Gate(road, lambda token, at: staff.find_session(reader, token, at), passwords, SignInTries())
    return Office(
        road,
        registry,
        reader,
        wake,
        worker,
        database,
        key_file,
        host_names,
        gate,
        passwords,
        is_closing,
        ports,
        radius_host,
    )


def make_app(office: Office | None) -> FastAPI:
    """The ASGI application; without an office only its description can be read."""
    app = FastAPI(
        title="Lauschen",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        responses={422: {"model": Problem}},
    )
    app.state.office = office
    for part in (session, now, desk, guests, paths):
        app.include_router(part.router, prefix="/api")
    _add_errors(app)
    if office is not None:
        _guard(app, office)
    if CONSOLE.is_dir():
        _serve_console(app)
    return app


def _guard(app: FastAPI, office: Office) -> None:
    app.add_middleware(
        Guards,
        host_names=office.host_names,
        is_signed_in=lambda request: office.is_warming or office.gate.of(session_token(request)) is not None,
        monotonic=office.road.clock.monotonic,
        on_fault=lambda exc: office.road.faults.note("page", exc),
    )


def _add_errors(app: FastAPI) -> None:
    @app.exception_handler(RequestValidationError)
    async def unreadable(_: Request, exc: RequestValidationError) -> JSONResponse:
        first = exc.errors()[0]
        field = ".".join(str(part) for part in first["loc"][1:]) or str(first["loc"][0])
        return problem(
            422, "not_readable", "Something in there is not right", f"{field}: {first['msg']}", field
        )

    @app.exception_handler(Invalid)
    async def invalid(_: Request, exc: Invalid) -> JSONResponse:
        status = 404 if isinstance(exc, NotThere) else 422
        return problem(status, exc.code, "That does not work", exc.mend, exc.field)

    @app.exception_handler(SignInNeeded)
    async def sign_in(_: Request, exc: SignInNeeded) -> JSONResponse:
        return problem(401, exc.code, "Sign in", exc.mend)

    @app.exception_handler(NotFromHere)
    async def foreign(_: Request, exc: NotFromHere) -> JSONResponse:
        return problem(403, "not_from_here", "That did not come from this console", str(exc))

    @app.exception_handler(Unavailable)
    async def unavailable(_: Request, exc: Unavailable) -> JSONResponse:
        return problem(503, f"{exc.what}_unavailable", "Not now", exc.meanwhile)

    @app.exception_handler(HTTPException)
    async def other(_: Request, exc: HTTPException) -> JSONResponse:
        return problem(exc.status_code, "http", str(exc.detail), str(exc.detail))


def _serve_console(app: FastAPI) -> None:
    app.mount("/assets", StaticFiles(directory=CONSOLE / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    async def console(path: str) -> Response:
        if path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address.")
        return FileResponse(CONSOLE / "index.html", headers={"Cache-Control": "no-cache"})
