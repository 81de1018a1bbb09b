"""What needs attention on Now: each with the one action that mends it."""

from collections.abc import Callable, Iterable
from functools import lru_cache
from sqlite3 import Connection
from urllib.parse import urlsplit

from lauschen.acts.staying.doubles import SAID_AGAIN_S
from lauschen.api.networks.way_words import lacks_words, why_idle
from lauschen.api.networks.words import pause_words
from lauschen.api.now.hosts import hosts_silent
from lauschen.api.now.keys import keys_tried, strangers_many
from lauschen.api.now.messages import messages_failing
from lauschen.api.now.models import Attention
from lauschen.api.now.people import nobody_issues, second_factors_tried
from lauschen.api.now.serving import not_listed
from lauschen.api.words.events import line
from lauschen.api.words.reasons import answer_words
from lauschen.api.words.speaker import Speaker
from lauschen.core.config.config import Config
from lauschen.core.limits.tries import NETWORK_TRIES, SOURCE_TRIES, WINDOW_S
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.http.certificate import Certificate
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.store import log, visits
from lauschen.store.moving import places, wanted

SECRET_ALARM_AFTER = 3
STRANGERS_ALARM_AFTER = 1000
"""Fewer are late answers of devices that were slow."""
MOST_SHOWN = 20
MOST_SOURCES = 5
FAULTS_SHOWN_S = 3600.0
FAULTS = {
    "request": "Answering a request of an access device",
    "act": "An act at the page or of staff",
    "answer": "Sending a stored answer",
    "effect": "What follows from a stored change",
    "timer": "A timer",
    "wish": "Telling an access device of a change",
    "job": "A long job",
    "message": "Sending a message",
    "proof": "Looking whether what was offered is proved",
    "sender": "Looking for changes to send",
    "sweep": "Ending what is over for a device",
    "mass": "Work on many devices",
    "keeping": "Forgetting what was kept for long enough",
    "vouching": "Asking or reminding a host",
    "background": "Work in the background",
    "reading": "Reading from a socket",
    "feed": "Showing what was heard to open consoles",
    "memory": "Forgetting what is kept in memory",
    "rollback": "Taking back what could not be stored",
    "page": "A page or an answer of the console",
}
LOG_LOOKED_AT = 2000
GRAVE_STEP_S = 3600.0
"""A clock that was set by more than this may be wrong by now, and hours of the day go by it."""
CERTIFICATE_SOON_S = 14 * 86_400.0


def attention(
    conn: Connection,
    road: Road,
    registry: Registry,
    speaker: Speaker,
    certificate: Certificate | None = None,
    sees: Callable[[Attention], bool] = lambda _: True,
) -> list[Attention]:
    """The gravest first, of those that the viewer `sees`.

    What cannot be looked at is one more fault, and leaves the rest to be seen."""
    parts: list[Callable[[], Iterable[Attention]]] = [
        lambda: _trouble(road, speaker),
        lambda: _clock(road),
        lambda: _secrets(registry),
        lambda: _unconfirmed(conn, speaker),
        lambda: _guessing(conn, speaker),
        lambda: _two_in_one(conn, speaker),
        lambda: _certificate(speaker, certificate),
        lambda: _ways(speaker.config),
        lambda: messages_failing(conn, speaker),
        lambda: hosts_silent(conn, road.keys, speaker),
        lambda: nobody_issues(conn, speaker.config),
        lambda: second_factors_tried(conn, speaker.now),
        lambda: keys_tried(conn, speaker),
        lambda: strangers_many(conn, speaker),
        lambda: not_listed(conn, speaker),
        lambda: _pauses(speaker),
        lambda: _unknown(registry),
        lambda: _strangers(registry),
    ]
    found: list[Attention] = []
    for part in parts:
        road.faults.run("page", lambda part=part: found.extend(part()))  # type: ignore[misc]
    theirs = [one for one in _faults(road, speaker) + found if sees(one)]
    return sorted(theirs, key=lambda one: not one.grave)[:MOST_SHOWN]


def _trouble(road: Road, speaker: Speaker) -> list[Attention]:
    if road.trouble is None:
        return []
    return [
        Attention(
            kind="trouble",
            grave=True,
            text=f"Nothing can be stored since {speaker.clock(road.trouble.since)}: {road.trouble.what}.",
            mend="No request is answered meanwhile. Free space on the disk; this clears by itself."
            f" Not stored so far: {road.not_stored}.",
        )
    ]


