"""A neighbour in the group that raises, and the group is run again: each answer is what it is without that one."""

import asyncio
from collections.abc import Callable, Iterator

import pytest

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.arriving.posted import hand_out, one_time_secret
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.ways.passphrase import Signed
from lauschen.demo.site import CLOISTER_SSID, SSID
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import visits
from lauschen.store.visits import visit_hash
from tests.acts.arriving.test_users import by_pap
from tests.cloister import ATTIC, BSSID, Cloister
from tests.place import PHONE, WEST, CountedChance, Place
from tests.still_clock import StillClock

pytestmark = pytest.mark.usefixtures("groups_run_once")


@pytest.fixture
def open_road(place: Place, monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[[], Road]]:
    """Begins the road, once the place is as a test wants it."""
    monkeypatch.setattr("lauschen.road.road.GROUP_S", 60.0)
    made: list[Road] = []

    def open_one() -> Road:
        clock = StillClock()
        clock.advance(place.now - clock.now())
        made.append(Road(place.conn, place.keys, place.config, clock, CountedChance(), fsync_s=0.0))
        return made[0]

    yield open_one
    made[0].close()


class Asking:
    """An arrival on its way along the road."""

    is_packet = True

    def __init__(self, arrival: Arrival) -> None:
        self.arrival, self.runs = arrival, 0
        self.over: asyncio.Future[Decision] = asyncio.get_running_loop().create_future()

    def run(self, tx: Tx) -> None:
        self.runs += 1
        self.decision = answer_arrival(tx, self.arrival)[0]

    def done(self) -> None:
        self.over.set_result(self.decision)

    def failed(self, error: Exception) -> bool:
        self.over.set_exception(error)
        return True


class Raising:
    """Whatever it is, it cannot be answered."""

    is_packet = True

    def run(self, tx: Tx) -> None:
        raise KeyError("bug")

    def done(self) -> None:
        raise AssertionError

    def failed(self, error: Exception) -> bool:
        return True


async def beside_one_that_raises(road: Road, arrival: Arrival) -> Reason:
    asking = Asking(arrival)
    road.put(asking)
    road.put(Raising())
    reason = (await asking.over).reason
    assert asking.runs == 2
    return reason


def person(name: str, password: str) -> Arrival:
    return Arrival(
        Medium.PERSON, PHONE, WEST, SSID.encode(), spelled="p", session_id="S1", offer=by_pap(name, password)
    )


async def test_a_right_voucher_lets_in(place: Place, open_road: Callable[[], Road]) -> None:
    code = place.issue()[0]
    assert await beside_one_that_raises(open_road(), person("mirela", code)) is Reason.ADMITTED


async def test_a_right_passphrase_lets_in_by_its_handshake(
    place: Place, open_road: Callable[[], Road]
) -> None:
    cloister = Cloister(place)
    key = cloister.key(cloister.issue()).id
    frame = KeyFrame(2, 1, bytes(32), bytes(16), b"")
    shake = Handshake(BSSID, PHONE, CLOISTER_SSID.encode(), bytes(32), frame)
    arrival = Arrival(Medium.ASKED, PHONE, ATTIC, CLOISTER_SSID.encode(), spelled="p", session_id="S1")
    arrival.offer = Signed(shake, ATTIC, key)
    assert await beside_one_that_raises(open_road(), arrival) is Reason.ADMITTED


async def test_a_one_time_login_lets_in_once(place: Place, open_road: Callable[[], Road]) -> None:
    place.let_in(place.issue()[0])
    digest = visit_hash(place.open_page())
    road = open_road()
    await road.act(lambda tx: hand_out(tx, digest))
    name = f"visit-{digest[:8].hex()}"
    login = visits.find_login(place.conn, name)
    assert login is not None
    secret = one_time_secret(place.keys.token_key, digest, PHONE, login.handed_out_at)
    assert await beside_one_that_raises(road, person(name, secret)) is Reason.ADMITTED
    assert await beside_one_that_raises(road, person(name, secret)) is Reason.SECRET_USED
