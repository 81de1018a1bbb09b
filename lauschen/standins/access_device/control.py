"""The control interface of the stand-in, for tests and the demo: JSON over HTTP on loopback."""

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from lauschen.core.words.mac import spell_mac
from lauschen.road.clock import MovableClock
from lauschen.standins.access_device.device import AccessPoint, Phone

ANSWERS = ("normal", "nak", "silence")


class Control:
    """Join, leave, report now, advance the clock, answer with NAK or silence, lose packets."""

    def __init__(self, phones: list[tuple[AccessPoint, Phone]], clock: MovableClock) -> None:
        """Each phone with the access point that it joins; answers and losses are those of the first one."""
        self._access_point = phones[0][0]
        self._phones = phones
        self._clock = clock

    def app(self) -> Starlette:
        return Starlette(
            routes=[
                Route("/state", self.state),
                Route("/phones/{number:int}/join", self.join, methods=["POST"]),
                Route("/phones/{number:int}/leave", self.leave, methods=["POST"]),
                Route("/phones/{number:int}/report", self.report, methods=["POST"]),
                Route("/phones/{number:int}/until/{filter_name}", self.until, methods=["POST"]),
                Route("/clock/advance/{seconds:int}", self.advance, methods=["POST"]),
                Route("/answer/{how}", self.answer, methods=["POST"]),
                Route("/lose/{packets:int}", self.lose, methods=["POST"]),
            ]
        )

    async def state(self, _: Request) -> Response:
        return JSONResponse(
            {
                "now": self._clock.now(),
                "answer": self._access_point.radio.manners.answer,
                "changes_heard": len(self._access_point.radio.changes_heard),
                "phones": [_describe(phone) for _, phone in self._phones],
            }
        )

    async def join(self, request: Request) -> Response:
        point, phone = self._phone(request)
        return JSONResponse({"joined": await point.join(phone), **_describe(phone)})

    async def leave(self, request: Request) -> Response:
        point, phone = self._phone(request)
        await point.leave(phone)
        return JSONResponse(_describe(phone))

    async def report(self, request: Request) -> Response:
        point, phone = self._phone(request)
        await point.report_now(phone)
        return JSONResponse(_describe(phone))

    async def until(self, request: Request) -> Response:
        """Answers once this phone was placed with this filter: an event to wait for instead of sleeping."""
        (point, phone), wanted = self._phone(request), request.path_params["filter_name"]
        await point.until(lambda: phone.session is not None and phone.session.placement.filter_name == wanted)
        return JSONResponse(_describe(phone))

    async def advance(self, request: Request) -> Response:
        self._clock.advance(float(request.path_params["seconds"]))
        return JSONResponse({"now": self._clock.now()})

    async def answer(self, request: Request) -> Response:
        how = request.path_params["how"]
        if how not in ANSWERS:
            return JSONResponse({"answers": ANSWERS}, 422)
        self._access_point.radio.manners.answer = how
        return JSONResponse({"answer": how})

    async def lose(self, request: Request) -> Response:
        manners = self._access_point.radio.manners
        manners.lose_requests = manners.lose_replies = request.path_params["packets"]
        return JSONResponse({"lose_requests": manners.lose_requests, "lose_replies": manners.lose_replies})

    def _phone(self, request: Request) -> tuple[AccessPoint, Phone]:
        number: int = request.path_params["number"]
        return self._phones[number - 1]


def _describe(phone: Phone) -> dict[str, object]:
    session = phone.session
    return {
        "mac": spell_mac(phone.mac),
        "ip": phone.ip,
        "associated": session is not None,
        "filter": session.placement.filter_name if session else None,
        "vlan": session.placement.vlan if session else None,
        "session": session.id if session else None,
        "session_timeout": session.placement.session_timeout if session else None,
        "octets_in": session.octets_in if session else 0,
        "octets_out": session.octets_out if session else 0,
    }