def _faults(road: Road, speaker: Speaker) -> list[Attention]:
    """What raised in the last hour, by kind."""
    return [
        Attention(
            kind="fault",
            grave=kind == "request",
            text=f"{FAULTS.get(kind, kind)} failed {times(fault.count)} since {speaker.clock(fault.since)}:"
            f" {fault.reason}.",
            mend="This is a fault of Lauschen, and everything else goes on. The log of the service has the details"
            f" of {speaker.clock(fault.logged)}; please tell its makers.",
        )
        for kind, fault in sorted(road.faults.shown(speaker.now - FAULTS_SHOWN_S).items())
    ]


def _clock(road: Road) -> list[Attention]:
    trouble = road.wall_trouble
    if trouble is None:
        return []
    away = duration_words(int(abs(trouble.step_s)))
    text = f"This machine's clock was set {away} {'ahead' if trouble.step_s > 0 else 'back'}."
    mend = "It is followed once it has stayed there for a minute. Nobody gains or loses time by it: only what goes by"
    mend += " dates and hours of the day follows the new clock."
    return [Attention(kind="clock", grave=abs(trouble.step_s) >= GRAVE_STEP_S, text=text, mend=mend)]


def _certificate(speaker: Speaker, certificate: Certificate | None) -> list[Attention]:
    """Guests would be warned, or soon."""
    if certificate is None:
        return []
    found, facts = [], certificate.facts
    host = urlsplit(speaker.config.page_url).hostname or ""
    if certificate.fault is not None:
        text = f"The files of the certificate were changed and cannot be used: {certificate.fault}."
        mend = "The one before them is still in use. Put a certificate and its key in place that go together."
        found.append(Attention(kind="certificate", grave=True, text=text, mend=mend))
    if speaker.config.page_url.startswith("https:") and not facts.fits(host):
        names = ", ".join(facts.names) or "no name at all"
        text = f"The certificate does not fit the guest page: it is for {names}, and the page is at {host}."
        mend = "Guests are warned by their browsers. Get one for that name, or change the page's address."
        found.append(Attention(kind="certificate", grave=True, text=text, mend=mend))
    if facts.ends - speaker.now < CERTIFICATE_SOON_S:
        is_over = facts.ends <= speaker.now
        when = f"{'ended' if is_over else 'ends'} {speaker.clock(facts.ends)}"
        mend = "Put the next one in its place: it is taken in without a restart."
        found.append(Attention(kind="certificate", grave=is_over, text=f"The certificate {when}.", mend=mend))
    return found


@lru_cache(maxsize=1)
def _ways(config: Config) -> tuple[Attention, ...]:
    """Networks whose guests find no way in that could work, or not each: looked for once for each house."""
    found = []
    for network in config.networks.values():
        idle = [why for way in network.ways if (why := why_idle(config, network, way)) is not None]
        lacks = [why for way in network.ways if (why := lacks_words(config, way)) is not None]
        if network.ways and not idle and not lacks:
            continue
        text = f"{network.name} offers nothing to let guests in."
        if idle or lacks:
            text = f"{network.name}: {'; '.join(idle + lacks)}."
        found.append(
            Attention(
                kind="ways",
                grave=len(idle) == len(network.ways),
                text=text,
                mend="Guests are not shown a button that cannot work."
                if not lacks or idle
                else "Write them.",
                link=f"/networks?network={network.id}&edit=ways",
                network=network.id,
            )
        )
    return tuple(found)


def _pauses(speaker: Speaker) -> list[Attention]:
    """Networks that let nobody in for a while."""
    return [
        Attention(
            kind="pause",
            grave=False,
            text=f"{network.name}: {pause_words(network.pause, speaker.config)}",
            mend=f"Guests read: {visible(network.pause.why)}"
            if network.pause.why
            else "Guests are told no reason.",
            link=f"/networks?network={network.id}&edit=pause",
            network=network.id,
        )
        for network in speaker.config.networks.values()
        if network.pause is not None and network.pause.holds(speaker.now)
    ]


def _strangers(registry: Registry) -> list[Attention]:
    count = registry.change_drops["stranger"]
    if count < STRANGERS_ALARM_AFTER:
        return []
    return [
        Attention(
            kind="strangers",
            grave=False,
            text=f"{count:,} packets since the start came to where changes are sent from, and answered nothing.",
            mend="They were dropped unread. Let only access devices reach this machine by UDP.",
        )
    ]


