"""Which network a request is for is its sender's word: an access device is heard for the networks that it serves."""

from dataclasses import replace

import pytest

from lauschen.acts.config.changes import change_access_device, list_for
from lauschen.acts.staying.reports import Event, Report
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.demo.site import CLOISTER_SSID, ETHERNET, SSID
from lauschen.serve.first_run import open_data
from lauschen.store import devices, stays
from lauschen.store.config import access_devices
from tests.cloister import CLOISTER, EAST, Cloister
from tests.place import BARN, GARDEN, PHONE, WEST, Place

SWITCH, WALL = AccessDeviceId(4), NetworkId(3)
HOUSE = SSID.encode()
GUEST = Mac(0x020000AABB09)


@pytest.mark.parametrize("at", [WEST, SWITCH])
def test_an_access_device_of_another_network_gets_no_passphrase(place: Place, at: AccessDeviceId) -> None:
    cloister = Cloister(place)
    key = cloister.key(cloister.issue())
    cloister.ask(at=EAST, signed=key.id)
    for signed in (False, key.id):
        decision, picture = cloister.ask(at=at, signed=signed, session="S2")
        assert (decision.answer, decision.reason, picture.keys) == (Answer.REFUSE, Reason.NOT_SERVED, ())
    assert cloister.standing().access_device == EAST
    (asked,) = access_devices.not_served_since(place.conn, 0.0, 9)
    assert (asked.access_device, asked.network, asked.packets) == (at, CLOISTER, 2)


def test_nothing_is_looked_up_for_a_person_either(place: Place) -> None:
    code = place.issue()[0]
    offer = NameAndPassword(code, code, lambda password: password == code)
    arrival = Arrival(Medium.PERSON, PHONE, EAST, ssid=HOUSE, session_id="S1", offer=offer)
    decision, _ = place.answer(arrival)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.NOT_SERVED)
    assert devices.find_standing(place.conn, PHONE, GARDEN) is None
    decision, _ = place.answer(replace(arrival, access_device=WEST))
    assert decision.answer is Answer.ADMIT


def test_a_network_that_is_recognised_by_other_hints_is_no_other_matter(place: Place) -> None:
    arrival = Arrival(Medium.ASKED, PHONE, WEST, port_type=ETHERNET)
    assert place.answer(arrival)[0].reason is Reason.NOT_SERVED
    assert place.answer(replace(arrival, access_device=SWITCH))[0].reason is Reason.NEEDS_CODE


def test_an_empty_list_means_none_and_who_is_inside_is_refused_when_asked_about(place: Place) -> None:
    place.let_in(place.issue()[0])
    with place.tx() as tx:
        change_access_device(tx, replace(tx.config.access_devices[WEST], serves=frozenset()))
    place.reload()
    assert place.ask()[0].reason is Reason.NOT_SERVED
    assert place.standing().state is State.INSIDE
    place.report(Event.INTERIM, session_time=60, octets_in=1000)
    stay = stays.open_stay(place.conn, PHONE, "S1", WEST)
    assert stay is not None
    assert (stay.network, stay.octets_in.total) == (GARDEN, 1000)


def test_a_report_of_another_network_is_no_guests(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.take(Report(Event.START, EAST, "east", 0, PHONE, HOUSE, "S9"))
    place.take(Report(Event.INTERIM, EAST, "east", 0, PHONE, HOUSE, "S9", 60, 10**9))
    stay = stays.open_stay(place.conn, PHONE, "S9", EAST)
    assert stay is not None
    assert stay.network is None
    assert place.standing().access_device == WEST
    assert place.conn.execute("SELECT max(octets) FROM allowance").fetchone()[0] == 0
    (asked,) = access_devices.not_served_since(place.conn, 0.0, 9)
    assert (asked.access_device, asked.network) == (EAST, GARDEN)


def test_a_token_of_the_page_is_checked_before_its_device_is_looked_up(place: Place) -> None:
    place.ask()
    place.open_page()
    code = place.issue()[0]
    with place.tx() as tx:
        list_for(tx, GARDEN, [BARN])
    place.reload()
    with pytest.raises(NotThere, match="access_device"):
        place.open_page()
    with pytest.raises(NotThere, match="access_device"):
        place.try_code(code)
    assert place.grant(code) is not None
    with place.tx() as tx:
        list_for(tx, GARDEN, [BARN, WEST])
    place.reload()
    place.open_page()
    assert place.try_code(code).reason == "admitted"  # type: ignore[union-attr]


def test_to_be_listed_ends_what_was_noted_and_what_is_not_there_is_refused(place: Place) -> None:
    arrival = Arrival(Medium.ASKED, PHONE, WEST, ssid=CLOISTER_SSID.encode())
    place.answer(arrival)
    assert len(access_devices.not_served_since(place.conn, 0.0, 9)) == 1
    with place.tx() as tx:
        list_for(tx, CLOISTER, [WEST, EAST])
    place.reload()
    assert access_devices.not_served_since(place.conn, 0.0, 9) == []
    assert place.config.access_devices[WEST].serves == {GARDEN, CLOISTER}
    for act in (
        lambda tx: list_for(tx, GARDEN, [AccessDeviceId(99)]),
        lambda tx: change_access_device(
            tx, replace(tx.config.access_devices[WEST], serves=frozenset({NetworkId(99)}))
        ),
    ):
        with pytest.raises(Invalid), place.tx() as tx:
            act(tx)


def test_in_a_stored_folder_every_guest_who_is_inside_stays_inside(place: Place) -> None:
    """As the version before left it: no list at all, one access device without accounting, one of long ago."""
    code, other = place.issue(2)
    place.let_in(code)
    place.ask(session="S2", mac=GUEST, at=BARN)
    place.open_page(GUEST, "visit-2", "127.77.1.9")
    place.try_code(other, "visit-2")
    place.ask(session="S2", mac=GUEST, at=BARN, medium=Medium.REAUTHORISED)
    before = {mac: place.standing(mac).state for mac in (PHONE, GUEST)}
    assert set(before.values()) == {State.INSIDE}
    place.conn.executescript(
        "ALTER TABLE place DROP COLUMN is_left; ALTER TABLE admission DROP COLUMN seats;"
        "DROP TABLE serves; DROP TABLE not_served; DROP TABLE key_asked; DROP TABLE key_shown; DROP TABLE key_limit;"
        "DROP TABLE attempt; DROP INDEX message_domain; ALTER TABLE message DROP COLUMN domain_hash;"
        f"UPDATE stay SET started = started + unixepoch() - {place.now}, last_event = unixepoch();"
        "UPDATE standing SET last_heard = unixepoch(); PRAGMA user_version = 24;"
    )
    conn, _ = open_data(place.data)
    conn.close()
    place.reload()
    place.restart()
    serves = {device.name: sorted(device.serves) for device in place.config.access_devices.values()}
    assert serves["Garden west"] == serves["Concert barn"] == [GARDEN]
    assert serves["Practice house"] == serves["Cloister attic"] == []
    assert place.ask()[0].answer is Answer.ADMIT
    assert place.ask(session="S2", mac=GUEST, at=BARN)[0].answer is Answer.ADMIT
