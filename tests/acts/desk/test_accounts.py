"""Accounts on the road: one name each, one password that holds, and nothing by one that was changed or ended."""

import pytest

from lauschen.acts.arriving.finding import find_grant
from lauschen.acts.desk.accounts import issue_account, set_password
from lauschen.acts.desk.helping import withdraw
from lauschen.acts.page import trying
from lauschen.acts.page.passwords import change_password
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, Mac
from lauschen.core.limits.terms import Terms
from lauschen.core.limits.tries import TRIES
from lauschen.core.ways.account import Login
from lauschen.core.ways.offers.code import Code
from lauschen.store import accounts
from lauschen.store.accounts import NewPassword
from lauschen.store.batches import Said
from tests.ensemble import COURSE_WEEK, ENSEMBLE, Ensemble
from tests.place import OTHER, PHONE, Place

SOURCE = f"127.77.1.{PHONE & 0xFF}"


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    return Ensemble(place)


def issue(place: Place, name: str = "Ines.Harwood", terms: Terms = Terms()) -> CredentialId:  # noqa: B008
    with place.tx() as tx:
        issue_account(
            tx,
            said=Said("Ines Harwood"),
            name=name,
            password=NewPassword("", hashed="hash of the first"),
            plan=COURSE_WEEK,
            terms=terms,
        )
    found = accounts.find(place.conn, place.keys, name.casefold())
    assert found is not None
    return found.credential


def proved(place: Place, name: str = "ines.harwood") -> Login:
    """As the prover leaves it, when the password was right."""
    found = accounts.find(place.conn, place.keys, name)
    return Login(name, "", None if found is None else found.stamp)


def try_login(ensemble: Ensemble, login: Login, mac: Mac = PHONE, visit: str | None = None) -> trying.Tried:
    place = ensemble.place
    here = visit or ensemble.open(mac, later=int(place.now) % 1000)
    fault = None if login.stamp is not None else Reason.LOGIN_WRONG
    with place.tx() as tx:
        return trying.try_offer(tx, here, login, f"127.77.1.{mac & 0xFF}", fault)


def test_whoever_proves_it_is_in_by_it(ensemble: Ensemble) -> None:
    credential = issue(ensemble.place)
    ensemble.ask()
    assert try_login(ensemble, proved(ensemble.place)).reason is Reason.ADMITTED
    with ensemble.place.tx() as tx:
        admission = tx.read_standing(PHONE, ENSEMBLE)
    assert admission is not None
    assert ensemble.ask().reason is Reason.ADMITTED
    row = ensemble.place.conn.execute(
        "SELECT c.id, c.way FROM admission a JOIN allowance w ON w.id = a.allowance"
        " JOIN credential c ON c.id = w.credential"
    ).fetchone()
    assert row == (credential, "account")


@pytest.mark.parametrize("other", ["ines.harwood", "INES.HARWOOD", " Ines.Harwood "])
def test_two_desks_that_choose_one_name_make_one_account(ensemble: Ensemble, other: str) -> None:
    issue(ensemble.place)
    with pytest.raises(Invalid) as refused:
        issue(ensemble.place, other)
    assert refused.value.code == "login_taken"
    count = ensemble.place.conn.execute("SELECT (SELECT count(*) FROM batch), (SELECT count(*) FROM account)")
    assert count.fetchone() == (1, 1)


def test_a_password_that_was_changed_while_it_was_proved_lets_nobody_in(ensemble: Ensemble) -> None:
    credential = issue(ensemble.place)
    login = proved(ensemble.place)
    with ensemble.place.tx() as tx:
        set_password(tx, credential, NewPassword("", hashed="hash of another"))
    ensemble.ask()
    assert try_login(ensemble, login).reason is Reason.LOGIN_WRONG
    assert try_login(ensemble, proved(ensemble.place)).reason is Reason.ADMITTED


