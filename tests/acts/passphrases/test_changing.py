"""What is done to a passphrase after it was issued, and to whoever is in by it."""

import pytest

from lauschen.acts.desk.helping import withdraw
from lauschen.acts.passphrases import changing
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Terms
from lauschen.store.passphrases import holders, keys
from tests.cloister import EAST, Cloister
from tests.place import OTHER, PHONE, Place


@pytest.fixture
def cloister(place: Place) -> Cloister:
    return Cloister(place)


def test_one_that_is_replaced_at_once_puts_out_who_is_in_by_it(cloister: Cloister) -> None:
    ines = cloister.issue()
    old = cloister.key(ines)
    cloister.ask(at=EAST, signed=old.id)
    cloister.ask(OTHER, EAST, cloister.key(cloister.issue("Room 7", "lantern-maple-drift-7")).id, "S2")
    with cloister.place.tx() as tx:
        renewed = changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 0)
        assert renewed.before == {old.id: None}
    assert cloister.standing().going is State.AT_DOOR
    assert (cloister.standing(OTHER).state, cloister.standing(OTHER).going) == (State.INSIDE, None)
    decision, _ = cloister.ask(at=EAST, signed=old.id)
    assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.KEY_ENDED)


def test_one_that_was_withdrawn_is_not_replaced(cloister: Cloister) -> None:
    ines = cloister.issue()
    with cloister.place.tx() as tx:
        withdraw(tx, ines)
    before = cloister.key(ines)
    with pytest.raises(Invalid, match="lets nobody in"), cloister.place.tx() as tx:
        changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 0)
    assert cloister.key(ines) == before


@pytest.mark.parametrize("days_down", [0, 3])
def test_whoever_is_in_by_one_whose_overlap_ended_is_put_out_however_long_the_house_was_down(
    cloister: Cloister, days_down: int
) -> None:
    ines, place = cloister.issue(), cloister.place
    old = cloister.key(ines)
    cloister.ask(at=EAST, signed=old.id)
    with place.tx() as tx:
        changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 600)
    place.run(Sweeper().sweep, is_act=False)
    assert cloister.standing().going is None
    place.now += 601 + days_down * 86_400
    place.run(Sweeper().sweep, is_act=False)
    assert cloister.standing().going is State.AT_DOOR


def test_a_replacement_is_not_taken_back_once_a_device_joined_with_it(cloister: Cloister) -> None:
    ines = cloister.issue()
    old = cloister.key(ines)
    with cloister.place.tx() as tx:
        renewed = changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 600)
    cloister.ask(at=EAST, signed=renewed.key)
    with pytest.raises(Invalid, match="joined with the new passphrase"), cloister.place.tx() as tx:
        changing.take_renewal_back(tx, ines, renewed)
    assert cloister.key(ines).id == renewed.key != old.id


def test_taking_a_replacement_back_changes_keys_of_nobody_else(cloister: Cloister) -> None:
    ines, jonas = cloister.issue(), cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    old, foreign = cloister.key(ines), cloister.key(jonas)
    with cloister.place.tx() as tx:
        renewed = changing.renew(tx, ines, keys.NewKey("drift-lantern-8", bytes(32), b""), 600)
        asked = changing.Renewed(renewed.key, {**renewed.before, foreign.id: tx.now})
        changing.take_renewal_back(tx, ines, asked)
    assert cloister.ask(at=EAST, signed=old.id)[0].answer is Answer.ADMIT
    assert cloister.ask(OTHER, EAST, foreign.id, "S2")[0].answer is Answer.ADMIT
    with cloister.place.tx() as tx, pytest.raises(NotThere):
        changing.take_renewal_back(tx, ines, changing.Renewed(foreign.id, {}))


def test_a_device_is_taken_off_the_passphrase_that_it_has_and_no_other(cloister: Cloister) -> None:
    ines, jonas = cloister.issue(), cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    cloister.ask(at=EAST, signed=cloister.key(ines).id)
    with cloister.place.tx() as tx:
        for act in (changing.take_off, changing.take_on_again):
            with pytest.raises(NotThere):
                act(tx, jonas, PHONE)
        assert changing.take_off(tx, ines, PHONE)
        assert not changing.take_off(tx, ines, PHONE)
        with pytest.raises(NotThere):
            changing.take_on_again(tx, jonas, PHONE)
        assert changing.take_on_again(tx, ines, PHONE)
        assert not changing.take_on_again(tx, ines, PHONE)
    assert cloister.ask(at=EAST, signed=cloister.key(ines).id)[0].answer is Answer.ADMIT


def test_a_device_that_was_taken_off_one_passphrase_may_have_another(cloister: Cloister) -> None:
    ines, jonas = cloister.issue(), cloister.issue("Jonas Quist", "maple-lantern-drift-2")
    cloister.ask(at=EAST, signed=cloister.key(ines).id)
    with cloister.place.tx() as tx:
        changing.take_off(tx, ines, PHONE)
    assert cloister.ask(at=EAST, signed=cloister.key(ines).id)[0].reason is Reason.KEY_REMOVED
    for _ in range(2):
        assert cloister.ask(at=EAST, signed=cloister.key(jonas).id)[0].answer is Answer.ADMIT


def test_a_device_that_is_taken_off_makes_room_where_devices_count_in_all(cloister: Cloister) -> None:
    ines = cloister.issue(terms=Terms(1, Seats.EVER))
    key = cloister.key(ines)
    assert cloister.ask(at=EAST, signed=key.id)[0].answer is Answer.ADMIT
    assert cloister.ask(OTHER, EAST, key.id, "S2")[0].reason is Reason.DEVICES_USED
    with cloister.place.tx() as tx:
        changing.take_off(tx, ines, PHONE)
    assert cloister.ask(OTHER, EAST, key.id, "S2")[0].answer is Answer.ADMIT
    line = holders.get_line(cloister.place.conn, ines)
    assert line is not None
    assert line.seats_taken == 1
    with cloister.place.tx() as tx:
        changing.take_on_again(tx, ines, PHONE)
    assert cloister.ask(PHONE, EAST, key.id, "S3")[0].reason is Reason.DEVICES_USED
