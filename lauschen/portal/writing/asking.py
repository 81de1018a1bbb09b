"""A guest who asks for a host, on the way from the page."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.acts.hosts.asking import ask_host, take_back
from lauschen.core.actor import GUEST
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.sponsor import Sponsor
from lauschen.portal.facts import Facts, Typed
from lauschen.portal.ways.form import typed_in
from lauschen.portal.ways.sponsor import FORM, HOST, read_request
from lauschen.portal.words import catalogue
from lauschen.road.road import Road


@dataclass(frozen=True, slots=True)
class Askings:
    """Of the guests of one page."""

    road: Road

    async def ask(self, facts: Facts, unverified: Mapping[str, str], lang: str, source: str) -> Typed | None:
        """None when somebody will be asked; else what was typed, and what is wrong with it."""
        way = facts.network.way(WayIn.SPONSOR)
        if not isinstance(way, Sponsor):
            return Typed("", catalogue(lang)["register_way_gone"], FORM)
        try:
            request = read_request(unverified, facts, way, lang)
            wait = await self.road.act(lambda tx: ask_host(tx, facts.visit_id, source, request), by=GUEST)
        except NotThere:
            raise
        except Invalid as exc:
            words = catalogue(lang)
            fault = words.find(f"sponsor_{exc.code}") or words.find(f"register_{exc.code}")
            return Typed(
                "",
                fault or words["register_refused"],
                FORM,
                typed_in(unverified, way.fields, (HOST,)),
                exc.field,
            )
        if wait:
            await self.road.clock.sleep(wait)
        return None

    async def take_back(self, facts: Facts, source: str) -> None:
        await self.road.act(lambda tx: take_back(tx, facts.visit_id, source), by=GUEST)
