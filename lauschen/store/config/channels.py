"""Where messages leave the house: each channel one sealed document; and the house's own words."""

import json
from collections.abc import Iterator
from dataclasses import asdict
from sqlite3 import Connection
from typing import Any

from lauschen.core.config.dialect import Call
from lauschen.core.ids import ChannelId
from lauschen.core.messages.channels import (
    Channels,
    MailServer,
    Security,
    SyslogServer,
    TextGateway,
    Transport,
    Webhook,
)
from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.store.keys import KeyRing


def load_channels(conn: Connection, keys: KeyRing) -> Channels:
    """All that is set; what is not, is None or empty."""
    mail, text = None, None
    syslog, webhooks = [], []
    for row, kind, settings in _read(conn, keys):
        match Channel(kind):
            case Channel.MAIL:
                mail = MailServer(**settings | {"security": Security(settings["security"])})
            case Channel.TEXT:
                text = _gateway(settings)
            case Channel.SYSLOG:
                settings["transport"] = Transport(settings["transport"])
                settings["hears"] = tuple(map(Kind, settings["hears"]))
                syslog.append(SyslogServer(ChannelId(row), **settings))
            case Channel.WEBHOOK:
                settings["hears"] = tuple(map(Kind, settings["hears"]))
                webhooks.append(Webhook(ChannelId(row), **settings))
    return Channels(mail, text, tuple(syslog), tuple(webhooks), _load_templates(conn))


def save_only(conn: Connection, keys: KeyRing, channel: Channel, settings: MailServer | TextGateway) -> None:
    """The one of its kind."""
    row = conn.execute("SELECT id FROM channel WHERE kind = ?", (channel,)).fetchone()
    _seal(conn, keys, row[0] if row else _add(conn, channel), asdict(settings))


def remove_only(conn: Connection, channel: Channel) -> None:
    """Mails or text messages that wait then, wait for the next one."""
    conn.execute("DELETE FROM channel WHERE kind = ?", (channel,))


def save_receiver(conn: Connection, keys: KeyRing, receiver: SyslogServer | Webhook) -> ChannelId:
    """One of several; a new one when its id is 0."""
    kind = Channel.SYSLOG if isinstance(receiver, SyslogServer) else Channel.WEBHOOK
    row = receiver.id or _add(conn, kind)
    _seal(conn, keys, row, {name: value for name, value in asdict(receiver).items() if name != "id"})
    return ChannelId(row)


def remove_receiver(conn: Connection, receiver: ChannelId) -> None:
    """With what still waits for it."""
    conn.execute("DELETE FROM message WHERE receiver = ?", (receiver,))
    conn.execute("DELETE FROM channel WHERE id = ?", (receiver,))


def save_template(conn: Connection, key: TemplateKey, template: Template | None) -> None:
    """None: ours again."""
    conn.execute("DELETE FROM template WHERE kind = ? AND channel = ? AND lang = ?", key)
    if template is not None:
        conn.execute("INSERT INTO template VALUES (?, ?, ?, ?, ?)", (*key, template.subject, template.body))


def _load_templates(conn: Connection) -> dict[TemplateKey, Template]:
    rows = conn.execute("SELECT kind, channel, lang, subject, body FROM template")
    return {
        (Kind(kind), Channel(channel), lang): Template(subject, body)
        for kind, channel, lang, subject, body in rows
    }


def _read(conn: Connection, keys: KeyRing) -> Iterator[tuple[int, str, dict[str, Any]]]:
    for row, kind, sealed in conn.execute("SELECT id, kind, sealed FROM channel ORDER BY id"):
        yield row, kind, json.loads(keys.unseal(sealed, table="channel", column="sealed", row=row))


def _gateway(settings: dict[str, Any]) -> TextGateway:
    call = dict(settings.pop("call"))
    call["headers"] = tuple((name, value) for name, value in call["headers"])
    call["good_status"] = tuple(call["good_status"])
    settings["countries"] = tuple(settings["countries"])
    return TextGateway(Call(**call), **settings)


def _add(conn: Connection, kind: Channel) -> int:
    return int(conn.execute("INSERT INTO channel (kind) VALUES (?) RETURNING id", (kind,)).fetchone()[0])


def _seal(conn: Connection, keys: KeyRing, row: int, settings: dict[str, Any]) -> None:
    plain = json.dumps(settings).encode()
    sealed = keys.seal(plain, table="channel", column="sealed", row=row)
    conn.execute("UPDATE channel SET sealed = ? WHERE id = ?", (sealed, row))