def test_one_that_is_ended_while_it_logs_in_is_out(ensemble: Ensemble) -> None:
    credential = issue(ensemble.place)
    login = proved(ensemble.place)
    with ensemble.place.tx() as tx:
        withdraw(tx, credential)
    ensemble.ask()
    assert try_login(ensemble, login).reason is Reason.CODE_WITHDRAWN


def test_wrong_passwords_and_wrong_codes_are_one_budget(ensemble: Ensemble) -> None:
    issue(ensemble.place)
    ensemble.ask()
    visit = ensemble.open()
    for n in range(TRIES - 1):
        if n % 2:
            tried = try_login(ensemble, Login("ines.harwood", ""), visit=visit)
        else:
            with ensemble.place.tx() as tx:
                tried = trying.try_offer(tx, visit, Code("wrong words"), SOURCE)
        assert tried.barred_until is None
    assert try_login(ensemble, Login("nobody", ""), visit=visit).barred_until is not None
    assert try_login(ensemble, proved(ensemble.place), visit=visit).reason is Reason.BARRED_BY_TRIES


def test_where_accounts_are_not_offered_they_lead_nowhere(ensemble: Ensemble) -> None:
    issue(ensemble.place)
    with ensemble.place.tx() as tx:
        found = find_grant(tx, ensemble.place.config.networks[1].id, PHONE, proved(ensemble.place))  # type: ignore[index]
    assert found == (None, Reason.NOT_OFFERED)


def test_only_the_visit_that_logged_in_changes_the_password_and_only_with_the_old_one(
    ensemble: Ensemble,
) -> None:
    place = ensemble.place
    issue(place)
    issue(place, "farid.tamm")
    ensemble.ask()
    visit, stranger = ensemble.open(), ensemble.open(later=7)
    assert try_login(ensemble, proved(place), visit=visit).reason is Reason.ADMITTED
    new = NewPassword("", hashed="hash of a new one")

    def change(visit_id: str, old: Login) -> Reason:
        with place.tx() as tx:
            return change_password(tx, visit_id, SOURCE, old, new).reason

    with pytest.raises(NotThere):
        change(stranger, proved(place))
    assert change(visit, Login("ines.harwood", "")) is Reason.LOGIN_WRONG
    assert change(visit, proved(place, "farid.tamm")) is Reason.LOGIN_WRONG  # somebody else's own password
    before = proved(place)
    assert change(visit, before) is Reason.ADMITTED
    assert change(visit, before) is Reason.LOGIN_WRONG  # a second tab, a moment later
    found = accounts.find(place.conn, place.keys, "ines.harwood")
    assert found is not None
    assert found.hashed == "hash of a new one"
    other = accounts.find(place.conn, place.keys, "farid.tamm")
    assert other is not None
    assert other.hashed == "hash of the first"


def test_it_is_good_on_as_many_devices_and_until_when_it_says(ensemble: Ensemble) -> None:
    place = ensemble.place
    issue(place, terms=Terms(devices=1, valid_until=place.now + 60))
    ensemble.ask()
    assert try_login(ensemble, proved(place)).reason is Reason.ADMITTED
    ensemble.ask(OTHER)
    assert try_login(ensemble, proved(place), OTHER).reason is Reason.DEVICES_FULL
    place.now += 61
    assert try_login(ensemble, proved(place), OTHER).reason is Reason.DATE_OVER


def test_no_password_that_is_sealed_can_be_read_in_the_files(ensemble: Ensemble) -> None:
    place, word = ensemble.place, "plum-and-pine-99"
    with place.tx() as tx:
        issue_account(
            tx,
            said=Said("Ines"),
            name="ines",
            password=NewPassword("", readable=word),
            plan=COURSE_WEEK,
            terms=Terms(),
        )
    found = accounts.find(place.conn, place.keys, "ines")
    assert found is not None
    assert found.sealed == word
    dump = "\n".join(place.conn.iterdump())
    assert word not in dump
    assert word.encode().hex() not in dump.lower()
