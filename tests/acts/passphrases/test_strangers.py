"""An access device that makes devices up learns so many passphrases, takes so many seats, and no more."""

from collections.abc import Callable

import pytest

from lauschen.acts.staying.reports import Event
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import Mac
from lauschen.core.passphrases.strangers import NEW_DEVICES, NEW_DEVICES_S, SHOWN_KEYS_S
from lauschen.core.passphrases.trial import AGAIN_S
from lauschen.store.passphrases import bound, strangers
from lauschen.store.passphrases.strangers import Limit
from tests.cloister import ATTIC, CLOISTER, EAST, Cloister
from tests.place import PHONE, Place


@pytest.fixture
def cloister(place: Place) -> Cloister:
    return Cloister(place)


@pytest.fixture
def keys_shown_at_most(monkeypatch: pytest.MonkeyPatch) -> Callable[[int], None]:
    def at_most(count: int) -> None:
        monkeypatch.setattr("lauschen.acts.passphrases.trying.SHOWN_KEYS", count)

    return at_most


def made_up(number: int) -> Mac:
    return Mac(0x0200C0000000 + number)


def test_so_many_new_devices_are_tried_and_no_more_until_later(cloister: Cloister) -> None:
    cloister.issue()
    for number in range(NEW_DEVICES):
        assert cloister.ask(made_up(number))[1].keys
    decision, picture = cloister.ask(made_up(NEW_DEVICES))
    assert (decision.answer, decision.reason, picture.keys) == (Answer.REFUSE, Reason.TOO_MANY_NEW, ())
    # One that is being tried goes on, and so does who is known.
    assert cloister.ask(made_up(0))[1].keys
    (reached,) = strangers.reached_since(cloister.place.conn, 0.0, 9)
    assert (reached.access_device, reached.network, reached.what) == (ATTIC, CLOISTER, Limit.NEW_DEVICES)
    cloister.place.now += NEW_DEVICES_S
    assert cloister.ask(made_up(NEW_DEVICES))[1].keys


def test_who_is_known_gets_in_however_many_are_made_up(cloister: Cloister) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    cloister.ask(at=EAST, signed=key.id)
    cloister.report(Event.STOP, at=EAST)
    for number in range(NEW_DEVICES + 1):
        cloister.ask(made_up(number))
    decision, picture = cloister.ask(PHONE)
    assert (decision.answer, picture.keys) == (Answer.ADMIT, (key.text,))


def test_a_device_that_is_made_up_takes_one_seat_of_one_resident(cloister: Cloister) -> None:
    """So no more seats are taken in a time than devices are tried."""
    made = [cloister.issue(f"Resident {number}", f"vase-trumpet-elbow-{number}") for number in range(4)]
    for turn in range(12):
        cloister.ask(made_up(1), session=f"S{turn}")
        cloister.report(mac=made_up(1), session=f"S{turn}")
        cloister.place.now += AGAIN_S
    assert sum(len(bound.devices_of(cloister.place.conn, one)) for one in made) == 1


def test_no_more_passphrases_than_so_many_go_to_one_access_device(
    cloister: Cloister, keys_shown_at_most: Callable[[int], None]
) -> None:
    keys_shown_at_most(40)
    texts = {f"vase-trumpet-elbow-{number}" for number in range(200)}
    for number, text in enumerate(sorted(texts)):
        cloister.issue(f"Resident {number}", text)
    seen: set[str] = set()
    for _ in range(9):
        seen |= set(cloister.ask(made_up(1))[1].keys)
    # It may go past the limit by what one reply holds.
    assert 40 <= len(seen) < 90
    assert seen < texts
    (reached,) = strangers.reached_since(cloister.place.conn, 0.0, 9)
    assert reached.what is Limit.SHOWN
    # What was shown there may be tried there again, and other access devices have shares of their own.
    assert set(cloister.ask(made_up(2))[1].keys) <= seen
    cloister.place.now += SHOWN_KEYS_S + 1
    before = set(seen)
    for _ in range(9):
        seen |= set(cloister.ask(made_up(1))[1].keys)
    assert len(seen) > len(before)


def test_by_address_no_passphrase_goes_to_one_that_passes_handshakes_on(cloister: Cloister) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    decision, picture = cloister.ask(at=EAST)
    assert (decision.answer, decision.reason, picture.keys) == (Answer.REFUSE, Reason.KEY_NO_HANDSHAKE, ())
    assert cloister.ask(at=EAST, signed=key.id)[1].keys == (key.text,)
    # It is asked about again where it is inside, and needs no passphrase for that.
    decision, picture = cloister.ask(at=EAST)
    assert (decision.answer, picture.keys) == (Answer.ADMIT, ())
    assert cloister.standing().state is State.INSIDE
    cloister.report(at=EAST)
    cloister.report(Event.STOP, at=EAST)
    decision, picture = cloister.ask(at=EAST)
    assert (decision.answer, decision.reason, picture.keys) == (Answer.REFUSE, Reason.KEY_NO_HANDSHAKE, ())
