"""Codes, accounts and passphrases are deleted 180 days after they were over, and the names they were issued for."""

from collections.abc import Callable
from dataclasses import replace
from itertools import pairwise

import pytest

from lauschen.acts.desk import helping, pausing
from lauschen.acts.desk.accounts import issue_account
from lauschen.acts.keeping import ISSUED_SLICE, Keeper
from lauschen.acts.staying.reports import Event
from lauschen.core.ids import BatchId, CredentialId
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.store import credentials
from lauschen.store.accounts import NewPassword
from lauschen.store.batches import Said
from lauschen.store.credentials import Issued
from lauschen.store.upkeep.keeping import DAY_S
from tests.acts.test_keeping import counts, keep
from tests.cloister import Cloister
from tests.ensemble import COURSE_WEEK, INTERMISSION, Ensemble
from tests.place import Place

NAME = "Ines Harwood"
ISSUED = ("credential", "finder", "allowance", "account", "passphrase", "passphrase_key")


def issued(place: Place) -> dict[str, int]:
    """How many rows there are of what was issued."""
    found = {table: count(place, f"SELECT count(*) FROM {table}") for table in ISSUED}
    return {table: many for table, many in found.items() if many}


def count(place: Place, sql: str) -> int:
    return int(place.conn.execute(sql).fetchone()[0])


def last_id(place: Place) -> CredentialId:
    return CredentialId(count(place, "SELECT max(id) FROM credential"))


def a_voucher_that_was_used(place: Place) -> None:
    place.let_in(place.issue()[0])
    place.report(Event.STOP)


def a_voucher_that_was_withdrawn(place: Place) -> None:
    code = place.issue()[0]
    with place.tx() as tx:
        helping.withdraw(tx, place.voucher(code))


def a_pass_that_nobody_used(place: Place) -> None:
    Ensemble(place).issue_pass(NAME, Terms(valid_until=place.now + 3600))


def an_account(place: Place) -> None:
    with place.tx() as tx:
        issue_account(
            tx,
            said=Said(NAME),
            name="ines",
            password=NewPassword("", "x", None),
            plan=COURSE_WEEK,
            terms=AS_PLAN,
        )
        helping.withdraw(tx, last_id(place))


def a_passphrase(place: Place) -> None:
    Cloister(place).issue(NAME, terms=Terms(valid_until=place.now + 3600))


ALL = [
    a_voucher_that_was_used,
    a_voucher_that_was_withdrawn,
    a_pass_that_nobody_used,
    an_account,
    a_passphrase,
]


@pytest.mark.parametrize("issue", ALL)
def test_it_goes_180_days_after_it_was_over(place: Place, issue: Callable[[Place], None]) -> None:
    issue(place)
    before = issued(place)
    assert before
    keep(place, 179.9)
    assert issued(place) == before
    keep(place, 0.6)  # eight hours of a day visit among them
    keep(place)  # what was used of it a turn before
    assert issued(place) == {}
    assert count(place, "SELECT count(*) FROM batch WHERE label || words || note <> ''") == 0


def test_what_is_good_stays_however_old_and_so_does_what_may_become_good(place: Place) -> None:
    paused, *_ = place.issue(3)
    Ensemble(place).issue_pass(NAME)
    Cloister(place).issue(NAME)
    without_first_use(place)
    with place.tx() as tx:
        pausing.pause(tx, place.voucher(paused))
    before = issued(place)
    keep(place, 700)
    assert issued(place) == before
    assert count(place, "SELECT count(*) FROM batch WHERE label = 'Ines Harwood'") == 2


def test_a_batch_goes_on_with_those_that_are_good_and_keeps_its_counts_for_two_years(place: Place) -> None:
    codes = place.issue(3)
    batch = count(place, "SELECT id FROM batch")
    place.conn.execute("UPDATE batch SET label = 'Chess evening', note = 'paid'")
    with place.tx() as tx:
        for code in codes[:2]:
            helping.withdraw(tx, place.voucher(code))
    keep(place, 181)
    assert [one.code for one in codes_of(place, batch)] == codes[2:]
    assert count(place, "SELECT count(*) FROM batch WHERE label = 'Chess evening'") == 1
    with place.tx() as tx:
        helping.withdraw(tx, place.voucher(codes[2]))
    keep(place, 181)
    assert place.conn.execute("SELECT label, note, size, withdrawn FROM batch").fetchall() == [("", "", 3, 3)]
    keep(place, 400)
    assert count(place, "SELECT count(*) FROM batch") == 0
    assert not place.conn.execute("PRAGMA foreign_key_check").fetchall()


def codes_of(place: Place, batch: int) -> list[Issued]:
    return list(credentials.all_issued_of(place.conn, place.keys, BatchId(batch)))


def test_the_record_of_who_issued_it_stays_without_the_name(place: Place) -> None:
    a_pass_that_nobody_used(place)
    a_passphrase(place)
    said = "SELECT facts ->> '$.name' FROM event WHERE kind IN ('pass_issued', 'passphrase_issued')"
    keep(place, 179)
    assert place.conn.execute(said).fetchall() == [(NAME,)]
    keep(place, 2)
    keep(place)  # the record was looked at before the pass went
    assert place.conn.execute(said).fetchall() == [(None,)]


