"""What goes wrong, as problem details (RFC 9457)."""

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from lauschen.api.door.asking import NotTheirs
from lauschen.api.door.gate import NotFromHere, SignInNeeded
from lauschen.api.model import Problem
from lauschen.core.errors import Invalid, NotThere, Unavailable


def problem(status: int, code: str, title: str, detail: str, field: str | None = None) -> JSONResponse:
    """RFC 9457 problem details."""
    body = Problem(title=title, status=status, detail=detail, code=code, field=field)
    return JSONResponse(body.model_dump(), status, media_type="application/problem+json")


def add_errors(app: FastAPI) -> None:
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

    @app.exception_handler(NotTheirs)
    async def not_theirs(_: Request, exc: NotTheirs) -> JSONResponse:
        return problem(403, "not_theirs", "That is for somebody else here", str(exc))

    @app.exception_handler(Unavailable)
    async def unavailable(_: Request, exc: Unavailable) -> JSONResponse:
        return problem(503, f"{exc.what}_unavailable", "Not now", exc.meanwhile)

    @app.exception_handler(HTTPException)
    async def other(_: Request, exc: HTTPException) -> JSONResponse:
        return problem(exc.status_code, "http", str(exc.detail), str(exc.detail))
