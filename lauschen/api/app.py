"""The staff listener: the JSON API under /api, and the built console."""

from functools import partial
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.exceptions import HTTPException
from starlette.requests import Request

from lauschen import __version__
from lauschen.api.desk import acting as desk_acting
from lauschen.api.desk import listed as desk_listed
from lauschen.api.desk import routes as desk
from lauschen.api.desk import slips
from lauschen.api.desk import today as desk_today
from lauschen.api.door import routes as door
from lauschen.api.door.errors import add_errors
from lauschen.api.door.guards import Guards
from lauschen.api.door.office import Office
from lauschen.api.examples import describe
from lauschen.api.guests import routes as guests
from lauschen.api.hosts import listed as hosts_listed
from lauschen.api.hosts import waiting as hosts_waiting
from lauschen.api.model import Problem
from lauschen.api.networks import routes as paths
from lauschen.api.networks import trusted
from lauschen.api.now import routes as now
from lauschen.api.passphrases import routes as passphrases
from lauschen.api.people import activity, own, programs
from lauschen.api.people import routes as people
from lauschen.api.rules import routes as placement
from lauschen.api.settings import privacy, receivers
from lauschen.api.settings import routes as config

CONSOLE = Path(__file__).parent / "console"
ROOMS = (
    door.router,
    now.router,
    desk.router,
    desk_acting.router,
    desk_listed.router,
    desk_today.router,
    slips.router,
    guests.router,
    paths.router,
    placement.router,
    trusted.router,
    hosts_listed.router,
    hosts_waiting.router,
    config.router,
    receivers.router,
    privacy.router,
    passphrases.router,
    people.router,
    own.router,
    programs.router,
    activity.router,
)


def make_app(office: Office | None) -> FastAPI:
    """The ASGI application; without an office only its description can be read."""
    app = FastAPI(
        title="Lauschen",
        version=__version__,
        docs_url=None,
        redoc_url=None,
        openapi_url=None,
        responses={422: {"model": Problem}},
    )
    app.state.office = office
    app.openapi = lambda: describe(app)  # type: ignore[method-assign]
    for room in ROOMS:
        app.include_router(room, prefix="/api")
    add_errors(app)
    if office is not None:
        _guard(app, office)
    if CONSOLE.is_dir():
        _serve_console(app)
    return app


def _guard(app: FastAPI, office: Office) -> None:
    app.add_middleware(
        Guards,
        host_names=office.host_names,
        who_asks=partial(_who_asks, office),
        monotonic=office.road.clock.monotonic,
        on_fault=lambda exc: office.road.faults.note("page", exc),
    )


def _who_asks(office: Office, request: Request) -> int | None:
    """Whose session or token a request has; what warms up at a start has none, and is let through."""
    if office.is_warming:
        return 0
    found = office.gate.of(request)
    return None if found is None else found.staff


def _serve_console(app: FastAPI) -> None:
    app.mount("/assets", StaticFiles(directory=CONSOLE / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    async def console(path: str) -> Response:
        if path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address.")
        return FileResponse(CONSOLE / "index.html", headers={"Cache-Control": "no-cache"})
