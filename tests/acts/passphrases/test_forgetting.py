"""For how long it is known which device had whose passphrase."""

from lauschen.acts.passphrases import changing
from lauschen.acts.staying.reports import Event
from lauschen.core.ids import Mac
from lauschen.core.limits.terms import Terms
from lauschen.store.passphrases import bound
from tests.acts.test_keeping import counts, keep
from tests.cloister import CLOISTER, EAST, Cloister
from tests.place import OTHER, PHONE, Place


def test_a_device_goes_with_all_that_is_known_of_it_unless_it_was_taken_off(place: Place) -> None:
    cloister = Cloister(place)
    ines = cloister.issue(terms=Terms(valid_until=place.now + 3600))
    for mac, session in ((PHONE, "S1"), (OTHER, "S2")):
        cloister.ask(mac, EAST, cloister.key(ines).id, session)
        cloister.report(Event.START, mac, session, EAST)
        cloister.report(Event.STOP, mac, session, EAST)
    with place.tx() as tx:
        changing.take_off(tx, ines, OTHER)
    keep(place, 89)
    assert bound.find_bound(place.conn, PHONE, CLOISTER) is not None
    keep(place, 100)  # its admission ends with what was known of where it is
    keep(place, 181)
    assert bound.find_bound(place.conn, PHONE, CLOISTER) is None
    known = bound.find_bound(place.conn, OTHER, CLOISTER)
    assert known is not None
    assert known.removed_at is not None
    assert counts(place) == {"device": 1}


def test_one_whose_passphrase_is_good_is_known_still(place: Place) -> None:
    cloister = Cloister(place)
    ines = cloister.issue()
    cloister.ask(PHONE, EAST, cloister.key(ines).id)
    cloister.report(Event.START, at=EAST)
    cloister.report(Event.STOP, at=EAST)
    keep(place, 400)
    assert [one.mac for one in bound.devices_of(place.conn, ines)] == [Mac(PHONE)]
