"""For how long it is known which device had whose passphrase."""

from lauschen.acts.passphrases import changing
from lauschen.acts.staying.reports import Event
from lauschen.core.ids import CredentialId
from lauschen.core.limits.terms import Terms
from lauschen.store.passphrases import bound
from tests.acts.test_keeping import counts, keep
from tests.cloister import CLOISTER, EAST, Cloister
from tests.place import OTHER, PHONE, Place


def test_a_device_goes_with_the_passphrase_that_is_over_and_so_does_one_that_was_taken_off(
    place: Place,
) -> None:
    cloister = Cloister(place)
    ines = cloister.issue(terms=Terms(valid_until=place.now + 3600))
    two_join_and_one_is_taken_off(cloister, ines)
    keep(place, 179)
    assert {one.mac for one in bound.devices_of(place.conn, ines)} == {PHONE, OTHER}
    keep(place, 2)
    keep(place)
    assert bound.find_bound(place.conn, PHONE, CLOISTER) is None
    assert bound.find_bound(place.conn, OTHER, CLOISTER) is None
    assert counts(place) == {}


def test_one_whose_passphrase_is_good_is_known_still_and_stays_off_it(place: Place) -> None:
    cloister = Cloister(place)
    ines = cloister.issue()
    two_join_and_one_is_taken_off(cloister, ines)
    keep(place, 400)
    keep(place, 100)
    known = {one.mac: one.removed_at is not None for one in bound.devices_of(place.conn, ines)}
    assert known == {PHONE: False, OTHER: True}


def two_join_and_one_is_taken_off(cloister: Cloister, ines: CredentialId) -> None:
    for mac, session in ((PHONE, "S1"), (OTHER, "S2")):
        cloister.ask(mac, EAST, cloister.key(ines).id, session)
        cloister.report(Event.START, mac, session, EAST)
        cloister.report(Event.STOP, mac, session, EAST)
    with cloister.place.tx() as tx:
        changing.take_off(tx, ines, OTHER)
