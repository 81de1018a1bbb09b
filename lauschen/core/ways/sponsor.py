"""Sponsor: a guest names a host, who vouches for them from a phone; what they give has a code of its own."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import HostId, PlanId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import MINUTE_S, Offering
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.fields import NAME, Field, check_fields

FEWEST_WAIT, MOST_WAIT = 2, 24 * 60
MOST_DOMAINS = 20
LONGEST_DOMAIN = 253
MOST_LISTED = 150
"""More hosts than that nobody looks through on a phone, and the page would grow too large: a name is typed then."""


class Naming(StrEnum):
    """How a guest says who their host is."""

    LIST = "list"
    """Chosen from the list of hosts, which everybody at the page sees."""
    NAME = "name"
    """A name or a mail address is typed; nobody is told whether there is such a host."""
    DOMAIN = "domain"
    """A mail address in one of the house's own domains is typed; it need not be on the list."""


@dataclass(frozen=True, slots=True)
class Sponsor(Offering):
    """Its settings on a network."""

    plan: PlanId
    """What a host gives who may give nothing else."""
    fields: tuple[Field, ...] = (Field(NAME, is_required=True),)
    """What the host reads about the guest, besides whom they named."""
    naming: Naming = Naming.LIST
    domains: tuple[str, ...] = ()
    wait_minutes: int = 30
    """So long a host has to answer."""
    remind_minutes: int = 10
    """After so long they are reminded; 0: never."""
    stand_in: HostId | None = None
    """Asked when the time of the first is over; None: then it is over for the guest too."""
    asks_consent: bool = False
    """Whether there is a box for being written to."""
    way: ClassVar[WayIn] = WayIn.SPONSOR

    @property
    def wait_s(self) -> float:
        return float(self.wait_minutes * MINUTE_S)

    @property
    def remind_s(self) -> float | None:
        """None: nobody is reminded."""
        is_in_time = 0 < self.remind_minutes < self.wait_minutes
        return float(self.remind_minutes * MINUTE_S) if is_in_time else None

    def takes(self, mail: str) -> bool:
        """Whether an address is in one of the domains, whatever its case."""
        name, at, domain = mail.rpartition("@")
        return bool(name and at) and domain.casefold() in self.domains

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """By the code that was given once a host said yes."""
        if isinstance(offer, Code) and offer.signs is not None:
            yield Lead(Finder("code", offer.signs))


def check_sponsor(way: Sponsor) -> None:
    """Invalid says what of it cannot be."""
    check_fields(way.fields)
    if not FEWEST_WAIT <= way.wait_minutes <= MOST_WAIT:
        mend = f"A host has {FEWEST_WAIT} to {MOST_WAIT} minutes to answer."
        raise Invalid("wait_minutes", field="ways", mend=mend)
    if way.remind_minutes and not 0 < way.remind_minutes < way.wait_minutes:
        mend = "A reminder comes while there is time to answer; 0 for none."
        raise Invalid("remind_minutes", field="ways", mend=mend)
    if way.naming is not Naming.DOMAIN:
        return
    if not 1 <= len(way.domains) <= MOST_DOMAINS:
        mend = f"1 to {MOST_DOMAINS} domains, such as hollerau.example."
        raise Invalid("domains", field="ways", mend=mend)
    for domain in way.domains:
        parts = domain.split(".")
        if len(domain) > LONGEST_DOMAIN or len(parts) < 2 or not all(parts) or set(domain) & set("@ *"):
            mend = (
                f"{domain[:40] or 'Nothing'} is no domain: what stands after the @, such as hollerau.example."
            )
            raise Invalid("domain", field="ways", mend=mend)
