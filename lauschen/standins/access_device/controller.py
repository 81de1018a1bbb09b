"""A stand-in controller: admits and ends devices of its access points by HTTP calls instead of RADIUS."""

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from lauschen.core.words.mac import read_mac
from lauschen.standins.access_device.device import ADMIN_RESET, AccessPoint

KEY = "plum-and-pine-call-key"


class Controller:
    """`POST /admit` with mac, filter and seconds; `POST /end` with mac; both with the key in a header."""

    def __init__(self, point: AccessPoint) -> None:
        self._point = point
        self.calls: list[tuple[str, dict[str, object]]] = []
        self.answers_with = 200

    def app(self) -> Starlette:
        return Starlette(
            routes=[
                Route("/admit", self.admit, methods=["POST"]),
                Route("/end", self.end, methods=["POST"]),
            ]
        )

    async def admit(self, request: Request) -> Response:
        body = await self._heard("admit", request)
        if isinstance(body, Response):
            return body
        phone = self._point.phones.get(read_mac(str(body["mac"])))  # type: ignore[arg-type]
        if phone is None or phone.session is None:
            return JSONResponse({"result": "unknown device"}, 200)
        placement = phone.session.placement
        placement.filter_name, placement.redirect = str(body["filter"]), None
        placement.session_timeout = int(str(body["seconds"])) or None
        await self._point.placed_anew(phone, phone.session, placement)
        return JSONResponse({"result": "done"})

    async def end(self, request: Request) -> Response:
        body = await self._heard("end", request)
        if isinstance(body, Response):
            return body
        phone = self._point.phones.get(read_mac(str(body["mac"])))  # type: ignore[arg-type]
        if phone is not None:
            self._point.spawn(self._point.end(phone, ADMIN_RESET))
        return JSONResponse({"result": "done"})

    async def _heard(self, what: str, request: Request) -> dict[str, object] | Response:
        if request.headers.get("x-key") != KEY:
            return JSONResponse({"result": "no"}, 403)
        body: dict[str, object] = await request.json()
        self.calls.append((what, body))
        if self.answers_with != 200:
            return JSONResponse({"result": "no"}, self.answers_with)
        return body
