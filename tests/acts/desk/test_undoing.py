"""Acts at the desk and what undoes them, on stays that are running."""

from dataclasses import replace
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import pytest

from lauschen.acts.desk.helping import give_time, withdraw
from lauschen.acts.desk.pausing import pause
from lauschen.acts.desk.undoing import Taken, give_back, restore, shorten
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.errors import Invalid
from lauschen.core.ids import AllowanceId
from lauschen.core.limits.hours import Hours, Window
from lauschen.core.limits.left import left
from lauschen.store import credentials
from tests.place import DAY_VISIT, OTHER, PHONE, Place

HOUR = 3600


def seconds_left(place: Place, code: str) -> int | None:
    grant = place.grant(code)
    assert grant is not None
    return left(place.config.plan_of(grant), grant.use, place.now).seconds


def test_time_that_was_given_is_taken_away_again(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    before = seconds_left(place, code)
    with place.tx() as tx:
        give_time(tx, place.voucher(code), 2 * HOUR)
    assert seconds_left(place, code) == before + 2 * HOUR  # type: ignore[operator]
    with place.tx() as tx:
        shorten(tx, place.voucher(code), 2 * HOUR)
    assert seconds_left(place, code) == before
    assert (
        place.wish() is None
    )  # that it had more was not sent yet: the access device knows the end that it has now


def test_a_stay_that_is_shortened_to_nothing_ends_at_once(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    with place.tx() as tx:
        shorten(tx, place.voucher(code), 20 * HOUR)
    assert seconds_left(place, code) == 0
    assert place.standing().going is not State.INSIDE
    assert place.ask()[0].reason is Reason.TIME_USED_UP
    # Nothing is owed: an hour that is given is an hour.
    with place.tx() as tx:
        give_time(tx, place.voucher(code), HOUR)
    assert seconds_left(place, code) == HOUR


def test_an_unused_one_is_shortened_for_whoever_comes(place: Place) -> None:
    (code,) = place.issue()
    with place.tx() as tx:
        shorten(tx, place.voucher(code), 6 * HOUR)
    assert seconds_left(place, code) == 2 * HOUR


def test_what_has_no_end_by_the_clock_says_so(place: Place) -> None:
    plan = replace(place.config.plans[DAY_VISIT], seconds=None)
    place.config = replace(place.config, plans={**place.config.plans, DAY_VISIT: plan})
    (code,) = place.issue()
    with pytest.raises(Invalid) as raised, place.tx() as tx:
        shorten(tx, place.voucher(code), HOUR)
    assert raised.value.code == "no_end"


@pytest.mark.parametrize("seconds", [0, 59, -3600, 32 * 86_400])
def test_no_odd_lengths(place: Place, seconds: int) -> None:
    (code,) = place.issue()
    with pytest.raises(Invalid), place.tx() as tx:
        shorten(tx, place.voucher(code), seconds)


def test_whom_a_withdrawal_sent_out_is_in_again_and_who_left_is_not(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    with place.tx() as tx:
        withdraw(tx, place.voucher(code))
    assert place.ask()[0].answer is Answer.DOOR
    with place.tx() as tx:
        restore(tx, place.voucher(code))
    assert place.ask()[0].reason is Reason.ADMITTED
    place.ask(OTHER)
    place.open_page(OTHER, "other", "127.77.1.2")
    tried = place.try_code(code, "other")
    assert tried.reason is Reason.DEVICES_FULL  # type: ignore[union-attr]


def test_restoring_what_is_not_withdrawn_changes_nothing(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    with place.tx() as tx:
        assert not restore(tx, place.voucher(code))
    assert place.standing(PHONE).admission is not None


def plan_of(place: Place, **changed: object) -> None:
    plan = replace(place.config.plans[DAY_VISIT], **changed)  # type: ignore[arg-type]
    place.config = replace(place.config, plans={**place.config.plans, DAY_VISIT: plan})


def test_what_was_taken_is_given_back_exactly_and_whom_it_held_is_in_again(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    before = seconds_left(place, code)
    with place.tx() as tx:
        taken = shorten(tx, place.voucher(code), 20 * HOUR)  # more than there was
    assert (seconds_left(place, code), place.ask()[0].reason) == (0, Reason.TIME_USED_UP)
    with place.tx() as tx:
        give_back(tx, place.voucher(code), taken)
    assert seconds_left(place, code) == before
    assert place.standing().going is State.INSIDE


def test_the_moment_until_which_it_was_good_comes_back(place: Place) -> None:
    plan_of(place, seconds=None)
    until = place.now + 5 * HOUR
    (code,) = place.issue()
    with place.tx() as tx:
        credentials.move_end(tx.conn, place.voucher(code), until)
    place.let_in(code)
    with place.tx() as tx:
        taken = shorten(tx, place.voucher(code), 20 * HOUR)
    assert (taken.until, seconds_left(place, code)) == (until, 0)
    assert place.grant(code).use.valid_until == place.now  # type: ignore[union-attr]
    for claimed in (place.now - 1, place.now + 32 * 86_400):
        with pytest.raises(Invalid, match="not_taken"), place.tx() as tx:
            give_back(tx, place.voucher(code), Taken({}, claimed))
    with place.tx() as tx:
        give_back(tx, place.voucher(code), taken)
    assert place.grant(code).use.valid_until == until  # type: ignore[union-attr]


def test_a_plan_that_closes_soon_does_not_save_its_time(place: Place) -> None:
    """Two hours less are two hours less tomorrow, though it closes in one today."""
    (code,) = place.issue()
    place.let_in(code)
    before = seconds_left(place, code)
    at = datetime.fromtimestamp(place.now, UTC)
    closes = at.hour * 60 + at.minute + 30
    plan_of(place, hours=Hours(ZoneInfo("UTC"), ((Window(0, closes),),) * 7))
    assert (seconds_left(place, code) or 0) <= 1800
    with place.tx() as tx:
        shorten(tx, place.voucher(code), 2 * HOUR)
    plan_of(place, hours=None)
    assert seconds_left(place, code) == before - 2 * HOUR  # type: ignore[operator]


@pytest.mark.parametrize(
    "claimed",
    [
        Taken({}, None),
        Taken({AllowanceId(999): 60}, None),
        Taken({AllowanceId(1): -60}, None),
        Taken({AllowanceId(1): 32 * 86_400}, None),
        Taken({}, 4e9),
    ],
)
def test_what_was_not_taken_is_not_given(place: Place, claimed: Taken) -> None:
    (code,) = place.issue()
    place.let_in(code)
    before = seconds_left(place, code)
    with pytest.raises(Invalid, match="not_taken"), place.tx() as tx:
        give_back(tx, place.voucher(code), claimed)
    assert seconds_left(place, code) == before


def test_nothing_is_taken_from_what_is_over(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    with place.tx() as tx:
        shorten(tx, place.voucher(code), 20 * HOUR)
    place.now += HOUR
    with pytest.raises(Invalid, match="over already"), place.tx() as tx:
        shorten(tx, place.voucher(code), HOUR)
    assert place.grant(code).use.given_seconds == -8 * HOUR  # type: ignore[union-attr]


def test_of_one_in_use_what_is_left_is_taken(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    place.now += 3 * HOUR
    left_then = seconds_left(place, code)
    with place.tx() as tx:
        taken = shorten(tx, place.voucher(code), 20 * HOUR)
    assert list(taken.seconds.values()) == [left_then]
    assert 4 * HOUR < left_then <= 5 * HOUR  # type: ignore[operator]


def test_time_lets_nobody_in_whose_code_is_paused_or_withdrawn(place: Place) -> None:
    (code,) = place.issue()
    place.let_in(code)
    with place.tx() as tx:
        taken = shorten(tx, place.voucher(code), 20 * HOUR)
    assert place.standing().going is State.HELD
    with place.tx() as tx:
        pause(tx, place.voucher(code))
    with place.tx() as tx:
        give_time(tx, place.voucher(code), HOUR)
    assert (place.standing().admission, place.standing().going) == (None, State.HELD)
    with place.tx() as tx:
        withdraw(tx, place.voucher(code))
    with place.tx() as tx:
        give_back(tx, place.voucher(code), taken)
    assert (place.standing().admission, place.standing().going) == (None, State.HELD)
