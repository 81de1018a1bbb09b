"""A registration on its way from the page: read, issued, and, where the house wants that, let in at once."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.acts.page.confirming import confirm_by_code
from lauschen.acts.page.registering import register, send_again
from lauschen.acts.page.trying import try_offer
from lauschen.core.actor import GUEST
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.self_registration import CONFIRMS, Delivery, SelfRegistration
from lauschen.portal.facts import Facts, Typed, barred_fault
from lauschen.portal.ways.register import CONFIRM, FORM, read_form, typed_answers
from lauschen.portal.words import catalogue, refusal
from lauschen.road.road import Road

LONGEST_DIGITS = 20
IN_AT_ONCE = CONFIRMS | {Delivery.AT_ONCE}


@dataclass(frozen=True, slots=True)
class Registrations:
    """Of the guests of one page."""

    road: Road

    async def take(
        self, facts: Facts, unverified: Mapping[str, str], lang: str, source: str, *, is_again: bool = False
    ) -> Typed | None:
        """None when all is well; else what was typed, and what is wrong with it. NotThere who may not.

        `is_again`: it is only to be sent once more.
        """
        way = facts.network.way(WayIn.SELF_REGISTRATION)
        if not isinstance(way, SelfRegistration):
            return Typed("", catalogue(lang)["register_way_gone"], FORM)
        try:
            if is_again:
                await self.road.act(lambda tx: send_again(tx, facts.visit_id, source), by=GUEST)
                return None
            form = read_form(unverified, facts, way, lang)
            made = await self.road.act(lambda tx: register(tx, facts.visit_id, source, form), by=GUEST)
        except NotThere:
            raise
        except Invalid as exc:
            fault = catalogue(lang).find(f"register_{exc.code}") or catalogue(lang)["register_refused"]
            return Typed("", fault, FORM, typed_answers(unverified, way), exc.field)
        if made.wait_s:
            await self.road.clock.sleep(made.wait_s)
        if form.delivery not in IN_AT_ONCE:
            return None
        offer = Code("", made.code)
        tried = await self.road.act(
            lambda tx: try_offer(tx, facts.visit_id, offer, source), by=GUEST, holds_wishes=True
        )
        if tried.reason is Reason.ADMITTED:
            return None
        # They typed no code, nor did those who agree: the same sentences name none.
        return Typed("", refusal(lang, tried.reason, "click_through"), FORM)

    async def confirm(self, facts: Facts, code: str, lang: str, source: str) -> Typed | None:
        """The digits that were sent to the address of this visit; wrong ones count as wrong codes."""
        digits = "".join(str(int(sign)) for sign in code[:LONGEST_DIGITS] if sign.isdecimal())
        try:
            tried = await self.road.act(
                lambda tx: confirm_by_code(tx, facts.visit_id, source, digits), by=GUEST, holds_wishes=True
            )
        except NotThere:
            raise
        except Invalid:
            return Typed("", catalogue(lang)["confirm_late"], CONFIRM)
        if tried.wait_s:
            await self.road.clock.sleep(tried.wait_s)
        if tried.reason is Reason.ADMITTED:
            return None
        until = tried.barred_until
        if until is not None and until > facts.now:
            return Typed("", barred_fault(facts, lang, until), CONFIRM)
        return Typed("", catalogue(lang)["confirm_wrong"], CONFIRM)
