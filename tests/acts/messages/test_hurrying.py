"""After a mail server was mended, thousands that wait are tried at once, some hundred between packets."""

import pytest

from lauschen.acts.mass.intents import PIECE
from lauschen.acts.mass.slices import do_slice
from lauschen.acts.messages.hurrying import hurry
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.road import slices
from lauschen.road.tx import Tx
from lauschen.store.messages import outbox
from tests.place import Place

HOUR = 3600.0


@pytest.fixture
def waiting(place: Place, monkeypatch: pytest.MonkeyPatch) -> Place:
    """Two and a half pieces of mails, and a text message, each of which is to be tried in an hour."""
    monkeypatch.setattr(slices, "SLICE_S", 0.0)
    with place.tx() as tx:
        for number in range(PIECE * 5 // 2):
            write(tx, Channel.MAIL, f"g{number}@hollerau.example")
        write(tx, Channel.TEXT, "+447700900123")
    place.conn.execute("UPDATE message SET next_at = ?", (place.now + HOUR,))
    return place


def write(tx: Tx, channel: Channel, to: str) -> None:
    draft = Draft(channel, Kind.TEST, "en", to, {"site": "Hollerau"})
    outbox.add_message(tx.conn, tx.keys, draft, mark=tx.chance.name(12), now=tx.now)


def count_due(place: Place, channel: Channel = Channel.MAIL) -> int:
    sql = "SELECT count(*) FROM message WHERE channel = ? AND next_at <= ?"
    return int(place.conn.execute(sql, (channel, place.now)).fetchone()[0])


def test_some_at_once_and_the_others_in_slices_also_after_a_restart(waiting: Place) -> None:
    with waiting.tx() as tx:
        hurry(tx, Channel.MAIL)
        assert tx.has_messages
        assert tx.has_mass_work
    assert count_due(waiting) == PIECE
    waiting.restart()
    waiting.now += 1
    assert waiting.run(do_slice)
    assert count_due(waiting) == 2 * PIECE
    assert not waiting.run(do_slice)
    assert count_due(waiting) == PIECE * 5 // 2
    assert count_due(waiting, Channel.TEXT) == 0
    assert waiting.conn.execute("SELECT count(*) FROM intent").fetchone() == (0,)


def test_one_that_was_tried_meanwhile_keeps_its_own_wait(waiting: Place) -> None:
    with waiting.tx() as tx:
        hurry(tx, Channel.MAIL)
    waiting.now += 1
    (tried,) = waiting.conn.execute(
        "SELECT id FROM message WHERE next_at <= ? LIMIT 1", (waiting.now,)
    ).fetchone()
    outbox.note_try(waiting.conn, tried, answer="later", now=waiting.now, next_at=waiting.now + 60)
    while waiting.run(do_slice):
        pass
    assert count_due(waiting) == PIECE * 5 // 2 - 1


def test_few_are_due_by_the_act_itself(place: Place) -> None:
    with place.tx() as tx:
        write(tx, Channel.MAIL, "g@hollerau.example")
    place.conn.execute("UPDATE message SET next_at = ?", (place.now + HOUR,))
    with place.tx() as tx:
        hurry(tx, Channel.MAIL)
        assert not tx.has_mass_work
    assert count_due(place) == 1
