"""Where messages leave the house, and what they say: set, changed, taken away."""

from dataclasses import replace

from lauschen.acts.config.record import changes
from lauschen.acts.messages.hurrying import hurry
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import ChannelId
from lauschen.core.messages.channels import (
    MailServer,
    SyslogServer,
    TextGateway,
    Webhook,
    check_gateway,
    check_host,
    check_receiver,
)
from lauschen.core.messages.message import Channel
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.core.messages.templates import check_message
from lauschen.core.words.addresses import is_country, read_mail
from lauschen.core.words.text import visible
from lauschen.outgoing.authorities import context_for
from lauschen.outgoing.reach import read_address
from lauschen.road.tx import Tx
from lauschen.sentences.messages import own_templates
from lauschen.store.config import channels as stored

MOST_RECEIVERS = 20


def checked_mail(server: MailServer) -> MailServer:
    """Invalid says what of it cannot be."""
    check_host(server.host, server.port)
    sender = read_mail(server.sender, "sender")
    if visible(server.sender_name) != server.sender_name:
        raise Invalid("sender_name", field="sender_name", mend="There are hidden signs in that name.")
    if server.authority:
        context_for(server.authority)
    return replace(server, sender=sender)


def checked_gateway(gateway: TextGateway) -> TextGateway:
    """Invalid says what of it cannot be."""
    check_gateway(gateway)
    for country in gateway.countries:
        if not is_country(country):
            mend = f"{country} is no country. Two capital letters each, as AT."
            raise Invalid("countries", field="countries", mend=mend)
    return gateway


def save_mail(tx: Tx, server: MailServer) -> None:
    """What waits is tried at once."""
    stored.save_only(tx.conn, tx.keys, Channel.MAIL, checked_mail(server))
    changed = changes(tx.config, tx.config.channels.mail, server)
    tx.log("channel_saved", facts={"channel": Channel.MAIL, "name": server.host, **changed})
    hurry(tx, Channel.MAIL)


def save_text(tx: Tx, gateway: TextGateway) -> None:
    """What waits is tried at once."""
    stored.save_only(tx.conn, tx.keys, Channel.TEXT, checked_gateway(gateway))
    changed = changes(tx.config, tx.config.channels.text, gateway)
    tx.log("channel_saved", facts={"channel": Channel.TEXT, "name": gateway.call.url[:60], **changed})
    hurry(tx, Channel.TEXT)


def remove_only(tx: Tx, channel: Channel) -> None:
    """NotThere when there is none."""
    there = tx.config.channels.mail if channel is Channel.MAIL else tx.config.channels.text
    if there is None:
        raise NotThere("channel")
    stored.remove_only(tx.conn, channel)
    tx.log("channel_removed", facts={"channel": channel})


def save_receiver(tx: Tx, receiver: SyslogServer | Webhook) -> ChannelId:
    """A new one when its id is 0."""
    all_of = tx.config.channels.syslog + tx.config.channels.webhooks
    if receiver.id and receiver.id not in {one.id for one in all_of}:
        raise NotThere("channel")
    if not receiver.id and len(all_of) >= MOST_RECEIVERS:
        raise Invalid("receivers_many", field="name", mend=f"At most {MOST_RECEIVERS} of them.")
    check_receiver(receiver)
    if isinstance(receiver, SyslogServer):
        context_for(receiver.authority) if receiver.authority else None
    else:
        read_address(receiver.url)
    kind = Channel.SYSLOG if isinstance(receiver, SyslogServer) else Channel.WEBHOOK
    there = tx.config.channels.syslog + tx.config.channels.webhooks
    before = next((one for one in there if one.id == receiver.id), None)
    tx.log(
        "channel_saved",
        facts={"channel": kind, "name": receiver.name, **changes(tx.config, before, receiver)},
    )
    return stored.save_receiver(tx.conn, tx.keys, receiver)


def remove_receiver(tx: Tx, receiver: ChannelId) -> None:
    """With what still waits for it."""
    found = next(
        (one for one in tx.config.channels.syslog + tx.config.channels.webhooks if one.id == receiver), None
    )
    if found is None:
        raise NotThere("channel")
    stored.remove_receiver(tx.conn, receiver)
    kind = Channel.SYSLOG if isinstance(found, SyslogServer) else Channel.WEBHOOK
    tx.log("channel_removed", facts={"channel": kind, "name": found.name})


def save_template(tx: Tx, key: TemplateKey, template: Template | None) -> None:
    """None: our words again."""
    kind, channel, _ = key
    if key not in own_templates():
        raise NotThere("template")
    if template is not None:
        check_message(kind, channel, template)
    stored.save_template(tx.conn, key, template if template != own_templates()[key] else None)
    before, after = (
        tx.config.channels.templates.get(key, own_templates()[key]),
        template or own_templates()[key],
    )
    tx.log("template_saved", facts={"channel": channel, "about": kind, **changes(tx.config, before, after)})
