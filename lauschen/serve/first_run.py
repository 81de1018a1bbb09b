"""What a first run makes: the data folder, its key, default roles and plan, and a first administrator."""

import secrets
import time
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.config.checks import check_zone
from lauschen.core.config.dialect import Dialect, Move, ValueKind, VendorAttribute, When
from lauschen.core.ids import DialectId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.proofs.passwords import hasher
from lauschen.store.config import dialects, networks, plans, settings
from lauschen.store.db import DATABASE_NAME, atomic, migrate, open_writer
from lauschen.store.first_sign_in import FIRST_PASSWORD_S, FIRST_STAFF
from lauschen.store.keys import KEY_NAME, KeyFault, KeyRing, check_canary, make_key_file, read_key_file
from lauschen.store.people import staff

DAY_VISIT_S = 8 * 3600
DAY_VISIT_OCTETS = 2 * 10**9
DOCUMENTATION_ENTERPRISE = 32473  # RFC 5612
REDIRECT = (VendorAttribute(DOCUMENTATION_ENTERPRISE, 1, ValueKind.TEXT, "{portal_url}", When.DOOR),)
"""The demo's redirect attribute, to be replaced by that of the house's access devices."""


@dataclass(frozen=True, slots=True)
class SiteWords:
    """What a site is called and under which names its guests find the page."""

    name: str
    zone: str
    page_url: str
    slip_host: str


def open_data(data: Path) -> tuple[Connection, KeyRing]:
    """The write connection and the keys of a data folder that was set up; KeyFault when they do not belong."""
    database, key_file = data / DATABASE_NAME, data / KEY_NAME
    if not database.exists():
        raise FileNotFoundError(f"{data} holds no database yet: run `lauschen serve --data {data}` once")
    keys = read_key_file(key_file)
    conn = open_writer(database)
    try:
        migrate(conn)
        check_canary(conn, keys)
    except BaseException:
        conn.close()
        raise
    return conn, keys


def set_up(data: Path, site: SiteWords) -> str | None:
    """Makes what is missing; returns the first administrator's password if there was none before."""
    check_zone(site.zone)
    data.mkdir(mode=0o700, parents=True, exist_ok=True)
    database, key_file = data / DATABASE_NAME, data / KEY_NAME
    if database.exists():
        conn, _ = open_data(data)
        conn.close()
        return None
    # A key without a database is one that somebody put there on purpose, before restoring.
    keys = read_key_file(key_file) if key_file.exists() else make_key_file(key_file)
    beginning = database.with_suffix(".beginning")
    beginning.unlink(missing_ok=True)
    password = secrets.token_urlsafe(12)
    conn = open_writer(beginning)
    try:
        migrate(conn)
        with atomic(conn):
            _add_defaults(conn, keys, site)
            hashed = hasher().hash(password)
            staff.add_staff(
                conn, FIRST_STAFF, hashed, must_change=True, password_until=time.time() + FIRST_PASSWORD_S
            )
    except BaseException:
        conn.close()
        beginning.unlink(missing_ok=True)
        raise
    conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    conn.close()
    # A half-made database is never taken for a whole one.
    beginning.rename(database)
    return password


def _add_defaults(conn: Connection, keys: KeyRing, site: SiteWords) -> None:
    settings.add_site(
        conn, keys, site_name=site.name, zone=site.zone, page_url=site.page_url, slip_host=site.slip_host
    )
    networks.add_role(conn, "Before login", vlan=None, filter_name="before-login", is_door=True)
    visitor = networks.add_role(conn, "Visitor", vlan=None, filter_name="visitor")
    settings.set_last_role(conn, visitor)
    add_day_visit(conn)
    new = DialectId(0)
    dialects.add_dialect(
        conn, keys, Dialect(new, "re-authorise", attributes=REDIRECT, login_move=Move.REAUTHORISE, pause_ms=0)
    )
    dialects.add_dialect(conn, keys, Dialect(new, "disconnect", attributes=REDIRECT))


def add_day_visit(conn: Connection) -> PlanId:
    """8 h from first use by the clock on the wall, one device, 2 GB in all."""
    return plans.add_plan(
        conn,
        Plan(
            id=PlanId(0),
            name="Day visit",
            seconds=DAY_VISIT_S,
            octets=DAY_VISIT_OCTETS,
            devices=1,
            idle_seconds=1800,
            use_within_days=90,
        ),
    )


__all__ = ["KeyFault", "SiteWords", "add_day_visit", "open_data", "set_up"]
