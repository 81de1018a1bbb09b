"""Private passphrases with a real access point: it asks for each device by its address, and tries what it is told."""

import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import Standing, State
from lauschen.core.house.dialect import Dialect
from lauschen.core.ids import DialectId, NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.proofs.passwords import hasher
from lauschen.store import devices
from lauschen.store.db import atomic, migrate, open_reader, open_writer
from lauschen.store.house import access_devices, dialects, networks, plans, rules, settings, ways
from lauschen.store.keys import KEY_NAME, make_key_file
from lauschen.store.people import staff
from tests.real.bed import Bed
from tests.real.town import PASSWORD, SECRET, STAFF, number, open_air

SSID = "Hollerau Cloister"
HALL_VLAN, RESIDENT_VLAN = 349, 340
FIRST_GROUP = 401
FIRST, SECOND = "02:00:00:aa:bb:01", "02:00:00:aa:bb:02"
REMEMBERED_S = 35
"""How long this access point answers a returning device from memory, with what we allow for it."""


def _make_site(data: Path, changes: int) -> None:
    keys = make_key_file(data / KEY_NAME)
    conn = open_writer(data / "lauschen.sqlite3")
    migrate(conn)
    with atomic(conn):
        settings.add_house(
            conn, keys, site_name="Hollerau", zone="Europe/Vienna", page_url="http://welcome.hollerau.example",
            slip_host="slip.hollerau.example",
        )  # fmt: skip
        hall = networks.add_role(conn, "Cloister hall", vlan=HALL_VLAN, filter_name=None, is_door=True)
        resident = networks.add_role(conn, "Resident", vlan=RESIDENT_VLAN, filter_name=None)
        cloister = networks.add_network(conn, "Cloister", door_role=hall, ssid=SSID.encode())
        ways.save_ways(conn, cloister, [PrivatePassphrase(first_vlan=FIRST_GROUP, last_vlan=FIRST_GROUP + 9)])
        rules.add_rule(conn, network=cloister, way_in=WayIn.PASSPHRASE, role=resident)
        plans.add_plan(conn, Plan(PlanId(0), "Season", None, None, None, 5, None))
        dialect = dialects.add_dialect(conn, keys, Dialect(DialectId(0), "asks by address"))
        access_devices.add_access_device(
            conn,
            keys,
            "Real air",
            address="127.0.0.1",
            secret=SECRET.encode(),
            dialect=dialect,
            coa_port=changes,
        )
        staff.add_staff(conn, STAFF, hasher().hash(PASSWORD), must_change=False, password_until=None)
    conn.close()


@dataclass
class Cloister:
    """What a test works with."""

    data: Path
    bed: Bed
    http: httpx.Client

    def __post_init__(self) -> None:
        self.reader = open_reader(self.data / "lauschen.sqlite3")

    def issue(self, name: str, **more: Any) -> dict[str, Any]:
        answer = self.http.post("/api/passphrases", json={"plan": 1, "label": name, **more})
        assert answer.status_code == 201, answer.text
        made: dict[str, Any] = answer.json()
        return made

    def act(self, path: str, **more: Any) -> dict[str, Any]:
        answer = self.http.post(f"/api/{path}", json=more)
        assert answer.status_code == 200, answer.text
        done: dict[str, Any] = answer.json()
        return done

    def full(self, made: dict[str, Any]) -> dict[str, Any]:
        shown: dict[str, Any] = self.http.get(f"/api/passphrases/{made['id']}").json()
        return shown

    def standing(self, mac: str) -> Standing | None:
        return devices.find_standing(self.reader, number(mac), NetworkId(1))

    def until(self, condition: Callable[[], bool], seconds: float) -> None:
        began = time.monotonic()
        while not condition():
            assert time.monotonic() - began < seconds, "it did not come about"
            time.sleep(0.2)  # another process writes: there is no event to wait for


@pytest.fixture(scope="module")
def cloister(built: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Cloister]:
    with (
        open_air(tmp_path_factory.mktemp("cloister"), built, _make_site, ssid=SSID, mode="psk") as air,
        httpx.Client(base_url=f"http://127.0.0.1:{air[2]}") as http,
    ):
        signed_in = http.post("/api/session", json={"name": STAFF, "password": PASSWORD})
        http.headers["X-Lauschen-Form"] = signed_in.json()["csrf"]
        made = Cloister(air[0], air[1], http)
        yield made
        made.reader.close()


