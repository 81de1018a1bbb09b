"""One carrier per channel, and what each needs of a message and the house."""

import json
from collections.abc import Callable
from dataclasses import dataclass, replace

from lauschen.beside.worker import Worker
from lauschen.core.config.config import Config
from lauschen.core.messages.channels import Channels, MailServer, SyslogServer, TextGateway, Webhook
from lauschen.core.messages.message import Channel, Message
from lauschen.core.messages.signing import signature
from lauschen.core.messages.syslog import syslog_line
from lauschen.core.messages.template import Template
from lauschen.core.messages.templates import QR, render
from lauschen.notify.answer import Answer, shortened
from lauschen.notify.compose import Letter, compose
from lauschen.notify.mail import Postman
from lauschen.notify.syslog import Herald
from lauschen.outgoing.calls import Caller
from lauschen.sentences.messages import own_templates


@dataclass(frozen=True, slots=True)
class MailParcel:
    """A mail before it is made into octets."""

    server: MailServer
    letter: Letter


@dataclass(frozen=True, slots=True)
class TextParcel:
    """A text message with its gateway."""

    gateway: TextGateway
    to: str
    text: str
    mark: str


@dataclass(frozen=True, slots=True)
class LineParcel:
    """A line with its syslog server."""

    server: SyslogServer
    line: bytes


@dataclass(frozen=True, slots=True)
class HookParcel:
    """What a webhook is told."""

    hook: Webhook
    mark: str
    body: bytes


GONE = "Whom it was for is not in the house any more."
Parcel = MailParcel | TextParcel | LineParcel | HookParcel


def template_for(channels: Channels, message: Message) -> Template:
    """The house's own words, else ours; in English where a language has none."""
    for lang in (message.lang, "en"):
        key = message.kind, message.channel, lang
        found = channels.templates.get(key) or own_templates().get(key)
        if found is not None:
            return found
    raise LookupError(f"{message.kind} by {message.channel}")


def pack(config: Config, message: Message) -> tuple[Parcel | None, str]:
    """What is carried; None and why, when it cannot be now."""
    channels = config.channels
    match message.channel:
        case Channel.MAIL if channels.mail is None:
            return None, "No mail server is set."
        case Channel.TEXT if channels.text is None:
            return None, "No text gateway is set."
        case Channel.SYSLOG:
            server = next((one for one in channels.syslog if one.id == message.receiver), None)
            return (None, GONE) if server is None else (line_for(config, message, server), "")
        case Channel.WEBHOOK:
            hook = next((one for one in channels.webhooks if one.id == message.receiver), None)
            return (None, GONE) if hook is None else (call_for(config, message, hook), "")
        case _:
            return pack_with(config, message, mail=channels.mail, text=channels.text), ""


def line_for(config: Config, message: Message, server: SyslogServer) -> LineParcel:
    """What a syslog server is told: the words of a text message, and the facts apart."""
    host = (config.channels.mail.sender.rpartition("@")[2] if config.channels.mail else "") or "lauschen"
    line = syslog_line(
        facility=server.facility,
        at=message.written_at,
        host=host,
        kind=message.kind,
        mark=message.mark,
        words=message.words,
        text=_as_text(config, message),
    )
    return LineParcel(server, line)


def call_for(config: Config, message: Message, hook: Webhook) -> HookParcel:
    """What a webhook is told, as JSON."""
    said = {
        "id": message.mark,
        "kind": message.kind,
        "written_at": message.written_at,
        "text": _as_text(config, message),
        "words": message.words,
    }
    return HookParcel(hook, message.mark, json.dumps(said, ensure_ascii=False).encode())


def _as_text(config: Config, message: Message) -> str:
    own = own_templates().get((message.kind, Channel.SYSLOG, "en"))
    channel = Channel.TEXT if own is None else Channel.SYSLOG
    template = template_for(config.channels, replace(message, channel=channel))
    return render(template, Channel.TEXT, message.words).plain


def pack_with(
    config: Config, message: Message, *, mail: MailServer | None = None, text: TextGateway | None = None
) -> Parcel:
    """By this server or gateway, which need not be the one that is set."""
    words = {name: value for name, value in message.words.items() if name != QR}
    template = template_for(config.channels, message)
    if mail is not None and message.channel is Channel.MAIL:
        letter = Letter(
            mail.sender,
            mail.sender_name or config.site_name,
            message.to,
            message.mark,
            message.written_at,
            message.lang,
            render(template, Channel.MAIL, words, code_in_subject=mail.code_in_subject),
            message.words.get(QR, ""),
        )
        return MailParcel(mail, letter)
    if text is not None and message.channel is Channel.TEXT:
        plain = render(template, Channel.TEXT, words).plain
        return TextParcel(text, message.to, plain, message.mark)
    raise LookupError(f"nothing carries {message.channel}")


class Carriers:
    """What the outbox sends with."""

    def __init__(
        self, postman: Postman, caller: Caller, herald: Herald, worker: Worker, now: Callable[[], float]
    ) -> None:
        self._postman = postman
        self._herald = herald
        self._now = now
        self._caller = caller
        self._worker = worker

    async def carry(self, parcel: Parcel) -> Answer:
        """One try."""
        if isinstance(parcel, MailParcel):
            octets = await self._worker.run(compose, parcel.letter)
            return await self._postman.send(parcel.server, parcel.letter.to, octets)
        if isinstance(parcel, LineParcel):
            return await self._herald.send(parcel.server, parcel.line)
        return await (self._text(parcel) if isinstance(parcel, TextParcel) else self._hook(parcel))

    async def _hook(self, parcel: HookParcel) -> Answer:
        at = int(self._now())
        headers = {
            "Content-Type": "application/json",
            "Lauschen-Id": parcel.mark,
            "Lauschen-Time": str(at),
            "Lauschen-Signature": signature(parcel.hook.secret, mark=parcel.mark, at=at, body=parcel.body),
        }
        heard = await self._caller.post(parcel.hook.url, headers, parcel.body)
        return Answer(heard.is_good, shortened(heard.words(parcel.hook.secret)))

    async def _text(self, parcel: TextParcel) -> Answer:
        words = {
            "to": parcel.to,
            "to_bare": parcel.to.removeprefix("+"),
            "text": parcel.text,
            "id": parcel.mark,
            "secret": parcel.gateway.secret,
        }
        heard = await self._caller.ask(parcel.gateway.call, words)
        return Answer(heard.is_good, shortened(heard.words(parcel.gateway.secret)))
