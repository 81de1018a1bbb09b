"""What a year leaves around its guests: messages, visits, addresses, who registered or was vouched for, residents."""

from collections.abc import Iterator
from hashlib import blake2b
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import AccessDeviceId, CredentialId, Mac, NetworkId, PlanId, StaffId
from lauschen.core.limits.terms import Terms
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.self_registration import Delivery
from lauschen.core.ways.vouching import VouchingState
from lauschen.demo.site import CLOISTER_SSID
from lauschen.store import batches, credentials, devices
from lauschen.store.batches import Said
from lauschen.store.bulk import past
from lauschen.store.db import atomic
from lauschen.store.hosts import vouchings
from lauschen.store.keys import KeyRing
from lauschen.store.messages import consents, outbox, registrations
from lauschen.store.passphrases import bound, groups, keys
from lauschen.store.passphrases.keys import NewKey

DAY_S = 86_400.0
FIRST_MAC = 0x06_99_00_00_00_00
NETWORK, CLOISTER, SEASON, ATTIC = 1, NetworkId(4), PlanId(5), AccessDeviceId(6)
FIRST_VLAN, VLANS = 2000, 40
RESIDENT_MAC = 0x06_98_00_00_00_00
Table = tuple[str, Iterator[tuple[Any, ...]]]


def _digest(what: str, n: int) -> bytes:
    return blake2b(f"{what} {n}".encode(), digest_size=32).digest()


def around(devices: int, now: float) -> Iterator[Table]:
    """Rows of the smaller tables: every tenth device was at the page in the last days."""
    some = range(1, devices // 10 + 1)
    yield past.ADDRESSES, _addresses(devices, now)
    yield (
        past.VISITS,
        (
            (_digest("visit", n), FIRST_MAC + n, NETWORK, 1 + n % 2, "http://score-of-the-day.example/",
             now - n % 100_000, now - n % 100_000 + 2400, None, "admitted", now - n % 100_000 + 20, _source(n), None)
            for n in some
        ),
    )  # fmt: skip
    yield (
        past.TRIES,
        ((now - n, NETWORK, _source(n), _digest("visit", n), None) for n in range(1, devices // 100)),
    )


def _source(n: int) -> str:
    return f"127.78.{n // 250}.{n % 250 + 1}"


def _addresses(devices: int, now: float) -> Iterator[tuple[Any, ...]]:
    for n in range(1, devices + 1):
        yield FIRST_MAC + n, _source(n), "accounting", now - n % 600
        yield FIRST_MAC + n, f"fe80::{n:x}", "accounting", now - DAY_S * (n % 170)


def asked(conn: Connection, ring: KeyRing, count: int, now: float) -> None:
    """Add guests whose host was asked and never answered."""
    with atomic(conn):
        for n in range(1, count + 1):
            at = now - DAY_S * (n % 170)
            made = vouchings.add_vouching(
                conn, ring, network=NetworkId(NETWORK), mac=Mac(FIRST_MAC + n), source=_source(n),
                visit=_digest("visit", n), lang="en", answers={"name": f"Guest {n}"}, named="Host", now=at,
            )  # fmt: skip
            vouching = vouchings.get_vouching(conn, ring, made)
            assert vouching is not None
            vouchings.settle(conn, ring, vouching, VouchingState.OVER, at + 600)


def registered(conn: Connection, ring: KeyRing, count: int, inside: int, now: float) -> None:
    """Add what guests wrote who registered; `inside`: the credentials before theirs."""
    with atomic(conn):
        for n in range(1, count + 1):
            at, credential = now - DAY_S * (n % 170), CredentialId(inside + n)
            registrations.add_registration(
                conn, ring, credential=credential, network=NetworkId(NETWORK), mac=Mac(FIRST_MAC + n),
                source=_source(n), visit=_digest("visit", n), lang="en", delivery=Delivery.PAGE,
                answers={"name": f"Guest {n}"}, now=at,
            )  # fmt: skip
            registrations.note_confirmed(conn, credential, at)


def agreed(conn: Connection, ring: KeyRing, count: int, now: float) -> None:
    """Guests who agreed to be written to."""
    with atomic(conn):
        for n in range(1, count + 1):
            said = {"name": f"Guest {n}", "mail": f"guest{n}@hollerau.example"}
            consents.add_consent(
                conn, ring, version=1, lang="en", mac=Mac(FIRST_MAC + n), network=NetworkId(NETWORK), said=said,
                credential=CredentialId(n), now=now - DAY_S * (n % 170),
            )  # fmt: skip


def letters(conn: Connection, ring: KeyRing, count: int, now: float) -> None:
    """One message in fifty was given up, one in a hundred waits for its next try."""
    with atomic(conn):
        for n in range(1, count + 1):
            written = now - 30 * DAY_S * (1 - n / count)
            channel = Channel.TEXT if n % 5 == 0 else Channel.MAIL
            about = About(
                CredentialId(n), Mac(FIRST_MAC + n) if n % 2 else None, NetworkId(NETWORK) if n % 2 else None
            )
            draft = Draft(
                channel, Kind.PASS, "en", f"guest{n % 9000}@hollerau.example", {"name": f"Guest {n}"}, about
            )
            made = outbox.add_message(conn, ring, draft, mark=f"mark-{n}", now=written)
            if n % 50 == 0:
                outbox.note_try(conn, made, answer="550 No such mailbox here", now=written + 2, next_at=None)
            elif n % 100 == 1:
                outbox.note_try(
                    conn, made, answer="451 Come again later", now=written + 2, next_at=now + 3600
                )
            else:
                sent = outbox.get_message(conn, ring, made)
                assert sent is not None
                outbox.note_sent(conn, ring, sent, answer="250 Ok", now=written + 2)


def residents(conn: Connection, ring: KeyRing, count: int, now: float) -> None:
    """Passphrases, half of them in use; the first are private groups."""
    ssid, issued = CLOISTER_SSID.encode(), now - 60 * DAY_S
    with atomic(conn):
        batch = batches.add_batch(
            conn, plan=SEASON, size=count, said=Said("Residents"), now=issued, by=StaffId(1)
        )
        for n in range(1, count + 1):
            terms = Terms(network=CLOISTER)
            credential = credentials.add_bare(
                conn, way=WayIn.PASSPHRASE, plan=SEASON, batch=batch, now=issued, terms=terms
            )
            keys.add_holder(conn, ring, credential, CLOISTER, HolderKind.ROOM, f"Room {n}", "second floor")
            new = NewKey(f"passphrase of room {n}", _digest("pmk", n), ssid)
            key = keys.add_key(conn, ring, credential, CLOISTER, new, issued)
            assert key is not None
            if n <= VLANS:
                groups.give(conn, credential, FIRST_VLAN + n)
            if n % 2 == 0:
                devices.add_device(conn, Mac(RESIDENT_MAC + n), issued)
                bound.bind(conn, Mac(RESIDENT_MAC + n), CLOISTER, key, ATTIC, issued)
        batches.make_valid(conn, batch)
