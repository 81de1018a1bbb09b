"""Which key a handshake was signed with: known devices at once, others beside the loop, and none again and again."""

import asyncio
from pathlib import Path
from typing import Any

import pytest

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Unavailable
from lauschen.core.ids import AccessDeviceId, KeyId, Mac, NetworkId
from lauschen.core.passphrases.derive import pmk_of
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake, kck_of, mic_of
from lauschen.core.ways.click_through import Agreement
from lauschen.core.ways.passphrase import Signed
from lauschen.demo.site import CLOISTER_SSID
from lauschen.proofs.handshakes import AT_ONCE, FREE_TRIES, MOST_WAITING, PAUSE_S, Handshakes
from lauschen.store.passphrases.keys import Share, pmk_of_device, seal_pmk
from tests.cloister import ATTIC, BSSID, CLOISTER, EAST, Cloister
from tests.place import PHONE, Place

SSID = CLOISTER_SSID.encode()
PMK = pmk_of("vase-trumpet-elbow-9", SSID)


class Looked:
    """In place of the process: finds one key, and counts how often it is asked."""

    def __init__(self) -> None:
        self.asked = 0
        self.shares: list[Share] = []
        self.waits: asyncio.Event | None = None

    async def run(
        self, _task: object, _database: Path, _keys: Path, share: Share, _network: int, shake: Handshake
    ) -> Any:
        self.shares.append(share)
        self.asked += 1
        if self.waits is not None:
            await self.waits.wait()
        return (
            (7, PMK)
            if signed(PMK, shake.station, shake.nonce).handshake.frame.mic == shake.frame.mic
            else None
        )

    def close(self) -> None:
        pass


def signed(
    pmk: bytes,
    station: Mac = PHONE,
    nonce: bytes = bytes(32),
    version: int = 2,
    at: AccessDeviceId = ATTIC,
) -> Signed:
    frame = KeyFrame(version, 1, b"\1" * 32, b"", b"the frame")
    shake = Handshake(BSSID, station, SSID, nonce, frame)
    mic = mic_of(kck_of(pmk, shake), frame)
    frame = KeyFrame(version, 1, b"\1" * 32, mic, b"the frame")
    return Signed(Handshake(BSSID, station, SSID, nonce, frame), at)


@pytest.fixture
def looked() -> Looked:
    return Looked()


@pytest.fixture
def handshakes(place: Place, looked: Looked) -> Handshakes:
    def had(mac: Mac, network: NetworkId, ssid: bytes) -> tuple[KeyId, bytes] | None:
        return pmk_of_device(place.conn, place.keys, mac, network, ssid)

    return Handshakes(lambda: place.config, Path(), Path(), lambda: place.now, had, [looked])  # type: ignore[list-item]


async def test_all_keys_are_looked_through_once_and_then_it_is_known(
    handshakes: Handshakes, looked: Looked
) -> None:
    first = signed(PMK)
    assert handshakes.waits(first)
    assert await handshakes(first) is None
    assert first.key == 7
    again = signed(PMK, nonce=b"\2" * 32)
    assert not handshakes.waits(again)
    assert (again.key, looked.asked) == (KeyId(7), 1)
    # Another key on the same device: all are looked through again.
    assert handshakes.waits(signed(bytes(32)))


async def test_each_process_looks_through_its_share(handshakes: Handshakes, looked: Looked) -> None:
    class Nobodys(Looked):
        async def run(self, *asked: Any) -> None:
            await super().run(*asked)

    other = Nobodys()
    for workers in ([looked, other], [other, looked]):
        handshakes.workers = workers  # type: ignore[assignment]
        asked = signed(PMK, Mac(PHONE + len(looked.shares) + 1))
        await handshakes(asked)
        assert asked.key == 7
    assert (looked.shares, other.shares) == ([(0, 2), (1, 2)], [(1, 2), (0, 2)])


@pytest.mark.parametrize("version", [1, 2, 3])
async def test_a_known_device_is_known_by_each_descriptor_version(
    handshakes: Handshakes, version: int
) -> None:
    await handshakes(signed(PMK))
    asked = signed(PMK, version=version)
    assert not handshakes.waits(asked)
    assert asked.key == 7


