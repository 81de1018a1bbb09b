"""What messages lead to, from wherever they are opened: pages by a link that is all that whoever opens it has."""

from collections.abc import Awaitable, Callable
from sqlite3 import Connection

from starlette.requests import Request
from starlette.responses import Response

from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.portal.hosts.answers import HostAnswers
from lauschen.portal.hosts.own_pages import OwnPages
from lauschen.portal.keys.own_key import OwnKeyPage
from lauschen.portal.writing.confirming import Confirmations
from lauschen.road.road import Road


def linked_pages(
    road: Road, reader: Connection, makers: KeyMakers
) -> list[tuple[str, Callable[[Request], Awaitable[Response]]]]:
    """Each with its path."""
    return [
        ("/confirm/{link}", Confirmations(road, reader).answer),
        ("/host/{link}", HostAnswers(road, reader).answer),
        ("/hosts/{link}", OwnPages(road, reader).answer),
        ("/keys/{link}", OwnKeyPage(road, reader, makers).answer),
    ]
