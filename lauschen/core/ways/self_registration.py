"""Self-registration: guests write themselves in, and get a code of their own by the way that the house offers."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import PlanId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.fields import MAIL, NAME, PHONE, Field, check_fields

FEWEST_MINUTES, MOST_MINUTES = 3, 240


class Delivery(StrEnum):
    """How a guest gets the code."""

    AT_ONCE = "at_once"
    """In at once; the code, for further devices, stands on the page."""
    PAGE = "page"
    """It is shown on the page, to be kept, and lets in by a button."""
    MAIL = "mail"
    TEXT = "text"
    CONFIRM_MAIL = "confirm_mail"
    """In at once for a first stay; for the rest once a mail was read, which holds a link and six digits."""
    CONFIRM_TEXT = "confirm_text"
    """The same by text message."""


@dataclass(frozen=True, slots=True)
class SelfRegistration(Offering):
    """Its settings on a network."""

    plan: PlanId
    fields: tuple[Field, ...] = (Field(NAME, is_required=True),)
    """In the order of the form; what is not asked is not among them."""
    deliveries: tuple[Delivery, ...] = (Delivery.PAGE,)
    """Those that a guest may choose from, the first one chosen at first."""
    first_minutes: int = 15
    """The first stay of who must confirm an address."""
    asks_consent: bool = False
    """Whether there is a box for being written to."""
    way: ClassVar[WayIn] = WayIn.SELF_REGISTRATION

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the code that was given to who wrote themselves in."""
        if isinstance(offer, Code) and offer.signs is not None:
            yield Lead(Finder("code", offer.signs))


SENT = frozenset({Delivery.MAIL, Delivery.TEXT})
"""Whoever reads the message has the code; the page does not show it."""
CONFIRMS = frozenset({Delivery.CONFIRM_MAIL, Delivery.CONFIRM_TEXT})
NEEDS: Mapping[Delivery, str] = {
    Delivery.MAIL: MAIL,
    Delivery.CONFIRM_MAIL: MAIL,
    Delivery.TEXT: PHONE,
    Delivery.CONFIRM_TEXT: PHONE,
}
"""The field without which a delivery cannot be chosen."""


def check_registration(way: SelfRegistration) -> None:
    """Invalid says what of the form cannot be."""
    check_fields(way.fields)
    keys = [one.key for one in way.fields]
    if not FEWEST_MINUTES <= way.first_minutes <= MOST_MINUTES:
        mend = f"A first stay of {FEWEST_MINUTES} to {MOST_MINUTES} minutes."
        raise Invalid("first_minutes", field="ways", mend=mend)
    if not way.deliveries or len(set(way.deliveries)) < len(way.deliveries):
        raise Invalid("deliveries", field="ways", mend="Say how guests get their code.")
    for delivery in way.deliveries:
        needed = NEEDS.get(delivery)
        if needed is not None and needed not in keys:
            what = "mail address" if needed == MAIL else "phone number"
            mend = f"To send the code, the form must ask for the {what}."
            raise Invalid("delivery_field", field="ways", mend=mend)
