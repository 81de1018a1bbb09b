"""Which key a handshake was signed with: known devices at once, others beside the loop, and none again and again."""

import asyncio
from pathlib import Path
from typing import Any

import pytest

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Unavailable
from lauschen.core.ids import KeyId, Mac
from lauschen.core.passphrases.derive import pmk_of
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake, kck_of, mic_of
from lauschen.core.ways.click_through import Agreement
from lauschen.core.ways.passphrase import Signed
from lauschen.demo.site import CLOISTER_SSID
from lauschen.proofs.handshakes import FREE_TRIES, MOST_WAITING, PAUSE_S, Handshakes
from lauschen.store.passphrases.keys import Share
from tests.cloister import BSSID
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


def signed(pmk: bytes, station: Mac = PHONE, nonce: bytes = bytes(32), version: int = 2) -> Signed:
    frame = KeyFrame(version, 1, b"\1" * 32, b"", b"the frame")
    shake = Handshake(BSSID, station, SSID, nonce, frame)
    mic = mic_of(kck_of(pmk, shake), frame)
    return Signed(Handshake(BSSID, station, SSID, nonce, KeyFrame(version, 1, b"\1" * 32, mic, b"the frame")))


@pytest.fixture
def looked() -> Looked:
    return Looked()


@pytest.fixture
def handshakes(place: Place, looked: Looked) -> Handshakes:
    return Handshakes(lambda: place.house, Path(), Path(), lambda: place.now, [looked])  # type: ignore[arg-type]


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


async def test_one_of_each_device_is_looked_at_at_a_time_and_so_many_in_all(
    handshakes: Handshakes, looked: Looked
) -> None:
    looked.waits = asyncio.Event()
    tasks = [asyncio.create_task(handshakes(signed(PMK, Mac(n)))) for n in range(1, MOST_WAITING + 1)]
    await asyncio.sleep(0)
    for station in (Mac(1), Mac(MOST_WAITING + 1)):
        with pytest.raises(Unavailable):
            await handshakes(signed(PMK, station))
    looked.waits.set()
    await asyncio.gather(*tasks)
    assert await handshakes(signed(PMK, Mac(MOST_WAITING + 1))) is None


async def test_a_wi_fi_without_keys_and_another_offer_are_not_waited_for(handshakes: Handshakes) -> None:
    shake = signed(PMK).handshake
    elsewhere = Handshake(shake.access_point, shake.station, b"Hollerau Garden", shake.nonce, shake.frame)
    assert not handshakes.waits(Signed(elsewhere))
    assert not handshakes.waits(Agreement(1, "en"))
