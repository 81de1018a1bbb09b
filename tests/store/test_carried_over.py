"""A data folder of the version before, with its running stays: everybody is where they were, and goes on."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from lauschen.acts.page.trying import Tried
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.api.words.events import line
from lauschen.api.words.speaker import Speaker
from lauschen.api.words.trace import trace_words
from lauschen.core.decide.arrival import Medium
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import BatchId, Mac
from lauschen.core.ways.voucher import Voucher
from lauschen.store import batches, credentials, log
from lauschen.store.db import DATABASE_NAME, open_writer
from lauschen.store.keys import KEY_NAME
from tests.place import GARDEN, T0, Place

OLD = Path(__file__).parent / "version_4"
HOURS_8 = 8 * 3600
UNUSED = "K33KPR562B"


def device(number: int) -> Mac:
    return Mac(0x020000AABB00 + number)


@pytest.fixture
def old(tmp_path: Path) -> Iterator[Place]:
    """Ten devices: inside, with time given, held, on the way out and in, left, barred, at the door, inside again."""
    shutil.copy(OLD / KEY_NAME, tmp_path / KEY_NAME)
    conn = open_writer(tmp_path / DATABASE_NAME)
    conn.execute("PRAGMA foreign_keys = OFF")
    conn.executescript((OLD / "house.sql").read_text())
    conn.close()
    place = Place(tmp_path)
    place.now = T0 + 121
    place._log_id = log.last_log_id(place.conn) + 1
    yield place
    place.close()


def test_everybody_stands_where_they_stood(old: Place) -> None:
    stood = {number: old.standing(device(number)) for number in range(1, 11)}
    assert [(s.state, s.going) for s in stood.values()] == [
        (State.INSIDE, None), (State.INSIDE, None), (State.HELD, None), (State.INSIDE, State.AT_DOOR),
        (State.LEFT, None), (State.BARRED, None), (State.AT_DOOR, None), (State.AT_DOOR, None),
        (State.AT_DOOR, State.INSIDE), (State.INSIDE, None),
    ]  # fmt: skip
    assert stood[1].reconsider_at == T0 + HOURS_8
    assert stood[2].reconsider_at == T0 + HOURS_8 + 1800  # half an hour was given
    assert old.config.networks[GARDEN].ways == (Voucher(),)


def test_running_stays_go_on_with_what_was_used(old: Place) -> None:
    decision, _ = old.ask(device(1), "S1")
    assert (decision.answer, decision.good_until) == (Answer.ADMIT, T0 + HOURS_8)
    before = old.grant("L8JD4BF226")
    assert before is not None
    assert before.use.octets == 11_000
    old.report(Event.INTERIM, device(1), "S1", session_time=120, octets_in=1500, octets_out=20_000)
    after = old.grant("L8JD4BF226")
    assert after is not None
    assert after.use.octets == 21_500


def test_ends_come_when_they_would_have_come(old: Place) -> None:
    old.now = T0 + HOURS_8 - 60
    for number in (1, 2):
        octets = {"octets_in": 1000 * number, "octets_out": 10_000 * number}
        old.report(Event.INTERIM, device(number), f"S{number}", session_time=HOURS_8 - 60, **octets)
    old.now = T0 + HOURS_8 + 11
    with old.tx() as tx:
        Sweeper().sweep(tx)
    assert old.standing(device(1)).going is State.HELD
    assert old.standing(device(2)).going is None


def test_whoever_was_on_the_way_arrives(old: Place) -> None:
    assert old.ask(device(9), "S9", medium=Medium.REAUTHORISED)[0].answer is Answer.ADMIT
    assert old.ask(device(4), "S4", medium=Medium.REAUTHORISED)[0].answer is Answer.DOOR
    assert old.ask(device(5), "S5b")[0].answer is Answer.ADMIT  # it comes back without the page
    assert old.ask(device(3), "S3c")[0].reason is Reason.DATA_USED_UP
    assert old.ask(device(6), "S6c")[0].reason is Reason.BARRED_BY_STAFF


def test_codes_that_nobody_used_open_and_used_ones_are_known(old: Place) -> None:
    old.open_page(device(7), "visit-7", "127.77.1.7")
    tried = old.try_code(UNUSED, "visit-7")
    assert isinstance(tried, Tried)
    assert tried.reason is Reason.ADMITTED
    batch = batches.get_batch(old.conn, BatchId(1))
    assert (batch.size, batch.used, batch.withdrawn) == (9, 8, 1)
    shown = {v.code: v.devices_in for v in credentials.all_issued_of(old.conn, old.keys, BatchId(1))}
    assert (shown["L8JD4BF226"], shown[UNUSED]) == (1, 1)


def test_the_log_of_before_is_read_in_words(old: Place) -> None:
    speaker = Speaker(old.config, {1: "gatehouse"}, old.now)
    rows = log.log_before(old.conn, None, 500)
    said = [line(speaker, row) for row in rows]
    assert "gatehouse barred device ..:bb:06" in said
    assert not [words for words in said if "_" in words or "None" in words]
    steps = [
        words for row in rows if isinstance(row, log.DecisionRow) for _, words in trace_words(speaker, row)
    ]
    assert "it was let in before, by a voucher of ours" in steps


def test_ids_go_on_from_where_they_were(old: Place) -> None:
    old.conn.execute("PRAGMA foreign_keys = OFF")
    old.conn.execute("DELETE FROM admission")
    sql = (
        "INSERT INTO admission (mac, network, allowance, token, begun) VALUES (1, 1, 1, 'x', 0) RETURNING id"
    )
    assert old.conn.execute(sql).fetchone()[0] > 9