def test_a_device_that_agreed_begins_anew_when_it_is_back_after_half_a_year(place: Place) -> None:
    ensemble = Ensemble(place)
    ensemble.let_in()
    leave(place)
    used_up = issued(place)
    assert used_up == {"credential": 1, "finder": 1, "allowance": 1}
    keep(place, 100)
    assert issued(place) == used_up
    keep(place, 100)
    keep(place)
    keep(place)
    assert issued(place) == {}
    assert counts(place) == {}
    assert not place.faults.kinds
    ensemble.let_in()


def test_what_a_device_agreed_to_again_leaves_nothing_behind(place: Place) -> None:
    """A new one stands in place of the one before, which nothing leads to any more, though some of it is left."""
    ensemble = Ensemble(place)
    limit_data_alone(place)
    ensemble.let_in()
    leave(place)
    place.conn.execute("DELETE FROM finder")
    keep(place, 400)
    keep(place)
    assert issued(place) == {}


def test_what_of_a_limit_is_left_to_one_device_is_kept(place: Place) -> None:
    """A gigabyte of which half was used is no gigabyte half a year later."""
    ensemble = Ensemble(place)
    limit_data_alone(place)
    ensemble.let_in()
    place.conn.execute("UPDATE allowance SET octets = 5 * 100000000")
    leave(place)
    keep(place, 400)
    assert issued(place)["allowance"] == 1
    assert not place.faults.kinds  # the device that it names stays too
    change_plan(place, seconds=None, octets=None)
    keep(place)
    keep(place)
    assert issued(place) == {}


def limit_data_alone(place: Place) -> None:
    change_plan(place, seconds=None, octets=10**9)


def change_plan(place: Place, **limits: int | None) -> None:
    plan = replace(place.config.plans[INTERMISSION], **limits)  # type: ignore[arg-type]
    place.config = replace(place.config, plans={**place.config.plans, plan.id: plan})


def leave(place: Place) -> None:
    """Its login ended, and where it stood is forgotten."""
    place.conn.execute("UPDATE admission SET ended = begun + 1, end_reason = 'time_used_up'")
    place.conn.execute("UPDATE placement SET ended = begun + 1")
    for table in ("place", "wanted", "standing"):
        place.conn.execute(f"DELETE FROM {table}")
    place.restart()


def test_a_large_batch_goes_in_slices_and_leaves_others_as_they_are(place: Place) -> None:
    place.issue(4)
    codes = place.issue(3 * ISSUED_SLICE)
    place.conn.execute("UPDATE credential SET withdrawn_at = ? WHERE id > 4", (place.now,))
    place.now += 200 * DAY_S
    without_first_use(place)
    keeper, left = Keeper(), []
    for _ in range(60):
        with place.tx() as tx:
            keeper.step(tx)
        left.append(issued(place)["credential"])
    steps = [before - after for before, after in pairwise([4 + len(codes), *left])]
    assert max(steps) == ISSUED_SLICE
    assert left[-1] == 4


def test_one_that_raises_keeps_no_other(place: Place) -> None:
    for code in place.issue(3):
        with place.tx() as tx:
            helping.withdraw(tx, place.voucher(code))
    ill = last_id(place) - 1
    place.conn.execute(
        f"CREATE TRIGGER ill BEFORE DELETE ON credential WHEN old.id = {ill} BEGIN SELECT RAISE(ABORT, 'bug'); END"
    )
    keep(place, 181)
    assert issued(place) == {"credential": 1, "finder": 1}
    assert place.faults.kinds["keeping"].reason == f"credential {ill}: IntegrityError: bug"
    place.conn.execute("DROP TRIGGER ill")
    keep(place)
    assert issued(place) == {}


def test_one_that_an_admission_names_waits_for_it(place: Place) -> None:
    """The code was withdrawn, but its last admission ended ten days later."""
    a_voucher_that_was_used(place)
    with place.tx() as tx:
        helping.withdraw(tx, last_id(place))
    place.conn.execute("UPDATE admission SET ended = ?", (place.now + 10 * DAY_S,))
    keep(place, 185)
    keep(place)
    assert issued(place)["credential"] == 1
    assert not place.faults.kinds
    keep(place, 6)
    keep(place)
    assert issued(place) == {}


def test_one_that_a_message_names_waits_for_it(place: Place) -> None:
    a_voucher_that_was_withdrawn(place)
    place.conn.execute(
        "INSERT INTO message (mark, channel, kind, lang, credential, written_at, state)"
        " VALUES ('m', 'mail', 'pass', 'en', ?, ?, 'sent')",
        (last_id(place), place.now + 179 * DAY_S),
    )
    keep(place, 181)
    assert issued(place)["credential"] == 1
    keep(place, 30)
    keep(place)
    assert issued(place) == {}


def without_first_use(place: Place) -> None:
    """Plans by which a code is good however late it is used."""
    plans = {id: replace(plan, use_within_days=None) for id, plan in place.config.plans.items()}
    place.config = replace(place.config, plans=plans)
