"""The made-up site of the demo. Nobody and nothing in it exists."""

from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection

from argon2 import PasswordHasher

from lauschen.core.house.dialect import Dialect, Move
from lauschen.core.ids import AccessDeviceId, DialectId
from lauschen.core.ways.kinds import WayIn
from lauschen.serve.first_run import REDIRECT, add_day_visit
from lauschen.store import staff
from lauschen.store.db import DATABASE_NAME, atomic, migrate, open_writer
from lauschen.store.house import access_devices, dialects, networks, settings
from lauschen.store.keys import KEY_NAME, KeyRing, make_key_file

SITE, ZONE = "Hollerau Summer Academy", "Europe/Vienna"
SSID = "Hollerau Garden"
PAGE_HOST = "welcome.hollerau.example"
SLIP_HOST = "slip.hollerau.example"
STAFF_NAME, STAFF_PASSWORD = "gatehouse", "plum-and-pine-7700"
SECRET = b"hollerau-stand-in-secret"


@dataclass(frozen=True, slots=True)
class Point:
    """One access point of the Garden."""

    name: str
    address: str
    bssid: str


POINTS = (
    Point("Garden west", "127.77.0.11", "02-77-00-00-00-11"),
    Point("Concert barn", "127.77.0.12", "02-77-00-00-00-12"),
)


def make_site(data: Path, coa_ports: dict[str, int]) -> None:
    """Fills an empty data folder. `coa_ports`: where each access point (by name) hears changes."""
    keys = make_key_file(data / KEY_NAME)
    conn = open_writer(data / DATABASE_NAME)
    try:
        migrate(conn)
        with atomic(conn):
            _add_garden(conn, keys)
            for point in POINTS:
                _add_point(conn, keys, point, coa_ports[point.name])
            hashed = PasswordHasher().hash(STAFF_PASSWORD)
            staff.add_staff(conn, STAFF_NAME, hashed, must_change=False, password_until=None)
    finally:
        conn.close()


def _add_garden(conn: Connection, keys: KeyRing) -> None:
    settings.add_house(
        conn, keys, site_name=SITE, zone=ZONE, page_url=f"http://{PAGE_HOST}", slip_host=SLIP_HOST
    )
    # A login should not change the address that a device already has: one VLAN, and only the filter is swapped.
    door = networks.add_role(conn, "Doorstep", vlan=310, filter_name="doorstep", is_door=True)
    visitor = networks.add_role(conn, "Visitor", vlan=310, filter_name="visitor")
    network = networks.add_network(conn, "Garden", ssid=SSID.encode(), door_role=door)
    networks.add_rule(conn, network=network, way_in=WayIn.VOUCHER, role=visitor)
    add_day_visit(conn)
    settings.add_plan(
        conn, "Postcard", seconds=3600, octets=5 * 10**6, devices=1, idle_seconds=1800, use_within_days=30
    )
    controller = Dialect(
        DialectId(0), "Garden controller", attributes=REDIRECT, login_move=Move.REAUTHORISE, pause_ms=0
    )
    dialects.add_dialect(conn, keys, controller)


def _add_point(conn: Connection, keys: KeyRing, point: Point, coa_port: int) -> AccessDeviceId:
    dialect = settings.find_id(conn, "dialect", "Garden controller")
    assert dialect is not None
    return access_devices.add_access_device(
        conn,
        keys,
        point.name,
        address=point.address,
        secret=SECRET,
        dialect=DialectId(dialect),
        coa_port=coa_port,
    )