async def test_who_tries_wrong_ones_again_and_again_is_not_looked_at_for_a_moment(
    handshakes: Handshakes, looked: Looked, place: Place
) -> None:
    for _ in range(FREE_TRIES):
        wrong = signed(bytes(32))
        assert handshakes.waits(wrong)
        await handshakes(wrong)
        assert wrong.key is None
    for _ in range(1000):
        wrong = signed(bytes(32))
        assert not handshakes.waits(wrong)
        assert wrong.fault is Reason.TOO_SOON
    assert looked.asked == FREE_TRIES
    # Nobody else waits for that.
    assert handshakes.waits(signed(PMK, Mac(PHONE + 1)))
    place.now += PAUSE_S
    right = signed(PMK)
    assert handshakes.waits(right)
    await handshakes(right)
    assert (right.key, right.fault) == (7, None)


async def test_one_of_each_device_is_looked_at_at_a_time(handshakes: Handshakes, looked: Looked) -> None:
    looked.waits = asyncio.Event()
    task = asyncio.create_task(handshakes(signed(PMK)))
    await asyncio.sleep(0)
    with pytest.raises(Unavailable):
        await handshakes(signed(PMK))
    assert handshakes.refused == set()
    looked.waits.set()
    await task


def wrong_ones(handshakes: Handshakes, count: int, at: AccessDeviceId) -> list["asyncio.Task[Reason | None]"]:
    """With a new address each."""
    asked = [signed(bytes(32), Mac(at << 16 | number), at=at) for number in range(count)]
    assert all(map(handshakes.waits, asked))
    return [asyncio.create_task(handshakes(one)) for one in asked]


async def test_wrong_ones_of_one_access_device_delay_nobody_at_another(
    handshakes: Handshakes, looked: Looked
) -> None:
    looked.waits = asyncio.Event()
    flood = wrong_ones(handshakes, AT_ONCE + MOST_WAITING, ATTIC)
    await asyncio.sleep(0)
    with pytest.raises(Unavailable):
        await handshakes(signed(bytes(32)))
    assert handshakes.refused == {(ATTIC, CLOISTER)}
    right = signed(PMK, at=EAST)
    waiting = asyncio.create_task(handshakes(right))
    await asyncio.sleep(0)
    assert looked.asked == AT_ONCE
    looked.waits.set()
    await waiting
    assert right.key == 7
    assert looked.asked <= 2 * AT_ONCE + 1
    await asyncio.gather(*flood)


async def test_a_device_that_joined_before_comes_before_strangers(
    handshakes: Handshakes, looked: Looked, place: Place
) -> None:
    cloister = Cloister(place)
    cloister.ask(signed=cloister.key(cloister.issue()).id)
    looked.waits = asyncio.Event()
    flood = wrong_ones(handshakes, AT_ONCE + MOST_WAITING, ATTIC)
    await asyncio.sleep(0)
    renewed = signed(PMK)
    assert handshakes.waits(renewed)
    waiting = asyncio.create_task(handshakes(renewed))
    await asyncio.sleep(0)
    looked.waits.set()
    await waiting
    assert (renewed.key, renewed.is_known) == (7, True)
    assert looked.asked <= 2 * AT_ONCE + 1
    await asyncio.gather(*flood)


async def test_after_a_start_a_device_that_joined_before_needs_no_look(
    handshakes: Handshakes, looked: Looked, place: Place
) -> None:
    cloister = Cloister(place)
    holder = cloister.issue()
    key = cloister.key(holder)
    place.conn.execute(
        "UPDATE passphrase_key SET pmk_sealed = ?", (seal_pmk(place.keys, pmk_of(key.text, SSID), key.id),)
    )
    cloister.ask(signed=key.id)
    asked = signed(pmk_of(key.text, SSID))
    assert not handshakes.waits(asked)
    assert (asked.key, looked.asked) == (key.id, 0)


async def test_a_wi_fi_without_keys_and_another_offer_are_not_waited_for(handshakes: Handshakes) -> None:
    shake = signed(PMK).handshake
    elsewhere = Handshake(shake.access_point, shake.station, b"Hollerau Garden", shake.nonce, shake.frame)
    assert not handshakes.waits(Signed(elsewhere, ATTIC))
    assert not handshakes.waits(Agreement(1, "en"))
