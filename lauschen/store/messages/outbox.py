"""The outbox: messages that wait, were sent, or were given up."""

import json
from collections.abc import Sequence
from sqlite3 import Connection
from typing import Any

from lauschen.core.ids import ChannelId, CredentialId, Mac, MessageId, NetworkId
from lauschen.core.messages.budgets import DAY_S, Spent
from lauschen.core.messages.message import About, Channel, Draft, Kind, Message, MessageState
from lauschen.core.words.addresses import domain_of, mailbox_of
from lauschen.store.keys import KeyRing

_NEVER = 2**62
"""An id that no row reaches."""
_MESSAGE = (
    "id, mark, channel, kind, lang, sealed, receiver, credential, mac, network, written_at, tries, next_at, state,"
    " answer, answer_at"
)


def add_message(conn: Connection, keys: KeyRing, draft: Draft, *, mark: str, now: float) -> MessageId:
    """Due at once."""
    about = draft.about
    row = conn.execute(
        "INSERT INTO message (mark, channel, kind, lang, to_hash, domain_hash, receiver, credential, mac, network,"
        " written_at, next_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            mark,
            draft.channel,
            draft.kind,
            draft.lang,
            _to_hash(keys, draft.to),
            _domain_hash(keys, draft.to),
            draft.receiver,
            about.credential,
            about.mac,
            about.network,
            now,
            now,
        ),
    ).fetchone()
    _seal(conn, keys, MessageId(row[0]), draft.to, draft.words)
    return MessageId(row[0])


def get_message(conn: Connection, keys: KeyRing, message: MessageId) -> Message | None:
    row = conn.execute(f"SELECT {_MESSAGE} FROM message WHERE id = ?", (message,)).fetchone()
    return None if row is None else _read(keys, row)


def due(
    conn: Connection, keys: KeyRing, channel: Channel, now: float, at_most: int, but: Sequence[int]
) -> list[Message]:
    """Of one channel, the longest due first; without the receivers in `but`, which are busy."""
    rows = conn.execute(
        f"SELECT {_MESSAGE} FROM message WHERE channel = ? AND next_at <= ?"
        f" AND coalesce(receiver, 0) NOT IN ({', '.join('?' * len(but))}) ORDER BY next_at LIMIT ?",
        (channel, now, *but, at_most),
    )
    return [_read(keys, row) for row in rows.fetchall()]


def next_due_after(conn: Connection, now: float) -> float | None:
    found = [
        conn.execute(
            "SELECT min(next_at) FROM message WHERE channel = ? AND next_at > ?", (channel, now)
        ).fetchone()[0]
        for channel in Channel
    ]
    return min((at for at in found if at is not None), default=None)


def postpone(conn: Connection, message: MessageId, next_at: float) -> None:
    conn.execute("UPDATE message SET next_at = ? WHERE id = ?", (next_at, message))


def hurry(conn: Connection, channel: Channel, now: float, since: float, at_most: int) -> int:
    """Of what waits and was not tried after `since`, at most so many are due now; how many."""
    return conn.execute(
        "UPDATE message SET next_at = ?2 WHERE id IN (SELECT id FROM message INDEXED BY message_due"
        " WHERE channel = ?1 AND next_at > ?2 AND coalesce(answer_at, written_at) <= ?3 LIMIT ?4)",
        (channel, now, since, at_most),
    ).rowcount


def note_try(conn: Connection, message: MessageId, *, answer: str, now: float, next_at: float | None) -> None:
    """It did not get through; `next_at` None: it is given up, and keeps its words for *send again*."""
    state = MessageState.WAITING if next_at is not None else MessageState.FAILED
    conn.execute(
        "UPDATE message SET tries = tries + 1, answer = ?, answer_at = ?, next_at = ?, state = ? WHERE id = ?",
        (answer, now, next_at, state, message),
    )


def note_sent(conn: Connection, keys: KeyRing, message: Message, *, answer: str, now: float) -> None:
    """It got through: whom it went to is kept, what it said is not."""
    conn.execute(
        "UPDATE message SET tries = tries + 1, answer = ?, answer_at = ?, next_at = NULL, state = ? WHERE id = ?",
        (answer, now, MessageState.SENT, message.id),
    )
    _seal(conn, keys, message.id, message.to, {})


def add_cost(conn: Connection, *, month: str, channel: Channel, currency: str, price: int) -> None:
    """One more was sent in that month (`2026-06`)."""
    conn.execute(
        "INSERT INTO message_cost VALUES (?, ?, ?, 1, ?) ON CONFLICT (month, channel, currency)"
        " DO UPDATE SET count = count + 1, price = price + excluded.price",
        (month, channel, currency, price),
    )


def costs(conn: Connection, at_most: int) -> list[tuple[str, str, str, int, int]]:
    """Month, channel, currency, how many, and their price in thousandths; the newest month first."""
    return conn.execute(
        "SELECT month, channel, currency, count, price FROM message_cost ORDER BY month DESC, channel LIMIT ?",
        (at_most,),
    ).fetchall()