def _secrets(registry: Registry) -> list[Attention]:
    found = []
    for (address, reason), count in sorted(registry.drops.items()):
        peer = registry.whose(address)
        device = peer.device if peer is not None else None
        if reason == "wrong_secret" and count >= SECRET_ALARM_AFTER and device is not None:
            text = f"{device.name}: {count} packets were signed with another secret than ours."
            found.append(
                Attention(
                    kind="secret",
                    grave=True,
                    text=text,
                    mend="Type the same secret at both ends.",
                    link=f"/networks?device={device.id}",
                )
            )
        if reason == "unsigned" and count >= SECRET_ALARM_AFTER and device is not None:
            text = f"{device.name}: {count} requests came without Message-Authenticator and were dropped."
            found.append(
                Attention(
                    kind="unsigned",
                    grave=False,
                    text=text,
                    mend="Turn signing on at the device.",
                    link=f"/networks?device={device.id}",
                )
            )
    return found


def _unconfirmed(conn: Connection, speaker: Speaker) -> list[Attention]:
    found = []
    for place in places.not_confirmed(conn, MOST_SHOWN):
        now_wanted = wanted.find_wanted(conn, place.mac, place.network)
        if now_wanted is None or place.next_at is None:
            continue
        device = speaker.config.access_devices.get(place.access_device)
        verb = "let in" if now_wanted.lets_in else "end the stay of"
        found.append(
            Attention(
                kind="not_confirmed",
                grave=not now_wanted.lets_in,
                text=f"{device.name if device else 'An access device'} was asked to {verb}"
                f" {speaker.device(place.mac)}: {answer_words(place.last_answer or '')}.",
                mend=f"Not confirmed since {speaker.clock(now_wanted.since)};"
                f" next try {speaker.clock(place.next_at)}.",
                action=f"/api/guests/{spell_mac(place.mac)}/{place.network}/send-again",
                network=place.network,
                mac=spell_mac(place.mac),
            )
        )
    return found


def _guessing(conn: Connection, speaker: Speaker) -> list[Attention]:
    found = []
    for network in speaker.config.networks.values():
        count = visits.count_tries_on(conn, network.id, speaker.now - WINDOW_S)
        if count > NETWORK_TRIES:
            text = f"{network.name}: {count} wrong codes in ten minutes. Somebody is guessing."
            mend = "Answers are slowed down; right codes pass."
            found.append(Attention(kind="guessing", grave=True, text=text, mend=mend, network=network.id))
    for source, count in visits.guessing_sources(conn, speaker.now - WINDOW_S, SOURCE_TRIES, MOST_SOURCES):
        found.append(
            Attention(
                kind="guessing",
                grave=False,
                text=f"{visible(source)}: {count} wrong codes in ten minutes at the page. Somebody is guessing, or"
                " many guests share this address.",
                mend="Its wrong answers are slowed down; right codes pass.",
            )
        )
    return found


def _two_in_one(conn: Connection, speaker: Speaker) -> list[Attention]:
    """Each device once, by what was heard of it last."""
    kinds = ("two_places", "two_addresses")
    rows = log.events_since(conn, kinds, speaker.now - SAID_AGAIN_S, LOG_LOOKED_AT)
    newest = {row.mac: row for row in reversed(rows) if row.mac is not None}
    return [
        Attention(
            kind="two_in_one",
            grave=False,
            text=f"{line(speaker, row)}. Two devices with one address?",
            mend="Both are counted. An address can be copied where the air is open. If both access devices see the"
            " same traffic, say in the network whose report counts.",
            link=f"/guests?guest={spell_mac(mac)}/{row.network}" if row.network is not None else "/guests",
            network=row.network,
            mac=spell_mac(mac),
        )
        for mac, row in newest.items()
    ]


def _unknown(registry: Registry) -> list[Attention]:
    return [
        Attention(
            kind="unknown_access_device",
            grave=False,
            text=f"{address} sent {_packets(unknown.packets)}, but is not an access device of yours.",
            mend="If it is yours, add it.",
            link=f"/networks?unknown={address}",
        )
        for address, unknown in list(registry.unknown.items())[-5:]
    ]


def times(count: int) -> str:
    return "once" if count == 1 else f"{count} times"


def _packets(count: int) -> str:
    return "one packet" if count == 1 else f"{count} packets"
