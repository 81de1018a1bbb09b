"""What a guest reads while the access device is being told."""

from lauschen.core.decide.standing import State
from lauschen.portal.facts import load_facts
from lauschen.store import visits
from lauschen.store.moving import places
from tests.place import PHONE, Place


def waits(place: Place) -> float:
    name, _ = place.visits["visit-1"]
    visit = visits.find_visit(place.conn, name, place.now)
    assert visit is not None
    facts = load_facts(place.conn, place.keys, place.config, visit, name, place.now)
    assert facts is not None
    return facts.wait_s


def test_how_long_it_takes_is_said_before_the_access_device_is_told_and_not_while_it_is(place: Place) -> None:
    place.set_dialect(pause_ms=5000)
    place.ask()
    place.open_page()
    place.try_code(place.issue()[0])
    assert place.standing().going is State.INSIDE
    assert waits(place) == 5.0
    place.now += 5
    with place.tx() as tx:
        (at,) = [one for one in place.places(PHONE) if one.next_at is not None]
        places.set_out(tx.conn, at, tx.now, tx.now + 60)
    assert waits(place) == 0.0