def spent(conn: Connection, keys: KeyRing, draft: Draft, now: float) -> Spent:
    """What counts against the budgets of one more message."""
    since = now - DAY_S

    def count(where: str, value: Any) -> int:
        return int(
            conn.execute(
                f"SELECT count(*) FROM message WHERE {where} AND written_at > ?", (value, since)
            ).fetchone()[0]
        )

    return Spent(
        address=count("to_hash = ?", _to_hash(keys, draft.to)) if draft.to else 0,
        domain=count("domain_hash = ?", _domain_hash(keys, draft.to)) if domain_of(draft.to) else 0,
        device=count("mac = ?", draft.about.mac) if draft.about.mac is not None else 0,
        network=count("network = ?", draft.about.network) if draft.about.network is not None else 0,
        texts=_texts(conn, since) if draft.channel is Channel.TEXT else 0,
    )


def _texts(conn: Connection, since: float) -> int:
    # The channel is spelled out, as the index has it.
    found = conn.execute("SELECT count(*) FROM message WHERE channel = 'text' AND written_at > ?", (since,))
    return int(found.fetchone()[0])


def texts_of_guests(conn: Connection, since: float) -> int:
    """Text messages that guests brought about."""
    found = conn.execute(
        "SELECT count(*) FROM message WHERE channel = 'text' AND written_at > ? AND mac IS NOT NULL", (since,)
    )
    return int(found.fetchone()[0])


def listed(
    conn: Connection, keys: KeyRing, state: MessageState | None, before: int | None, at_most: int
) -> list[Message]:
    """The newest first, from the one before `before`."""
    rows = conn.execute(
        f"SELECT {_MESSAGE} FROM message WHERE {'' if state is None else 'state = ? AND'} id < ?"
        " ORDER BY id DESC LIMIT ?",
        (*([] if state is None else [state]), _NEVER if before is None else before, at_most),
    )
    return [_read(keys, row) for row in rows.fetchall()]


def of_credential(conn: Connection, keys: KeyRing, credential: CredentialId, at_most: int) -> list[Message]:
    """What was sent about one that was issued, the newest first."""
    rows = conn.execute(
        f"SELECT {_MESSAGE} FROM message WHERE credential = ? ORDER BY id DESC LIMIT ?", (credential, at_most)
    )
    return [_read(keys, row) for row in rows.fetchall()]


def count_in(conn: Connection, state: MessageState) -> int:
    return int(conn.execute("SELECT count(*) FROM message WHERE state = ?", (state,)).fetchone()[0])


def failing(conn: Connection) -> list[tuple[str, int, float, str]]:
    """Of each channel where messages wait that were tried: how many, since when, and what was answered last."""
    tried = "next_at IS NOT NULL AND tries > 0"
    return conn.execute(
        f"SELECT channel, count(*), min(written_at), (SELECT answer FROM message n WHERE n.channel = m.channel"
        f" AND {tried} ORDER BY answer_at DESC LIMIT 1) FROM message m WHERE {tried} GROUP BY channel"
    ).fetchall()


def given_up_since(conn: Connection, since: float) -> list[tuple[str, int, str]]:
    """Of each channel, how many were given up, and what was answered last."""
    return conn.execute(
        "SELECT channel, count(*), answer FROM message WHERE state = 'failed' AND answer_at > ?"
        " GROUP BY channel HAVING max(answer_at)",
        (since,),
    ).fetchall()


def _seal(conn: Connection, keys: KeyRing, row: MessageId, to: str, words: dict[str, str]) -> None:
    plain = json.dumps({"to": to, "words": words}).encode()
    sealed = keys.seal(plain, table="message", column="sealed", row=row)
    conn.execute("UPDATE message SET sealed = ? WHERE id = ?", (sealed, row))


def _to_hash(keys: KeyRing, to: str) -> bytes | None:
    return keys.lookup_hash(f"to {mailbox_of(to)}") if to else None


def _domain_hash(keys: KeyRing, to: str) -> bytes | None:
    domain = domain_of(to)
    return keys.lookup_hash(f"domain {domain}") if domain else None


def _read(keys: KeyRing, row: tuple[Any, ...]) -> Message:
    (
        number, mark, channel, kind, lang, sealed, receiver, credential, mac, network, written, tries, next_at, state,
        answer, answer_at,
    ) = row  # fmt: skip
    inside = json.loads(keys.unseal(sealed, table="message", column="sealed", row=number))
    return Message(
        MessageId(number),
        mark,
        Channel(channel),
        Kind(kind),
        lang,
        inside["to"],
        inside["words"],
        None if receiver is None else ChannelId(receiver),
        About(
            None if credential is None else CredentialId(credential),
            None if mac is None else Mac(mac),
            None if network is None else NetworkId(network),
        ),
        written,
        tries,
        next_at,
        MessageState(state),
        answer,
        answer_at,
    )
