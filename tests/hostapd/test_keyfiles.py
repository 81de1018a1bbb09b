"""An access point on this host: its file is whole or the one before, and whoever has no key in it is thrown off."""

import errno
import os
import stat
from pathlib import Path
from typing import Any

import httpx
import pytest

from lauschen.core.config.dialect import KeysBy
from lauschen.core.decide.standing import State
from lauschen.core.errors import Unavailable
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.passphrases.keyfile import KeyLine, read_key_file
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.hostapd.control import Station, opened
from lauschen.hostapd.whole import write_whole
from lauschen.serve.keyfiles import AT_LEAST_S, LOOK_S, PAUSE_S
from lauschen.standins.access_device.device import Phone
from lauschen.standins.access_device.keyed import KeyedAccessPoint
from lauschen.standins.hostapd import FakeHostapd
from lauschen.store.moving import places
from tests.cloister import CLOISTER
from tests.garden import Garden
from tests.test_cloister import Residents

FILE, INTERFACE = "cloister.psk", "wlan0"
ATTIC = 6


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    made = tmp_path / "air"
    made.mkdir()
    return made


@pytest.fixture
async def hostapd(folder: Path) -> Any:
    made = FakeHostapd(folder / INTERFACE, folder / FILE)
    yield made
    made.close()


class Attic(Residents):
    """Whose access point does not ask."""

    folder: Path

    async def begin(self, folder: Path) -> None:
        self.folder = folder
        files = self.garden.demo.service.key_files
        files.files = files.sockets = folder
        way = {
            "way": "passphrase", "first_vlan": 401, "last_vlan": 410,
            "files": [{"access_device": ATTIC, "file": FILE, "interface": INTERFACE}],
        }  # fmt: skip
        answer = await self.staff.put(f"/api/networks/{CLOISTER}/ways", json={"ways": [way]})
        assert answer.status_code == 200, answer.text

    async def look(self) -> None:
        self.garden.clock.advance(LOOK_S + PAUSE_S)
        await self.garden.demo.service.key_files.look()

    def lines(self) -> list[KeyLine]:
        return read_key_file((self.folder / FILE).read_text())


@pytest.fixture
async def attic(garden: Garden, staff: httpx.AsyncClient, folder: Path) -> Attic:
    made = Attic(garden, staff)
    await made.begin(folder)
    return made


async def test_the_file_has_a_line_for_each_that_holds_with_its_vlan(
    attic: Attic, hostapd: FakeHostapd
) -> None:
    ines = await attic.issue(has_group=True)
    room = await attic.issue("Room 7", kind="room")
    await attic.look()
    assert [(one.passphrase, one.vlan) for one in attic.lines()] == [
        (ines["passphrase"], 401), (room["passphrase"], 340),
    ]  # fmt: skip
    assert stat.S_IMODE((attic.folder / FILE).stat().st_mode) == 0o600
    assert hostapd.reloads >= 1
    before, written = hostapd.reloads, (attic.folder / FILE).stat()
    attic.garden.clock.advance(AT_LEAST_S)
    await attic.look()
    assert hostapd.reloads == before
    assert (attic.folder / FILE).stat().st_ino == written.st_ino
    await attic.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [ines["id"]]})
    await attic.look()
    assert [one.passphrase for one in attic.lines()] == [room["passphrase"]]
    assert f"{FILE} is in force." in (await attic.plan())["networks"][0]["asks"]


async def test_who_joined_by_the_file_is_inside_and_bound_and_leaves_with_the_list(
    attic: Attic, hostapd: FakeHostapd
) -> None:
    made = await attic.issue()
    await attic.look()
    mac = Mac(0x0677C1000077)
    assert hostapd.join(mac, made["passphrase"])
    await attic.look()
    (device,) = (await attic.full(made))["devices"]
    assert (read_mac(device["mac"]), device["is_in"]) == (mac, True)
    assert hostapd.thrown == []
    hostapd.stations.clear()
    await attic.look()
    (device,) = (await attic.full(made))["devices"]
    assert not device["is_in"]


async def test_what_is_withdrawn_is_thrown_off_and_stays_off(attic: Attic, hostapd: FakeHostapd) -> None:
    made = await attic.issue()
    await attic.look()
    mac = Mac(0x0677C1000077)
    hostapd.join(mac, made["passphrase"])
    await attic.look()
    await attic.staff.post("/api/issued/acts", json={"what": "withdraw", "issued": [made["id"]]})
    await attic.look()
    assert hostapd.thrown == [mac]
    assert not hostapd.join(mac, made["passphrase"])


async def test_a_stay_that_is_ended_is_put_off_by_the_control_socket(
    attic: Attic, hostapd: FakeHostapd
) -> None:
    """The passphrase stays good, so the device may join again at once."""
    made = await attic.issue()
    await attic.look()
    mac = Mac(0x0677C1000077)
    hostapd.join(mac, made["passphrase"])
    await attic.look()
    end = f"/api/guests/{spell_mac(mac)}/{CLOISTER}/end-stay"
    assert (await attic.staff.post(end, json={})).status_code == 200
    await attic.garden.until(lambda: hostapd.thrown == [mac])
    assert hostapd.join(mac, made["passphrase"])


async def test_a_stay_of_a_device_that_went_meanwhile_ends_without_a_word_to_the_access_point(
    attic: Attic, hostapd: FakeHostapd
) -> None:
    made = await attic.issue()
    await attic.look()
    mac = Mac(0x0677C1000077)
    hostapd.join(mac, made["passphrase"])
    await attic.look()
    hostapd.stations.clear()
    end = f"/api/guests/{spell_mac(mac)}/{CLOISTER}/end-stay"
    assert (await attic.staff.post(end, json={})).status_code == 200
    reader = attic.garden.demo.service.reader
    await attic.garden.until(lambda: places.places_of(reader, mac, NetworkId(CLOISTER)) == [])
    assert hostapd.thrown == []