def test_the_right_key_joins_with_its_vlan_and_a_wrong_one_does_not(cloister: Cloister) -> None:
    ines = cloister.issue("Ines Harwood", has_group=True)
    wrong = cloister.bed.join(1, FIRST, seconds=12, passphrase="a-passphrase-of-another-house")
    assert (wrong["joined"], wrong["reason"]) == ("no", "WRONG_KEY")
    standing = cloister.standing(FIRST)
    assert standing is not None
    assert standing.state is State.AT_DOOR
    assert cloister.full(ines)["devices"] == []
    joined = cloister.bed.join(1, FIRST, passphrase=ines["passphrase"])
    assert (joined["joined"], joined["vlan"], joined["ping"]) == ("yes", str(FIRST_GROUP), "yes")
    cloister.until(lambda: bool(cloister.full(ines)["devices"]), 10)
    (device,) = cloister.full(ines)["devices"]
    assert (device["mac"].lower().replace("-", ":"), device["is_in"]) == (FIRST, True)


def test_a_second_device_is_told_apart_among_several_keys(cloister: Cloister) -> None:
    made = [cloister.issue(f"Page-turner {n}", kind="thing") for n in range(3)]
    joined = cloister.bed.join(2, SECOND, passphrase=made[0]["passphrase"])
    assert joined["joined"] == "yes"
    # It is asked about again after a minute, and again, until only one key is left.
    cloister.until(lambda: bool(cloister.full(made[0])["devices"]), 300)
    cloister.until(lambda: cloister.bed.where(2, SECOND)["vlan"] == str(RESIDENT_VLAN), 120)
    assert not any(cloister.full(other)["devices"] for other in made[1:])


def test_a_rotated_key_works_in_its_overlap_and_not_after_it(cloister: Cloister) -> None:
    (of_second,) = [
        one for one in cloister.http.get("/api/passphrases").json()["holders"]["thing"] if one["devices"]
    ]
    old = cloister.http.post(f"/api/passphrases/{of_second['id']}/reveal").json()["passphrase"]
    renewed = cloister.act(f"passphrases/{of_second['id']}/renew", overlap_minutes=3)
    ends = time.monotonic() + 180
    # Its access point remembers for a while that there was one key alone.
    joined = cloister.bed.join(2, SECOND, passphrase=renewed["passphrase"], seconds=90)
    assert joined["joined"] == "yes"
    cloister.bed.leave(2)
    assert cloister.bed.join(2, SECOND, passphrase=old)["joined"] == "yes"
    assert time.monotonic() < ends
    # It is in by what was found out about it; the old key is over, and so is whoever uses it.
    time.sleep(max(0.0, ends - time.monotonic()))
    cloister.bed.leave(2)
    time.sleep(REMEMBERED_S)
    assert cloister.bed.join(2, SECOND, passphrase=old, seconds=15)["joined"] == "no"
    assert cloister.bed.join(2, SECOND, passphrase=renewed["passphrase"], seconds=60)["joined"] == "yes"


def test_a_withdrawn_key_is_thrown_off_and_stays_off(cloister: Cloister) -> None:
    (ines,) = cloister.http.get("/api/passphrases").json()["holders"]["person"]
    told = cloister.http.post(f"/api/passphrases/{ines['id']}/reveal").json()["passphrase"]
    cloister.act("issued/acts", what="withdraw", issued=[ines["id"]])
    # Within the time that its access point remembers it comes back, and is on its way out until it is gone.
    cloister.until(lambda: state_of(cloister, FIRST) not in (State.INSIDE, None), REMEMBERED_S + 60)
    time.sleep(REMEMBERED_S)
    assert state_of(cloister, FIRST) is not State.INSIDE
    assert cloister.bed.join(1, FIRST, passphrase=told, seconds=15)["joined"] == "no"
    assert state_of(cloister, FIRST) is not State.INSIDE


def state_of(cloister: Cloister, mac: str) -> State | None:
    """Where it is; None while it is on its way somewhere else."""
    found = cloister.standing(mac)
    assert found is not None
    return None if found.going is not None else found.state
