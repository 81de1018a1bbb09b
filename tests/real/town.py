"""The running product, as its own process, with a real access point in front of it."""

import re
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection
from typing import Any

import httpx

from lauschen.core.config.dialect import Dialect, Move
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import AccessDeviceId, DialectId, Mac, NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import Finder
from lauschen.core.ways.voucher import Voucher
from lauschen.core.words.mac import read_mac
from lauschen.core.words.tokens import PortalToken, sign_token
from lauschen.proofs.passwords import hasher
from lauschen.serve.first_run import open_data
from lauschen.store import credentials, devices, stays
from lauschen.store.config import access_devices, dialects, networks, plans, rules, settings, ways
from lauschen.store.db import DATABASE_NAME, atomic, migrate, open_reader, open_writer
from lauschen.store.keys import KEY_NAME, KeyRing, make_key_file
from lauschen.store.people import staff
from lauschen.store.stays import Stay
from tests.place import Place
from tests.real.bed import Bed

STAFF, PASSWORD = "gatehouse", "plum-and-pine-7700"
SSID, SECRET = "Hollerau Garden", "hollerau-real-air-secret"
DOOR_VLAN, VISITOR_VLAN = 309, 310
DAY, SHORT = PlanId(1), PlanId(2)
SHORT_S = 75
PAGE_HOST = {"Host": "welcome.hollerau.example"}
_CSRF = re.compile(r'name="csrf" value="([0-9a-f]+)"')


@dataclass
class Town:
    """What a test works with."""

    data: Path
    bed: Bed
    console: int
    portal: int
    keys: KeyRing
    codes: dict[PlanId, list[str]]

    def __post_init__(self) -> None:
        self.reader = open_reader(self.data / "lauschen.sqlite3")

    def standing(self, mac: str) -> Standing:
        found = devices.find_standing(self.reader, number(mac), NetworkId(1))
        assert found is not None, f"{mac} was never heard"
        return found

    def stays(self, mac: str) -> list[Stay]:
        """Oldest first."""
        return sorted(stays.stays_of(self.reader, number(mac), 50), key=lambda stay: stay.id)

    def used(self, code: str) -> int:
        found = credentials.find(self.reader, self.keys, Finder("code", code), None)
        assert found is not None
        return found.use.octets

    def heard(self, kind: str, mac: str) -> int:
        sql = "SELECT count(*) FROM event WHERE kind = ? AND mac = ?"
        return int(self.reader.execute(sql, (kind, number(mac))).fetchone()[0])

    def until(self, condition: Callable[[], bool], seconds: float) -> float:
        """Waits until the database says so; how long that took."""
        began = time.monotonic()
        while time.monotonic() - began < seconds:
            if condition():
                return time.monotonic() - began
            time.sleep(0.2)  # another process writes: there is no event to wait for
        raise AssertionError("it did not come about")

    def enter_code(self, mac: str, code: str) -> str:
        """The guest opens the page with this device's token and types a code; the page that follows."""
        token = PortalToken(number(mac), AccessDeviceId(1), NetworkId(1), int(time.time()) + 600)
        base_url = f"http://127.0.0.1:{self.portal}"
        with httpx.Client(base_url=base_url, headers=PAGE_HOST, follow_redirects=True) as http:
            page = http.get("/", params={"t": sign_token(token, self.keys.token_key)})
            found = _CSRF.search(page.text)
            assert found is not None, page.text
            self.visit = str(page.url)
            return http.post(f"{page.url}/by/code", data={"csrf": found[1], "code": code}).text

    def look_again(self) -> str:
        return httpx.get(self.visit, headers=PAGE_HOST).text

    def end_stay(self, mac: str) -> None:
        """As the desk does it."""
        with httpx.Client(base_url=f"http://127.0.0.1:{self.console}") as http:
            signed_in = http.post("/api/session", json={"name": STAFF, "password": PASSWORD})
            form = {"X-Lauschen-Form": signed_in.json()["csrf"]}
            answer = http.post(f"/api/guests/{number(mac):012x}/1/end-stay", headers=form)
            assert answer.status_code == 200, answer.text


def number(mac: str) -> Mac:
    read = read_mac(mac)
    assert read is not None
    return read


