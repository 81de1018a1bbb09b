"""What endpoints ask for: the office, who acts and what that takes, and what an address names.

Every endpoint states its need by one dependency (rulings 8.8); a route without one is a failed test.
"""

from collections.abc import Callable, Coroutine
from typing import Annotated, Any

from fastapi import Depends, Header, Path, Query, Request, Response
from fastapi.routing import APIRoute

from lauschen.api.door.gate import client_of
from lauschen.api.door.office import Office
from lauschen.api.model import LARGEST
from lauschen.core.actor import Actor, person, program
from lauschen.core.errors import LauschenError, NotThere
from lauschen.core.ids import Mac
from lauschen.core.people.duties import MAY, Duty, Need
from lauschen.core.words.mac import read_mac
from lauschen.http.bodies import read_object
from lauschen.http.limits import LARGEST_BODY
from lauschen.store.people.sessions import StaffSession


class NotTheirs(LauschenError):
    """What somebody's duty does not let them do."""

    def __init__(self, duty: Duty | None) -> None:
        """None: it is for people alone, and a program asks."""
        super().__init__(_REFUSED[duty])


_REFUSED = {
    None: "This is for people who sign in, not for a program.",
    Duty.DESK: "This is not for the desk. An administrator of the house can do it.",
    Duty.AUDITOR: "Auditors see everything and change nothing.",
}


class Needs:
    """A dependency that gives who acts, or refuses by their duty."""

    def __init__(self, need: Need) -> None:
        self.need = need

    async def __call__(self, request: Request) -> Actor | None:
        """Once for each request, however often it is asked."""
        if not hasattr(request.state, "actor"):
            request.state.actor = await self._asked(request)
        actor: Actor | None = request.state.actor
        return actor

    async def _asked(self, request: Request) -> Actor | None:
        if self.need is Need.NOTHING:
            return None
        gate = (await the_office(request)).gate
        found = gate.session(request) if self.need is Need.SESSION else gate.signed_in(request)
        if self.need not in MAY[found.duty]:
            raise NotTheirs(found.duty)
        if not found.is_program:
            return person(found.staff, client_of(request))
        if self.need is Need.SESSION:
            raise NotTheirs(None)
        await gate.note_program(found.staff)
        return program(found.staff, client_of(request))


class NeedFirst(APIRoute):
    """Asks who acts before the body is read: FastAPI would parse megabytes first, and refuse then."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        answer = super().get_route_handler()
        has_form = self.body_field is not None
        needs = [one.call for one in self.dependant.dependencies if isinstance(one.call, Needs)]

        async def ask_first(request: Request) -> Response:
            for need in needs:
                await need(request)
            if has_form:
                await _read_beside(request)
            return await answer(request)

        return ask_first


async def _read_beside(request: Request) -> None:
    """Has a large body read by the worker; FastAPI then finds it read."""
    octets = await request.body()
    if len(octets) > LARGEST_BODY:
        office = await the_office(request)
        request._json = await office.worker.run(read_object, octets)


async def the_office(request: Request) -> Office:
    office: Office = request.app.state.office
    return office


async def the_session(request: Request) -> StaffSession:
    return (await the_office(request)).gate.session(request)


async def device_in_path(mac: str) -> Mac:
    read = read_mac(mac)
    if read is None:
        raise NotThere("device")
    return read


Id = Annotated[int, Path(ge=0, le=LARGEST)]
"""Of what an address names."""
Row = Annotated[int, Query(ge=0, le=LARGEST)]
"""A row to go on from."""
Key = Annotated[str | None, Header(alias="Idempotency-Key", min_length=1, max_length=200)]
"""A name that a request to issue gives itself: under it nothing is issued twice."""
Device = Annotated[Mac, Depends(device_in_path)]
TheOffice = Annotated[Office, Depends(the_office)]
TheSession = Annotated[StaffSession, Depends(the_session)]

Anybody = Annotated[None, Depends(Needs(Need.NOTHING))]
Session = Annotated[Actor, Depends(Needs(Need.SESSION))]
Looks = Annotated[Actor, Depends(Needs(Need.LOOK))]
Inspects = Annotated[Actor, Depends(Needs(Need.INSPECT))]
Issues = Annotated[Actor, Depends(Needs(Need.ISSUE))]
Helps = Annotated[Actor, Depends(Needs(Need.HELP))]
Configures = Annotated[Actor, Depends(Needs(Need.CONFIGURE))]
