"""The limits of one of the desk: networks that are not theirs, and what somebody else issued."""

from collections.abc import Callable

import pytest

from lauschen.acts.desk import helping
from lauschen.acts.desk.pausing import pause
from lauschen.core.actor import person
from lauschen.core.errors import NotThere
from lauschen.core.ids import NetworkId, StaffId
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits
from lauschen.road.tx import Tx
from lauschen.store.people import staff
from tests.place import GARDEN, PHONE, Place

ELSEWHERE = NetworkId(GARDEN + 1)
ACTS: dict[str, Callable[[Tx], object]] = {
    "end stay": lambda tx: helping.end_device_stay(tx, PHONE, GARDEN),
    "bar": lambda tx: helping.bar(tx, PHONE, GARDEN),
    "let try again": lambda tx: helping.let_try_again(tx, PHONE, GARDEN),
    "send again": lambda tx: helping.try_move_again(tx, PHONE, GARDEN),
}


def somebody(place: Place, limits: Limits) -> StaffId:
    def add(tx: Tx) -> StaffId:
        made = staff.add_staff(tx.conn, "odile", "no hash", must_change=False, password_until=None)
        staff.set_duty(tx.conn, made, Duty.DESK)
        staff.set_limits(tx.conn, made, limits)
        return made

    return place.run(add)


@pytest.mark.parametrize("act", ACTS.values(), ids=ACTS)
def test_nobody_helps_on_a_network_that_is_not_theirs(place: Place, act: Callable[[Tx], object]) -> None:
    place.let_in(place.issue()[0])
    theirs = somebody(place, Limits(networks=(ELSEWHERE,)))
    before = place.standing()
    with pytest.raises(NotThere, match="device"):
        place.run(act, by=person(theirs))
    assert place.standing() == before


def test_on_their_own_network_they_do(place: Place) -> None:
    place.let_in(place.issue()[0])
    theirs = somebody(place, Limits(networks=(ELSEWHERE, GARDEN)))
    place.run(lambda tx: helping.end_device_stay(tx, PHONE, GARDEN), by=person(theirs))
    assert place.standing().going is not None


def test_nor_do_they_change_what_somebody_else_issued(place: Place) -> None:
    credential = place.voucher(place.issue()[0])
    theirs = somebody(place, Limits(own_only=True))
    with pytest.raises(NotThere, match="voucher"):
        place.run(lambda tx: pause(tx, credential), by=person(theirs))
