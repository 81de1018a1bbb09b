"""The room Settings: where messages leave it, what they say, and what became of them."""

from fastapi import APIRouter, Query

from lauschen.acts.config import channels as acts
from lauschen.acts.config.configuring import configured
from lauschen.acts.desk.within import check_message as check_seen
from lauschen.acts.messages import writing
from lauschen.acts.messages.costs import note_cost
from lauschen.api.door.asking import Configures, Helps, Id, Inspects, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.settings import models
from lauschen.api.settings.shapes import (
    mail_in,
    mail_out,
    message_out,
    preview,
    settings_out,
    test_message,
    text_in,
    text_out,
    words_out,
)
from lauschen.core.actor import Actor
from lauschen.core.errors import NotThere
from lauschen.core.ids import MessageId
from lauschen.core.messages.message import Channel, Kind, MessageState
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.core.messages.templates import check_message
from lauschen.core.words.addresses import read_mail, read_phone
from lauschen.notify.carriers import Parcel, pack_with
from lauschen.road.tx import Tx
from lauschen.sentences.messages import own_templates
from lauschen.store.messages import outbox

router = APIRouter(tags=["settings"], route_class=NeedFirst)
PAGE = 50


@router.get("/settings")
async def config(_: Inspects, office: TheOffice) -> models.SettingsOut:
    return settings_out(office.config, office.reader)


@router.put("/mail")
async def save_mail(actor: Configures, office: TheOffice, wanted: models.MailIn) -> models.MailOut:
    server = mail_in(wanted, office.config.channels.mail)
    await office.road.act(configured(lambda tx: acts.save_mail(tx, server)), by=actor)
    return mail_out(server)


@router.delete("/mail", status_code=204)
async def remove_mail(actor: Configures, office: TheOffice) -> None:
    await office.road.act(configured(lambda tx: acts.remove_only(tx, Channel.MAIL)), by=actor)


@router.post("/mail/test")
async def try_mail(actor: Configures, office: TheOffice, wanted: models.TryMail) -> models.Tried:
    """Sends one now, and says what the server answered."""
    server = mail_in(wanted.server, office.config.channels.mail)
    to = read_mail(wanted.to, "to")
    parcel = pack_with(
        office.config, test_message(office.config, Channel.MAIL, to, office.road.clock.now()), mail=server
    )
    return await _tried(office, parcel, Channel.MAIL, actor)


@router.put("/text")
async def save_text(actor: Configures, office: TheOffice, wanted: models.TextIn) -> models.TextOut:
    gateway = text_in(wanted, office.config.channels.text)
    await office.road.act(configured(lambda tx: acts.save_text(tx, gateway)), by=actor)
    return text_out(gateway)


@router.delete("/text", status_code=204)
async def remove_text(actor: Configures, office: TheOffice) -> None:
    await office.road.act(configured(lambda tx: acts.remove_only(tx, Channel.TEXT)), by=actor)


@router.post("/text/test")
async def try_text(actor: Configures, office: TheOffice, wanted: models.TryText) -> models.Tried:
    """Sends one now, at its price, and says what the gateway answered."""
    gateway = text_in(wanted.gateway, office.config.channels.text)
    to = read_phone(wanted.to, gateway.countries, "to")
    parcel = pack_with(
        office.config, test_message(office.config, Channel.TEXT, to, office.road.clock.now()), text=gateway
    )
    return await _tried(office, parcel, Channel.TEXT, actor)


@router.put("/templates/{kind}/{channel}/{lang}")
async def save_words(
    actor: Configures,
    office: TheOffice,
    kind: Kind,
    channel: Channel,
    lang: models.Lang,
    wanted: models.WordsIn,
) -> models.WordsOut:
    key, template = _key(kind, channel, lang), Template(wanted.subject.strip(), wanted.body.strip())
    await office.road.act(configured(lambda tx: acts.save_template(tx, key, template)), by=actor)
    return words_out(office.config.channels, key)


@router.delete("/templates/{kind}/{channel}/{lang}")
async def our_words(
    actor: Configures, office: TheOffice, kind: Kind, channel: Channel, lang: models.Lang
) -> models.WordsOut:
    """The house's own are taken away: ours again."""
    key = _key(kind, channel, lang)
    await office.road.act(configured(lambda tx: acts.save_template(tx, key, None)), by=actor)
    return words_out(office.config.channels, key)


@router.post("/templates/{kind}/{channel}/{lang}/preview")
async def preview_words(
    _: Configures, office: TheOffice, kind: Kind, channel: Channel, lang: models.Lang, wanted: models.WordsIn
) -> models.Preview:
    key, template = _key(kind, channel, lang), Template(wanted.subject.strip(), wanted.body.strip())
    check_message(kind, channel, template)
    return preview(office.config, key, template)


@router.get("/messages")
async def messages(
    _: Inspects,
    office: TheOffice,
    state: MessageState | None = None,
    before: int | None = Query(default=None, ge=0, le=2**53),
) -> models.MessagesOut:
    """The newest first, fifty at a time."""
    shaper = office.shaper()
    found = outbox.listed(office.reader, shaper.keys, state, before, PAGE)
    return models.MessagesOut(
        messages=[message_out(shaper, message) for message in found],
        waiting=outbox.count_in(office.reader, MessageState.WAITING),
        failed=outbox.count_in(office.reader, MessageState.FAILED),
    )


@router.post("/messages/{message}/send-again")
async def send_again(actor: Helps, office: TheOffice, message: Id) -> models.MessageOut:
    """What waits is tried now; what was given up goes as a new message to the same address."""

    def again(tx: Tx) -> MessageId:
        check_seen(tx, MessageId(message))
        return writing.send_again(tx, MessageId(message))

    written = await office.road.act(again, by=actor)
    shaper = office.shaper()
    found = outbox.get_message(office.reader, shaper.keys, written)
    if found is None:
        raise NotThere("message")
    return message_out(shaper, found)


async def _tried(office: Office, parcel: Parcel, channel: Channel, actor: Actor) -> models.Tried:
    answer = await office.carriers.carry(parcel)
    if answer.is_sent:
        await office.road.act(lambda tx: note_cost(tx, channel), by=actor)
    return models.Tried(is_sent=answer.is_sent, answer=answer.text)


def _key(kind: Kind, channel: Channel, lang: str) -> TemplateKey:
    key = kind, channel, lang
    if key not in own_templates():
        raise NotThere("template")
    return key
