"""Syslog servers and webhooks: set, tried, taken away."""

import secrets

from fastapi import APIRouter

from lauschen.acts.config import channels as acts
from lauschen.acts.config.configuring import configured
from lauschen.api.door.asking import Configures, Id, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.kept_secrets import check_kept_at
from lauschen.api.settings import models
from lauschen.api.settings.shapes import test_message, webhook_out
from lauschen.core.errors import NotThere
from lauschen.core.ids import ChannelId
from lauschen.core.messages.channels import SyslogServer, Webhook
from lauschen.core.messages.message import Channel
from lauschen.notify.carriers import call_for, line_for

router = APIRouter(tags=["settings"], route_class=NeedFirst)
SECRET_OCTETS = 24


@router.post("/syslog", status_code=201)
async def add_syslog(actor: Configures, office: TheOffice, wanted: models.SyslogIn) -> models.SyslogOut:
    server = _syslog(0, wanted)
    made = await office.road.act(configured(lambda tx: acts.save_receiver(tx, server)), by=actor)
    return models.SyslogOut(id=made, **wanted.model_dump())


@router.put("/syslog/{receiver}")
async def save_syslog(
    actor: Configures, office: TheOffice, receiver: Id, wanted: models.SyslogIn
) -> models.SyslogOut:
    server = _syslog(receiver, wanted)
    await office.road.act(configured(lambda tx: acts.save_receiver(tx, server)), by=actor)
    return models.SyslogOut(id=receiver, **wanted.model_dump())


@router.post("/webhooks", status_code=201)
async def add_webhook(actor: Configures, office: TheOffice, wanted: models.WebhookIn) -> models.WebhookOut:
    """With its secret, which is shown this once."""
    secret = wanted.secret or secrets.token_urlsafe(SECRET_OCTETS)
    hook = Webhook(ChannelId(0), wanted.name.strip(), wanted.url, secret, tuple(wanted.hears))
    made = await office.road.act(configured(lambda tx: acts.save_receiver(tx, hook)), by=actor)
    return webhook_out(Webhook(made, hook.name, hook.url, "", hook.hears), secret)


@router.put("/webhooks/{receiver}")
async def save_webhook(
    actor: Configures, office: TheOffice, receiver: Id, wanted: models.WebhookIn
) -> models.WebhookOut:
    before = _find_hook(office, receiver)
    if not wanted.secret:
        check_kept_at("secret", [before.url], [wanted.url])
    hook = Webhook(
        ChannelId(receiver),
        wanted.name.strip(),
        wanted.url,
        wanted.secret or before.secret,
        tuple(wanted.hears),
    )
    await office.road.act(configured(lambda tx: acts.save_receiver(tx, hook)), by=actor)
    return webhook_out(hook)


@router.delete("/receivers/{receiver}", status_code=204)
async def remove_receiver(actor: Configures, office: TheOffice, receiver: Id) -> None:
    """With what still waits for it."""
    await office.road.act(configured(lambda tx: acts.remove_receiver(tx, ChannelId(receiver))), by=actor)


@router.post("/receivers/{receiver}/test")
async def try_receiver(_: Configures, office: TheOffice, receiver: Id) -> models.Tried:
    """Tells it of a test now, and says what came of it."""
    channels = office.config.channels
    server = next((one for one in channels.syslog if one.id == receiver), None)
    if server is not None:
        message = test_message(office.config, Channel.SYSLOG, "", office.road.clock.now())
        answer = await office.carriers.carry(line_for(office.config, message, server))
    else:
        message = test_message(office.config, Channel.WEBHOOK, "", office.road.clock.now())
        answer = await office.carriers.carry(call_for(office.config, message, _find_hook(office, receiver)))
    return models.Tried(is_sent=answer.is_sent, answer=answer.text)


def _syslog(receiver: int, wanted: models.SyslogIn) -> SyslogServer:
    said = wanted.model_dump() | {"hears": tuple(wanted.hears), "name": wanted.name.strip()}
    return SyslogServer(ChannelId(receiver), **said)


def _find_hook(office: Office, receiver: int) -> Webhook:
    found = next((one for one in office.config.channels.webhooks if one.id == receiver), None)
    if found is None:
        raise NotThere("channel")
    return found
