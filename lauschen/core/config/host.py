"""Hosts: people of the house who may vouch for guests, and how one is found by what a guest types."""

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass

from lauschen.core.ids import HostId, NetworkId, PlanId

SHORTEST_WORD = 3
"""Fewer letters say nobody's name."""
_TITLES = frozenset({"dr", "prof", "mag", "ing", "dipl", "msc", "mr", "mrs", "ms", "herr", "frau"})


@dataclass(frozen=True, slots=True)
class Host:
    """One of them, and what they may give."""

    id: HostId
    name: str
    mail: str
    department: str = ""
    lang: str = "en"
    """Of what is written to them."""
    networks: tuple[NetworkId, ...] = ()
    """Where they may vouch; none: everywhere."""
    plans: tuple[PlanId, ...] = ()
    """What they may give; none: what the way in gives."""
    longest_minutes: int | None = None
    """At most so long, whatever the plan allows."""
    at_once: int | None = None
    """So many of their guests may be good at the same time."""

    def may_vouch(self, network: NetworkId) -> bool:
        return not self.networks or network in self.networks


def find_host(hosts: Iterable[Host], network: NetworkId, typed: str) -> Host | None:
    """The one whose mail address was typed, or whose name has every word of it; None for nobody, or for several.

    Words in any order, without case, accents and titles; the family name alone does, where one alone has it.
    """
    there = [host for host in hosts if host.may_vouch(network)]
    if "@" in typed:
        mail = typed.strip().casefold()
        return next((host for host in there if host.mail.casefold() == mail), None)
    words = _words(typed)
    if not any(len(word) >= SHORTEST_WORD for word in words):
        return None
    found = [host for host in there if words <= _words(host.name)]
    exact = [host for host in found if words == _words(host.name)]
    several = exact or found
    return several[0] if len(several) == 1 else None


def _words(text: str) -> set[str]:
    plain = "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
    kept = "".join(c if c.isalnum() else " " for c in plain.replace("ß", "ss"))
    return {word for word in kept.split() if word not in _TITLES}
