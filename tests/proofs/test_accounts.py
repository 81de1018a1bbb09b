"""Names and passwords at the prover: Argon2id off the loop, known for a while, and the same time for nobody."""

import asyncio
import os

import pytest

from lauschen.acts.config.changes import list_for
from lauschen.acts.desk.accounts import issue_account, set_password
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Unavailable
from lauschen.core.ids import NetworkId
from lauschen.core.limits.terms import AS_PLAN
from lauschen.core.ways.account import Login
from lauschen.core.ways.offers.code import Code
from lauschen.proofs import passwords
from lauschen.proofs.accounts import KNOWN_S, Accounts
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire import signing
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code as Answer
from lauschen.radius.wire.numbers import Kind
from lauschen.store import accounts as stored
from lauschen.store.accounts import NewPassword
from lauschen.store.batches import Said
from tests.ensemble import COURSE_WEEK
from tests.place import WEST, Place
from tests.radius.listen.test_server import SECRET, STATION, Radius

WORD = "plum-and-pine"
CALLED = a.text(Kind.CALLED_STATION_ID, "02-77-00-00-00-13:Hollerau Ensemble")


class Guests(Accounts):
    """Counts what Argon2id is asked, and says it without taking its time."""

    def __init__(self, place: Place) -> None:
        super().__init__(lambda: place.config, place.conn, place.keys, lambda: place.now, place.memory)
        self.asked: list[str | None] = []
        self.passwords.matches = self._matches  # type: ignore[method-assign]

    async def _matches(self, stored: str | None, password: str) -> bool:
        self.asked.append(stored)
        return stored == f"hash of {password}"


def issue(place: Place, name: str = "ines", password: str = WORD, *, sealed: bool = False) -> None:
    kept = NewPassword("", readable=password) if sealed else NewPassword("", hashed=f"hash of {password}")
    with place.tx() as tx:
        issue_account(tx, said=Said("Ines"), name=name, password=kept, plan=COURSE_WEEK, terms=AS_PLAN)
        list_for(tx, NetworkId(2), [WEST])
    place.reload()


@pytest.fixture
def guests(place: Place) -> Guests:
    issue(place)
    return Guests(place)


async def test_what_is_right_is_stamped_and_what_was_typed_is_gone(guests: Guests) -> None:
    login = Login("ines", WORD)
    assert guests.waits(login)
    assert await guests(login) is None
    assert (login.stamp is not None, login.password) == (True, "")
    wrong = Login("ines", WORD + "x")
    assert await guests(wrong) is Reason.LOGIN_WRONG
    assert wrong.stamp is None


async def test_a_name_that_nobody_has_is_hashed_all_the_same(guests: Guests) -> None:
    assert await guests(Login("nobody", WORD)) is Reason.LOGIN_WRONG
    assert guests.asked == [None]


async def test_a_right_one_is_known_for_ten_minutes_unless_it_is_changed(
    guests: Guests, place: Place
) -> None:
    for _ in range(3):
        assert await guests(Login("ines", WORD)) is None
    assert len(guests.asked) == 1
    place.now += KNOWN_S + 1
    assert await guests(Login("ines", WORD)) is None
    assert len(guests.asked) == 2
    found = stored.find(place.conn, place.keys, "ines")
    assert found is not None
    with place.tx() as tx:
        set_password(tx, found.credential, NewPassword("", hashed="hash of another one"))
    assert await guests(Login("ines", WORD)) is Reason.LOGIN_WRONG
    assert len(guests.asked) == 3


async def test_codes_need_not_wait(guests: Guests) -> None:
    assert not guests.waits(Code("words"))


async def test_only_so_many_wait_for_argon2(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(passwords, "WAITING", 2)
    line = passwords.Passwords("accounts")
    try:
        work = [asyncio.ensure_future(line.hash("plum")) for _ in range(3)]
        done = await asyncio.gather(*work, return_exceptions=True)
        assert [type(one) for one in done].count(Unavailable) == 1
        assert await line.matches(str(done[0]), "plum")
        assert not await line.matches(str(done[0]), "pine")
        assert not await line.matches("no hash at all", "plum")
        assert not await line.matches(None, "plum")
    finally:
        line.close()


def pap(name: str, password: str, number: int = 1) -> bytes:
    authenticator = os.urandom(16)
    hidden = a.octets(Kind.USER_PASSWORD, SECRET.hide(password.encode(), authenticator))
    return SECRET.access_request(
        number, authenticator, a.text(Kind.USER_NAME, name) + hidden + STATION + CALLED
    )


def chap(name: str, password: str, number: int = 1) -> bytes:
    authenticator = os.urandom(16)
    said = a.octets(Kind.CHAP_PASSWORD, signing.chap(7, password, authenticator))
    return SECRET.access_request(
        number, authenticator, a.text(Kind.USER_NAME, name) + said + STATION + CALLED
    )


@pytest.mark.parametrize(
    ("sealed", "ask", "password", "code", "says"),
    [
        (False, pap, WORD, Answer.ACCESS_ACCEPT, None),
        (False, pap, "wrong-word", Answer.ACCESS_REJECT, "This name and password don't match."),
        (False, chap, WORD, Answer.ACCESS_REJECT, "This account cannot be used here."),
        (True, chap, WORD, Answer.ACCESS_ACCEPT, None),
        (True, chap, "wrong-word", Answer.ACCESS_REJECT, "This name and password don't match."),
        (True, pap, WORD, Answer.ACCESS_ACCEPT, None),
    ],
)
async def test_as_a_person_by_radius(
    place: Place, sealed: bool, ask: object, password: str, code: Answer, says: str | None
) -> None:
    issue(place, sealed=sealed)
    radius = Radius(place)
    radius.intake.proofs = Guests(place).proofs()
    try:
        assert callable(ask)
        answer = parse(await radius.wire.exchange(ask("Ines", password), radius.auth))
        assert (answer.code, answer.text(Kind.REPLY_MESSAGE)) == (code, says)
        again = parse(await radius.wire.exchange(ask("Ines", password, 2), radius.auth))
        assert again.code == code
    finally:
        radius.intake.close()
        radius.close()


async def test_guesses_by_radius_bar_the_mac(place: Place) -> None:
    issue(place)
    radius = Radius(place)
    radius.intake.proofs = Guests(place).proofs()
    try:
        for number in range(1, 6):
            await radius.wire.exchange(pap("ines", f"wrong-word-{number}", number), radius.auth)
        answer = parse(await radius.wire.exchange(pap("ines", WORD, 9), radius.auth))
        assert answer.text(Kind.REPLY_MESSAGE) == "Too many wrong attempts. Please wait 10 minutes."
    finally:
        radius.intake.close()
        radius.close()
