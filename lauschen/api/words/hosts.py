"""Guests who ask for a host, and what hosts do."""

from collections.abc import Callable

from lauschen.api.words.speaker import Speaker
from lauschen.core.actor import ActorKind
from lauschen.core.words.mac import short_mac
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow

_AS = {"named": "", "stand_in": ", in the place of who did not answer", "by_desk": ", chosen by the desk"}


def _guest(row: EventRow) -> str:
    name = visible(str(row.facts.get("name") or ""))
    return name or (f"device {short_mac(row.mac)}" if row.mac is not None else "somebody")


def _host(row: EventRow) -> str:
    return visible(str(row.facts.get("host") or "")) or "nobody"


def _who(speaker: Speaker, row: EventRow) -> str:
    """Who answered: the host by name, or who decided in their stead."""
    if row.actor is not None and row.actor.kind is not ActorKind.HOST:
        return f"{speaker.actor(row.actor)}, in the host's stead,"
    return _host(row)


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _wanted(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(_guest(row))} asks for a host"


def _not_wanted(speaker: Speaker, row: EventRow) -> str:
    return "The guest does not wait for a host any more"


def _asked(speaker: Speaker, row: EventRow) -> str:
    return f"{_host(row)} is asked to vouch for {_guest(row)}{_AS.get(str(row.facts.get('role')), '')}"


def _unknown(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(_guest(row))} named {_host(row)} as host, and nobody or several are called so"


def _yes(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(_who(speaker, row))} said yes to {_guest(row)}"


def _no(speaker: Speaker, row: EventRow) -> str:
    return f"{_capital(_who(speaker, row))} said no to {_guest(row)}"


def _silent(speaker: Speaker, row: EventRow) -> str:
    return f"Nobody answered in time for {_guest(row)}; asked was {_host(row)}"


def _on_list(verb: str) -> Callable[[Speaker, EventRow], str]:
    def words(speaker: Speaker, row: EventRow) -> str:
        return f"{speaker.actor(row.actor)} {verb.format(host=_host(row))}"

    return words


WORDS = {
    "host_wanted": _wanted,
    "host_not_wanted": _not_wanted,
    "host_asked": _asked,
    "host_unknown": _unknown,
    "host_said_yes": _yes,
    "host_said_no": _no,
    "host_silent": _silent,
    "host_added": _on_list("put {host} on the list of hosts"),
    "host_changed": _on_list("changed what {host} may give as host"),
    "host_removed": _on_list("took {host} off the list of hosts"),
    "own_page_sent": _on_list("sent {host} the link to their page"),
}
