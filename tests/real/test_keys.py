"""Private passphrases with a real access point: it asks for each device by its address, and tries what it is told."""

import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.real.cloister import (
    FIRST,
    FIRST_GROUP,
    REMEMBERED_S,
    RESIDENT_VLAN,
    SECOND,
    SSID,
    Cloister,
    make_site,
    state_of,
)
from tests.real.town import PASSWORD, STAFF, open_air


@pytest.fixture(scope="module")
def cloister(built: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Cloister]:
    with (
        open_air(tmp_path_factory.mktemp("cloister"), built, make_site, ssid=SSID, mode="psk") as air,
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
