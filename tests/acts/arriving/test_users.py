"""Persons who ask through an access device: by name and voucher code, or by the one-time login of a visit."""

import hashlib
from collections.abc import Callable

import pytest

from lauschen.acts.arriving.posted import GOOD_FOR_S, SECRET_CHARACTERS, one_time_secret
from lauschen.acts.arriving.users import code_of
from lauschen.acts.page import trying as page_acts
from lauschen.core.config.dialect import Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, Mac
from lauschen.core.limits.tries import TRIES
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.words.codes import group_code, make_code
from lauschen.demo.site import SSID
from lauschen.store import visits
from tests.place import BARN, OTHER, PHONE, POSTCARD, WEST, Place


def by_pap(name: str, password: str) -> NameAndPassword:
    return NameAndPassword(name, password, lambda octets: octets == password.encode())


def by_chap(name: str, password: str) -> NameAndPassword:
    digest = hashlib.sha256(password.encode()).digest()
    return NameAndPassword(name, None, lambda octets: hashlib.sha256(octets).digest() == digest)


Way = Callable[[str, str], NameAndPassword]


def ask(
    place: Place, offered: NameAndPassword, mac: Mac = PHONE, at: AccessDeviceId = WEST, session: str = "S1"
) -> Decision:
    arrival = Arrival(
        Medium.PERSON,
        mac,
        at,
        SSID.encode(),
        None,
        f"{mac:012X}",
        session,
        source="127.77.0.11",
        offer=offered,
    )
    return place.answer(arrival)[0]


@pytest.mark.parametrize(
    ("way", "name"), [(by_pap, "mirela"), (by_pap, ""), (by_chap, "code"), (by_chap, "grouped")]
)
def test_a_voucher_code_lets_a_person_in_at_once(place: Place, way: Way, name: str) -> None:
    code = place.issue()[0]
    spelled = {"code": code.lower(), "grouped": group_code(code)}.get(name, name)
    password = code if way is by_pap else spelled
    decision = ask(place, way(spelled, password))
    assert (decision.answer, decision.reason) == (Answer.ADMIT, Reason.ADMITTED)
    assert place.standing().state is State.INSIDE
    assert place.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)
    # Asked again for the same person: the same admission.
    assert ask(place, way(spelled, password)).answer is Answer.ADMIT
    assert place.conn.execute("SELECT count(*) FROM admission").fetchone() == (1,)
    assert place.ask()[0].answer is Answer.ADMIT  # and the device alone is remembered


@pytest.mark.parametrize("way", [by_pap, by_chap])
def test_wrong_codes_of_persons_are_refused_and_counted_with_the_others(place: Place, way: Way) -> None:
    place.ask()
    wrong = make_code(5)
    for _ in range(TRIES):
        decision = ask(place, way(wrong, wrong))
        assert (decision.answer, decision.reason) == (Answer.REFUSE, Reason.CODE_UNKNOWN)
    right = place.issue()[0]
    assert ask(place, way(right, right)).reason is Reason.BARRED_BY_TRIES
    assert place.standing().state is State.BARRED


@pytest.mark.parametrize(
    ("offered", "reason"),
    [
        (by_pap("mirela", "secret"), Reason.NOT_A_CODE),
        (by_chap("mirela", "secret"), Reason.CHAP_NAME),
        (by_chap("mirela", make_code(5)), Reason.CHAP_NAME),
        (by_chap(make_code(5), "other"), Reason.CHAP_PASSWORD),
    ],
)
def test_what_is_no_code_is_told_apart_and_no_guess(
    place: Place, offered: NameAndPassword, reason: Reason
) -> None:
    assert ask(place, offered).reason is reason
    assert place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)


def test_a_code_in_use_elsewhere_is_refused_to_a_person(place: Place) -> None:
    code = place.issue(plan=POSTCARD)[0]
    assert ask(place, by_pap("a", code)).answer is Answer.ADMIT
    assert ask(place, by_pap("b", code), OTHER, session="T1").reason is Reason.DEVICES_FULL


def log_in_posted(place: Place) -> tuple[str, str]:
    """A visit that logged in at a device whose dialect is posted; its one-time name and secret."""
    place.set_dialect(login_move=Move.POSTED)
    place.ask()
    place.open_page()
    assert place.try_code(place.issue()[0]).reason is Reason.ADMITTED
    assert place.wish() is None  # the guest's browser tells the device, not we
    assert place.standing().going is State.INSIDE
    return login_of(place)


def login_of(place: Place, visit: str = "visit-1") -> tuple[str, str]:
    found = visits.find_visit(place.conn, place.visits[visit][0], place.now)
    assert found is not None
    assert found.login is not None
    login = found.login
    secret = one_time_secret(place.keys.token_key, login.visit_digest, login.mac, login.handed_out_at)
    assert len(secret) == SECRET_CHARACTERS
    return login.name, secret


@pytest.mark.parametrize("way", [by_pap, by_chap])
def test_the_one_time_login_of_a_visit_is_good_once(place: Place, way: Way) -> None:
    name, secret = log_in_posted(place)
    decision = ask(place, way(name, secret))
    assert (decision.answer, decision.reason) == (Answer.ADMIT, Reason.ADMITTED)
    assert (place.standing().state, place.standing().going) == (State.INSIDE, None)
    again = ask(place, way(name, secret))
    assert (again.answer, again.reason) == (Answer.REFUSE, Reason.SECRET_USED)


def test_an_old_a_forged_and_another_devices_login_are_refused(place: Place) -> None:
    name, secret = log_in_posted(place)
    forged = ask(place, by_pap(name, "a" * 16))
    assert (forged.answer, forged.reason) == (Answer.REFUSE, Reason.SECRET_FOREIGN)
    assert ask(place, by_pap(name, secret), OTHER).reason is Reason.SECRET_FOREIGN
    assert ask(place, by_pap(name, secret), at=BARN).reason is Reason.SECRET_FOREIGN
    assert ask(place, by_pap("visit-0000000000000000", secret)).reason is Reason.SECRET_FOREIGN
    place.now += GOOD_FOR_S + 1
    assert ask(place, by_pap(name, secret)).reason is Reason.SECRET_OLD
    with place.tx() as tx:
        page_acts.hand_out_again(tx, *place.visits["visit-1"])
    assert ask(place, by_pap(name, secret)).reason is Reason.SECRET_FOREIGN  # the old one is good no more
    assert ask(place, by_pap(*login_of(place))).answer is Answer.ADMIT


def test_a_refused_login_changes_nothing(place: Place) -> None:
    name, _ = log_in_posted(place)
    before = place.standing()
    ask(place, by_pap(name, "a" * 16))
    assert place.standing() == before


@pytest.mark.parametrize("takes_words", [False, True])
def test_by_chap_an_empty_password_proves_no_code(takes_words: bool) -> None:
    assert code_of(by_chap(make_code(7), ""), takes_words=takes_words) is Reason.CHAP_PASSWORD
    assert isinstance(code_of(by_chap(make_code(7), make_code(7)), takes_words=takes_words), Code)
