"""What endpoints ask for: the office, who acts and what that takes, and what an address names.

Every endpoint states its need by one dependency (rulings 8.8); a route without one is a failed test.
"""

from enum import StrEnum
from typing import Annotated

from fastapi import Depends, Path, Query, Request

from lauschen.api.door.office import Office
from lauschen.core.actor import Actor, person
from lauschen.core.errors import NotThere
from lauschen.core.ids import Mac
from lauschen.core.words.mac import read_mac
from lauschen.store.staff import StaffSession

LARGEST_ID = 2**53 - 1
"""What every reader of JSON holds exactly, and the database too."""


class Need(StrEnum):
    """What somebody must be allowed to."""

    NOTHING = "nothing"
    """Open to all: that is how people sign in."""
    SESSION = "session"
    """To be signed in, also while the first password waits to be changed."""
    LOOK = "look"
    ISSUE = "issue"
    HELP = "help"
    """Change what one guest has: give time, end, bar, withdraw."""
    CONFIGURE = "configure"


class Needs:
    """A dependency that gives who acts, or refuses; everybody who is signed in may do everything so far."""

    def __init__(self, need: Need) -> None:
        self.need = need

    async def __call__(self, request: Request) -> Actor | None:
        if self.need is Need.NOTHING:
            return None
        gate = (await the_office(request)).gate
        found = gate.session(request) if self.need is Need.SESSION else gate.signed_in(request)
        return person(found.staff)


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


Id = Annotated[int, Path(ge=0, le=LARGEST_ID)]
"""Of what an address names."""
Row = Annotated[int, Query(ge=0, le=LARGEST_ID)]
"""A row to go on from."""
Device = Annotated[Mac, Depends(device_in_path)]
TheOffice = Annotated[Office, Depends(the_office)]
TheSession = Annotated[StaffSession, Depends(the_session)]

Anybody = Annotated[None, Depends(Needs(Need.NOTHING))]
Session = Annotated[Actor, Depends(Needs(Need.SESSION))]
Looks = Annotated[Actor, Depends(Needs(Need.LOOK))]
Issues = Annotated[Actor, Depends(Needs(Need.ISSUE))]
Helps = Annotated[Actor, Depends(Needs(Need.HELP))]
Configures = Annotated[Actor, Depends(Needs(Need.CONFIGURE))]