@contextmanager
def open_town(folder: Path, built: Path) -> Iterator[Town]:
    """With an open Wi-Fi and a page."""
    made: dict[str, Any] = {}

    def make(data: Path, changes: int) -> None:
        made["keys"], made["codes"] = _make_site(data, changes)

    with open_air(folder, built, make, ssid=SSID) as (data, bed, console, portal):
        yield Town(data, bed, console, portal, made["keys"], made["codes"])


@contextmanager
def open_air(
    folder: Path,
    built: Path,
    make: Callable[[Path, int], None],
    *,
    ssid: str,
    mode: str = "open",
    more: tuple[str, ...] = (),
) -> Iterator[tuple[Path, Bed, int, int]]:
    """The product on a site that `make` fills, in front of an access point: its data, and two of its ports.

    `more`: options of `lauschen serve`.
    """
    data = folder / "data"
    data.mkdir()
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        probe.bind(("127.0.0.1", 0))
        changes = int(probe.getsockname()[1])
    make(data, changes)
    command = [
        sys.executable, "-m", "lauschen", "serve", "--data", str(data), "--staff", "127.0.0.1:0",
        "--portal", "127.0.0.1:0", "--radius", "127.0.0.1", "--auth-port", "0", "--acct-port", "0", *more,
    ]  # fmt: skip
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    try:
        said = "".join(process.stdout.readline() for _ in range(2))
        console, portal, auth, acct = _ports(said)
        bed = Bed(
            built,
            ssid=ssid,
            secret=SECRET,
            auth=auth,
            acct=acct,
            changes=changes,
            log=folder / "air.log",
            mode=mode,
        )
        try:
            yield data, bed, console, portal
        finally:
            bed.close()
    finally:
        process.terminate()
        process.wait(10)
        process.stdout.close()


def _ports(said: str) -> tuple[int, int, int, int]:
    page = re.search(r"Staff: \S+:(\d+)\s+guest page: port (\d+)", said)
    radius = re.search(r"RADIUS: \S+, (\d+) and (\d+)", said)
    assert page is not None, said
    assert radius is not None, said
    return int(page[1]), int(page[2]), int(radius[1]), int(radius[2])


@contextmanager
def new_house(
    data: Path, dialect: Dialect, changes: int
) -> Iterator[tuple[Connection, KeyRing, AccessDeviceId]]:
    """One with the real access point, and somebody who signs in; its networks are added by whoever makes it."""
    keys = make_key_file(data / KEY_NAME)
    conn = open_writer(data / DATABASE_NAME)
    migrate(conn)
    with atomic(conn):
        settings.add_site(
            conn, keys, site_name="Hollerau", zone="Europe/Vienna", page_url="http://welcome.hollerau.example",
            slip_host="slip.hollerau.example",
        )  # fmt: skip
        place = access_devices.add_access_device(
            conn,
            keys,
            "Real air",
            address="127.0.0.1",
            secret=SECRET.encode(),
            dialect=dialects.add_dialect(conn, keys, dialect),
            coa_port=changes,
        )
        staff.add_staff(conn, STAFF, hasher().hash(PASSWORD), must_change=False, password_until=None)
        yield conn, keys, place
    conn.close()


def _make_site(data: Path, changes: int) -> tuple[KeyRing, dict[PlanId, list[str]]]:
    dialect = Dialect(DialectId(0), "disconnect", login_move=Move.DISCONNECT)
    with new_house(data, dialect, changes) as (conn, keys, place):
        # This access point knows no filters: before login a device is in another VLAN.
        door = networks.add_role(conn, "Before login", vlan=DOOR_VLAN, filter_name=None, is_door=True)
        visitor = networks.add_role(conn, "Visitor", vlan=VISITOR_VLAN, filter_name=None)
        network = networks.add_network(conn, "Garden", door_role=door, ssid=SSID.encode())
        access_devices.save_serves(conn, place, [network])
        ways.save_ways(conn, network, [Voucher()])
        rules.add_rule(conn, network=network, way_in=WayIn.VOUCHER, role=visitor)
        for name, seconds, octets in (("Day visit", 8 * 3600, 2 * 10**9), ("Short", SHORT_S, None)):
            plans.add_plan(conn, Plan(PlanId(0), name, seconds, None, octets, 1, None))
    house = Place(data)
    house.now = time.time()
    codes = {plan: house.issue(4, plan) for plan in (DAY, SHORT)}
    house.close()
    open_data(data)[0].close()
    return keys, codes
