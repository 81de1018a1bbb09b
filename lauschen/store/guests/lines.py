"""Lines of the lists of guests: what is shown, sorted and found of a device on a network."""

import json
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from sqlite3 import Connection
from typing import Any

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, CredentialId, Mac, NetworkId, RoleId, StaffId
from lauschen.core.people.sight import Sight
from lauschen.core.ways.kinds import WayIn
from lauschen.store.admissions import HOLDER
from lauschen.store.allowances import GRANT, read_grant
from lauschen.store.hosts import vouchings
from lauschen.store.keys import KeyFault, KeyRing
from lauschen.store.messages import outbox, registrations

FIRST = (float("inf"), Mac(1 << 48))
"""Before all of a list."""


@dataclass(slots=True)
class GuestLine:
    """A device on a network."""

    mac: Mac
    network: NetworkId
    state: State
    since: float
    going: str | None
    reason: str | None
    access_device: AccessDeviceId
    role: RoleId | None
    framed_ip: str | None
    typing_barred_until: float | None
    """Of the device by RADIUS, or of one of its visits at the page."""
    wanted_answer: str | None
    """Of its access device, to a change that it has not carried out."""
    octets_per_s: int
    """Both ways, as its stays were reported last."""
    octets_today: int
    name: str
    """For whom it was issued; empty for many at once."""
    label: str
    """What was written on it, also on many at once."""
    said: tuple[str, ...]
    """What they wrote of themselves, and where it was sent."""
    grant: Grant | None
    """By which it is in, or was last."""
    issuer: StaffId | None
    """Which person issued that, if one did."""

    def is_seen_by(self, sight: Sight) -> bool:
        return sight.sees_guest(self.network, self.issuer, has_credential=self.credential is not None)

    @property
    def credential(self) -> CredentialId | None:
        """What was issued, if that grant is of something."""
        return None if self.grant is None else self.grant.credential


_LINE = (
    "SELECT s.mac, s.network, s.state, s.since, nullif(x.state, s.state), s.reason, s.access_device, s.role,"
    " s.framed_ip,"
    " max(coalesce(d.typing_barred_until, 0), coalesce((SELECT max(barred_until) FROM visit v"
    " WHERE v.mac = s.mac AND v.network = s.network), 0)),"
    " (SELECT p.last_answer FROM place p WHERE p.mac = s.mac AND p.network = s.network"
    " AND p.last_answer IS NOT NULL LIMIT 1),"
    " (SELECT sum(t.octets_per_s) FROM stay t WHERE t.mac = s.mac AND t.network = s.network AND t.ended IS NULL"
    " AND t.counts),"
    " (SELECT sum(t.day_octets) FROM stay t WHERE t.mac = s.mac AND t.network = s.network AND t.day = ?1"
    " AND t.day > 0),"
    f" {HOLDER}, b.label, b.size = 1, b.issued_by, a.offered, {GRANT}"
    " FROM standing s JOIN device d ON d.mac = s.mac"
    " LEFT JOIN wanted x ON x.mac = s.mac AND x.network = s.network"
    " LEFT JOIN admission a ON a.id = (SELECT id FROM admission WHERE mac = s.mac AND network = s.network"
    " ORDER BY begun DESC LIMIT 1)"
    " LEFT JOIN allowance w ON w.id = a.allowance LEFT JOIN credential c ON c.id = w.credential"
    " LEFT JOIN batch b ON b.id = c.batch"
)
_STATES = {state.value: state for state in State}


def guest_line(conn: Connection, keys: KeyRing, mac: Mac, network: NetworkId, day: int) -> GuestLine | None:
    """`day`: the number of today."""
    row = conn.execute(f"{_LINE} WHERE s.mac = ?2 AND s.network = ?3", (day, mac, network)).fetchone()
    return None if row is None else _read(conn, keys, row)


def guest_lines(
    conn: Connection,
    keys: KeyRing,
    network: NetworkId,
    state: State,
    *,
    day: int,
    after: tuple[float, Mac],
    at_most: int,
) -> list[GuestLine]:
    """Of one network in one state, who moved last first; from the one after `after` (its `since` and MAC)."""
    rows = conn.execute(
        f"{_LINE} WHERE s.network = ?2 AND s.state = ?3 AND (s.since < ?4 OR (s.since = ?4 AND s.mac < ?5))"
        " ORDER BY s.since DESC, s.mac DESC LIMIT ?6",
        (day, network, state, *after, at_most),
    ).fetchall()
    return [_read(conn, keys, row) for row in rows]


def standings_that_left(
    conn: Connection, after: tuple[Mac, int], at_most: int
) -> list[tuple[Mac, NetworkId]]:
    """Devices and networks in their order, from the one after `after`."""
    return conn.execute(
        "SELECT mac, network FROM standing WHERE (mac, network) > (?, ?) AND state = 'left'"
        " ORDER BY mac, network LIMIT ?",
        (*after, at_most),
    ).fetchall()


def networks_of(conn: Connection, mac: Mac) -> list[NetworkId]:
    """Those on which it stands."""
    return [NetworkId(row[0]) for row in conn.execute("SELECT network FROM standing WHERE mac = ?", (mac,))]


def _read(conn: Connection, keys: KeyRing, row: tuple[Any, ...]) -> GuestLine:
    (
        mac, at, state, since, going, reason, access_device, role, framed_ip, typing_barred_until, wanted_answer,
        octets_per_s, octets_today, name, label, is_of_one, issuer, offered, *granted,
    ) = row  # fmt: skip
    grant = read_grant(granted) if granted[0] is not None else None
    return GuestLine(
        mac=mac,
        network=at,
        state=_STATES[state],
        since=since,
        going=going,
        reason=reason,
        access_device=access_device,
        role=role,
        framed_ip=framed_ip,
        typing_barred_until=typing_barred_until or None,
        wanted_answer=wanted_answer,
        octets_per_s=octets_per_s or 0,
        octets_today=octets_today or 0,
        name=name or "",
        label=label or "",
        said=tuple(_said(conn, keys, grant, offered, is_of_one=bool(is_of_one))),
        grant=grant,
        issuer=issuer,
    )


def _said(
    conn: Connection, keys: KeyRing, grant: Grant | None, offered: str | None, *, is_of_one: bool
) -> Iterator[str]:
    if offered is not None:
        yield from (text for text in json.loads(offered).values() if isinstance(text, str))
    if grant is None or grant.credential is None:
        return
    # One that was damaged is not found by what it says; its line, and everybody else's, is there.
    with suppress(KeyFault):
        yield from _written(conn, keys, grant.way, grant.credential)
    with suppress(KeyFault):
        if is_of_one:
            yield from (message.to for message in outbox.of_credential(conn, keys, grant.credential, 1))


def _written(conn: Connection, keys: KeyRing, way: WayIn, credential: CredentialId) -> Iterator[str]:
    """Answers in a form, which are sealed."""
    if way is WayIn.SELF_REGISTRATION:
        registered = registrations.of_credential(conn, keys, credential)
        yield from registered.answers.values() if registered is not None else ()
    elif way is WayIn.SPONSOR:
        vouching = vouchings.of_credential(conn, keys, credential)
        yield from vouching.answers.values() if vouching is not None else ()
