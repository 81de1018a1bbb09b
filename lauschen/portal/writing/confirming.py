"""The page that a link in a message leads to. Reading it changes nothing (rulings 6.5): a button confirms."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import ClassVar

from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lauschen.acts.page.confirming import confirm_by_link
from lauschen.core.actor import GUEST
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.words.mac import spell_mac
from lauschen.portal.page import Page, render
from lauschen.portal.ways.register import address_of, blurred
from lauschen.portal.words import choose_language, clock_words
from lauschen.road.road import Road
from lauschen.store.messages import registrations

LONGEST_LINK = 64


@dataclass(frozen=True, slots=True)
class ConfirmButton:
    """The button, which posts to the very address that was opened."""

    template: ClassVar[str] = "parts/confirm_button.html"


@dataclass(frozen=True, slots=True)
class Confirmations:
    """By link, from wherever it is opened."""

    road: Road
    reader: Connection

    async def answer(self, request: Request) -> Response:
        """GET and HEAD show the page, whoever opens it; POST is the button."""
        link = request.path_params["link"][:LONGEST_LINK]
        lang = choose_language(request.headers.get("accept-language", ""), request.query_params.get("lang"))
        if request.method == "POST":
            return HTMLResponse(render(await self.press(link, lang)))
        return HTMLResponse(render(self.show(link, lang, self.road.clock.now())))

    def show(self, link: str, lang: str, now: float) -> Page:
        """Which address, on which device and since when, so that nobody confirms for a stranger unawares."""
        config = self.road.config
        page = Page(lang, config.site_name)
        found = registrations.by_link(self.reader, self.road.keys, link)
        if found is None:
            page.heading, page.notes = page.words["confirm_gone_title"], [page.words["confirm_gone"]]
            return page
        if found.confirmed_at is not None:
            page.heading, page.notes = page.words["confirmed_title"], [page.words["confirmed_before"]]
            return page
        page.heading = page.words["confirm_title"]
        network = config.networks.get(found.network)
        page.notes = [
            page.words["confirm_asks"].format(
                to=blurred(address_of(found.delivery, found.answers)),
                network=network.shown_as if network is not None else config.site_name,
                device=spell_mac(found.mac),
                since=clock_words(found.at, now, config.zone, lang),
            )
        ]
        page.parts = [ConfirmButton()]
        return page

    async def press(self, link: str, lang: str) -> Page:
        """The button was pressed."""
        page = Page(lang, self.road.config.site_name)
        try:
            await self.road.act(lambda tx: confirm_by_link(tx, link), by=GUEST)
        except NotThere:
            page.heading, page.notes = page.words["confirm_gone_title"], [page.words["confirm_gone"]]
        except Invalid:
            page.heading, page.notes = page.words["confirm_gone_title"], [page.words["confirm_late"]]
        else:
            page.heading, page.notes = page.words["confirmed_title"], [page.words["confirmed"]]
        return page
