"""A site with private passphrases, as its tests with a real access point see it."""

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import httpx

from lauschen.core.config.dialect import Dialect
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import DialectId, NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import KeyFile, PrivatePassphrase
from lauschen.store import devices
from lauschen.store.config import access_devices, networks, plans, rules, ways
from lauschen.store.db import open_reader
from tests.real.bed import Bed
from tests.real.town import new_house, number

SSID = "Hollerau Cloister"
HALL_VLAN, RESIDENT_VLAN = 349, 340
FIRST_GROUP = 401
FIRST, SECOND = "02:00:00:aa:bb:01", "02:00:00:aa:bb:02"
REMEMBERED_S = 35
"""How long this access point answers a returning device from memory, with what we allow for it."""


def make_site(data: Path, changes: int, file: tuple[str, str] | None = None) -> None:
    """`file`: name and interface, where the access point has a file of all passphrases."""
    with new_house(data, Dialect(DialectId(0), "asks by address"), changes) as (conn, _, place):
        hall = networks.add_role(conn, "Cloister hall", vlan=HALL_VLAN, filter_name=None, is_door=True)
        resident = networks.add_role(conn, "Resident", vlan=RESIDENT_VLAN, filter_name=None)
        cloister = networks.add_network(conn, "Cloister", door_role=hall, ssid=SSID.encode())
        access_devices.save_serves(conn, place, [cloister])
        files = () if file is None else (KeyFile(place, *file),)
        way = PrivatePassphrase(first_vlan=FIRST_GROUP, last_vlan=FIRST_GROUP + 9, files=files)
        ways.save_ways(conn, cloister, [way])
        rules.add_rule(conn, network=cloister, way_in=WayIn.PASSPHRASE, role=resident)
        plans.add_plan(conn, Plan(PlanId(0), "Season", None, None, None, 5, None))


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


def state_of(cloister: Cloister, mac: str) -> State | None:
    """Where it is; None while it is on its way somewhere else."""
    found = cloister.standing(mac)
    assert found is not None
    return None if found.going is not None else found.state
