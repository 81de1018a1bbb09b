"""What endpoints ask for: the office, and who is signed in."""

from typing import TYPE_CHECKING, Annotated

from fastapi import Depends, Path, Query, Request

from lauschen.core.errors import NotThere
from lauschen.core.ids import Mac
from lauschen.core.words.mac import read_mac
from lauschen.store.staff import StaffSession

if TYPE_CHECKING:
    from lauschen.api.app import Office


LARGEST_ID = 2**53 - 1
"""What every reader of JSON holds exactly, and the database too."""


async def the_office(request: Request) -> "Office":
    office: Office = request.app.state.office
    return office


async def signed_in(request: Request) -> StaffSession:
    return (await the_office(request)).gate.signed_in(request)


async def device_in_path(mac: str) -> Mac:
    read = read_mac(mac)
    if read is None:
        raise NotThere("device")
    return read


Id = Annotated[int, Path(ge=0, le=LARGEST_ID)]
"""Of what an address names."""
Row = Annotated[int, Query(ge=0, le=LARGEST_ID)]
"""A row to go on from."""
Staff = Annotated[StaffSession, Depends(signed_in)]
Device = Annotated[Mac, Depends(device_in_path)]