async def test_who_is_inside_stays_while_nobody_else_is_let_in(attic: Attic, hostapd: FakeHostapd) -> None:
    made = await attic.issue()
    await attic.look()
    mac = Mac(0x0677C1000077)
    hostapd.join(mac, made["passphrase"])
    await attic.look()
    pause = {"until": None, "why": "", "ends_stays": False}
    answer = await attic.staff.post(f"/api/networks/{CLOISTER}/pause", json=pause)
    assert answer.status_code == 200, answer.text
    await attic.look()
    assert attic.lines() == []
    assert hostapd.thrown == []
    assert (await attic.full(made))["devices"][0]["is_in"]
    hostapd.stations[Mac(0x0677C1000078)] = hostapd.stations[
        mac
    ]  # a second one, from before the file was read
    await attic.look()
    assert hostapd.thrown == [Mac(0x0677C1000078)]


async def test_who_shakes_hands_is_not_thrown_off(attic: Attic, hostapd: FakeHostapd) -> None:
    await attic.issue()
    mac = Mac(0x0677C1000077)
    hostapd.stations[mac] = None
    hostapd.shaking = {mac}
    await attic.look()
    assert hostapd.thrown == []
    hostapd.shaking = set()
    await attic.look()
    assert hostapd.thrown == [mac]


async def test_more_devices_than_a_key_is_for_are_thrown_off(attic: Attic, hostapd: FakeHostapd) -> None:
    made = await attic.issue(devices=1)
    await attic.look()
    first, second = Mac(0x0677C1000077), Mac(0x0677C1000078)
    for mac in (first, second):
        hostapd.join(mac, made["passphrase"])
    await attic.look()
    assert hostapd.thrown == [second]


async def test_on_a_full_disk_the_file_before_stays_whole_and_it_is_said(
    attic: Attic, hostapd: FakeHostapd, monkeypatch: pytest.MonkeyPatch
) -> None:
    await attic.issue()
    await attic.look()
    before = (attic.folder / FILE).read_text()

    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))

    monkeypatch.setattr(os, "fsync", full)
    await attic.issue("Room 7", kind="room")
    await attic.look()
    assert (attic.folder / FILE).read_text() == before
    assert sorted(one.name for one in attic.folder.iterdir()) == [FILE, INTERFACE]
    (said,) = [one for one in (await attic.plan())["networks"][0]["asks"] if FILE in one]
    assert "No space left on device" in said
    assert "the one before is in force" in said
    monkeypatch.undo()
    await attic.look()
    assert len(attic.lines()) == 2


async def test_an_access_point_that_is_not_there_is_said_and_read_later(attic: Attic, folder: Path) -> None:
    await attic.issue()
    await attic.look()
    asks = (await attic.plan())["networks"][0]["asks"]
    assert any("is not there" in one for one in asks), asks
    made = FakeHostapd(folder / INTERFACE, folder / FILE)
    await attic.look()
    assert made.reloads == 1
    made.close()


@pytest.mark.parametrize("name", ["../passwd", "/etc/passwd", ".hidden", "a/b", "", "x" * 61, "a\0b"])
async def test_a_file_is_a_plain_name(attic: Attic, name: str) -> None:
    way = {"way": "passphrase", "files": [{"access_device": ATTIC, "file": name, "interface": INTERFACE}]}
    answer = await attic.staff.put(f"/api/networks/{CLOISTER}/ways", json={"ways": [way]})
    assert answer.status_code == 422


def test_a_link_in_the_place_of_the_new_file_is_not_followed(folder: Path) -> None:
    (folder / "victim").write_text("untouched")
    (folder / f".{FILE}.new").symlink_to(folder / "victim")
    with pytest.raises(OSError, match="symbolic"):
        write_whole(folder / FILE, "keys")
    assert (folder / "victim").read_text() == "untouched"


async def test_answers_of_the_control_interface_are_read_as_they_come(hostapd: FakeHostapd) -> None:
    hostapd.stations[Mac(1)] = "7"
    hostapd.stations[Mac(2)] = "not ours"
    hostapd.stations[Mac(3)] = None
    async with opened(hostapd.path) as control:
        assert await control.ask("PING") == "PONG"
        assert await control.stations() == [Station(Mac(1), 7), Station(Mac(2), None), Station(Mac(3), None)]  # type: ignore[arg-type]
        hostapd.refuses = True
        with pytest.raises(Unavailable, match="does not read its file"):
            await control.reload_passphrases()


@pytest.fixture
def stand_in(attic: Attic, hostapd: FakeHostapd) -> tuple[KeyedAccessPoint, Phone]:
    """The demo's stand-in, with that file."""
    point = attic.attic
    point.keys_by, point._file = KeysBy.FILE, attic.folder / FILE
    return point, attic.bring(point, "")


async def test_the_stand_in_lets_in_by_the_file(
    attic: Attic, stand_in: tuple[KeyedAccessPoint, Phone]
) -> None:
    made = await attic.issue(has_group=True)
    await attic.look()
    point, phone = stand_in
    assert not await point.join(phone)
    point.passphrases[phone.mac] = made["passphrase"]
    assert await point.join(phone)
    assert phone.session is not None
    assert phone.session.placement.vlan == "401"
    assert attic.state(phone) in (None, State.INSIDE)
