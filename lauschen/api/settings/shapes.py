"""How what is stored becomes the shapes of the room Settings, and back."""

import secrets
from dataclasses import asdict
from sqlite3 import Connection

from lauschen.acts.config.channels import checked_gateway, checked_mail
from lauschen.api.kept_secrets import check_kept, check_kept_at
from lauschen.api.networks.models import CallModel
from lauschen.api.settings.models import (
    Cost,
    KnownWord,
    MailIn,
    MailOut,
    MessageOut,
    Preview,
    SettingsOut,
    SyslogOut,
    TextIn,
    TextOut,
    WebhookOut,
    WordsOut,
)
from lauschen.api.shaping import Shaper
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Call
from lauschen.core.ids import MessageId
from lauschen.core.messages.channels import HEARD, Channels, MailServer, TextGateway, Webhook
from lauschen.core.messages.message import About, Channel, Kind, Message, MessageState
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.core.messages.templates import WORDS, render
from lauschen.core.messages.text_parts import count_parts
from lauschen.core.words.addresses import shown_phone
from lauschen.core.words.text import visible
from lauschen.sentences.messages import own_templates
from lauschen.store import batches, credentials
from lauschen.store.messages import outbox

MONTHS_SHOWN = 24
MARK_OCTETS = 12
TITLES = {
    Kind.PASS: "a pass or voucher",
    Kind.ACCOUNT: "an account",
    Kind.PASSPHRASE: "a private passphrase",
    Kind.TEST: "a test",
    Kind.REGISTERED: "somebody who wrote themselves in",
    Kind.CONFIRM: "to confirm an address",
    Kind.PASSCODE: "a new passcode",
    Kind.ASKED: "a guest who asks for a host, to the host",
    Kind.REMINDER: "the same once more, as a reminder",
    Kind.OWN_PAGE: "the link to a host's own page",
    Kind.INVITED: "an invitation to the console",
    Kind.NOT_VOUCHED: "a host's no, to the guest",
    Kind.HOST_ASKED: "a host who is asked",
    Kind.HOST_SAID_YES: "a host's yes",
    Kind.HOST_SAID_NO: "a host's no",
    Kind.HOST_SILENT: "hosts who did not answer in time",
}
SAMPLE = {
    "name": "Ines Harwood",
    "code": "3N2D5-98EEV",
    "login": "ines.harwood",
    "password": "plum-and-pine-42",
    "passphrase": "vase-trumpet-elbow-lantern-drift-maple",
    "wifi": "Hollerau Ensemble",
    "limits": "7 d from first use · 3 devices · 21 GB",
    "network": "Practice wall ports",
    "until": "tomorrow 05:00",
    "link": "http://welcome.hollerau.example/confirm/4f1c…",
    "minutes": "15",
    "device": "02-00-00-AA-BB-01",
    "host": "Ada Lindqvist",
    "mail": "ines@harwood.example",
    "phone": "+43 660 123456",
    "company": "Harwood Strings",
    "room": "Orchard Hall 3",
    "visiting": "the summer course",
    "reason": "page-turning on a tablet",
    "more": "Instrument: viola",
    "word": "Welcome, see you at four.",
}
"""What a preview shows in the place of what is not known."""


def settings_out(config: Config, reader: Connection) -> SettingsOut:
    channels = config.channels
    return SettingsOut(
        mail=None if channels.mail is None else mail_out(channels.mail),
        text=None if channels.text is None else text_out(channels.text),
        syslog=[SyslogOut(**asdict(one)) for one in channels.syslog],
        webhooks=[webhook_out(one) for one in channels.webhooks],
        heard=[KnownWord(word=kind, meaning=TITLES[kind]) for kind in HEARD],
        templates=[words_out(channels, key) for key in own_templates()],
        words={
            kind: [KnownWord(word=word, meaning=meaning) for word, meaning in known.items()]
            for kind, known in WORDS.items()
        },
        costs=[
            Cost(
                month=month,
                channel=Channel(channel),
                count=count,
                price=f"{price / 1000:.2f} {currency}" if price else "",
            )
            for month, channel, currency, count, price in outbox.costs(reader, MONTHS_SHOWN)
        ],
    )


def mail_out(server: MailServer) -> MailOut:
    return MailOut(**asdict(server) | {"password": None, "has_password": bool(server.password)})


def mail_in(wanted: MailIn, before: MailServer | None) -> MailServer:
    """A password that is not said stays, and goes nowhere else."""
    kept = before.password if before is not None and wanted.password is None else ""
    said = {"password": kept or wanted.password or "", "host": wanted.host.strip()}
    server = checked_mail(MailServer(**wanted.model_dump() | said))
    if kept and before is not None:
        goes_to, typed_for = [(one.host, one.port, one.security, one.authority) for one in (server, before)]
        check_kept("password", f"{before.host}:{before.port}", is_same=goes_to == typed_for)
    return server


def text_out(gateway: TextGateway) -> TextOut:
    return TextOut(
        call=CallModel(**asdict(gateway.call)),
        price=gateway.price / 1000,
        currency=gateway.currency,
        countries=list(gateway.countries),
        texts_day=gateway.texts_day,
        has_secret=bool(gateway.secret),
    )


def text_in(wanted: TextIn, before: TextGateway | None) -> TextGateway:
    """A secret that is not said stays, and goes nowhere else."""
    call = wanted.call.model_dump()
    call["headers"] = tuple((name, value) for name, value in call["headers"])
    call["good_status"] = tuple(call["good_status"])
    kept = before.secret if before is not None and wanted.secret is None else ""
    gateway = checked_gateway(
        TextGateway(
            Call(**call),
            secret=kept or wanted.secret or "",
            price=round(wanted.price * 1000),
            currency=wanted.currency,
            countries=tuple(dict.fromkeys(country.strip().upper() for country in wanted.countries)),
            texts_day=wanted.texts_day,
        )
    )
    if kept and before is not None:
        check_kept_at("secret", [before.call.url], [wanted.call.url])
    return gateway


def webhook_out(hook: Webhook, secret: str | None = None) -> WebhookOut:
    """`secret`: where it was made just now, and is shown this once."""
    return WebhookOut(**asdict(hook) | {"secret": secret})


def words_out(channels: Channels, key: TemplateKey) -> WordsOut:
    kind, channel, lang = key
    template = channels.templates.get(key) or own_templates()[key]
    return WordsOut(
        kind=kind,
        channel=channel,
        lang=lang,  # type: ignore[arg-type]
        title=TITLES[kind],
        subject=template.subject,
        body=template.body,
        is_ours=key not in channels.templates,
    )


def preview(config: Config, key: TemplateKey, template: Template) -> Preview:
    """With the names of the demo in the place of a guest's."""
    kind, channel, _ = key
    words = SAMPLE | {"site": config.site_name, "page": config.page_url.partition("://")[2]}
    mail = config.channels.mail
    in_subject = mail is not None and mail.code_in_subject and kind is Kind.PASS
    shown = render(template, channel, {w: words.get(w, "") for w in WORDS[kind]}, code_in_subject=in_subject)
    parts = count_parts(shown.plain) if channel is Channel.TEXT else 0
    return Preview(subject=shown.subject, plain=shown.plain, html=shown.html, parts=parts)


def test_message(config: Config, channel: Channel, to: str, now: float) -> Message:
    """One that never stands in the outbox."""
    words = {"site": config.site_name}
    mark, about = secrets.token_hex(MARK_OCTETS), About()
    return Message(
        MessageId(0), mark, channel, Kind.TEST, "en", to, words, None, about, now, 0, None,
        MessageState.WAITING, None, None,
    )  # fmt: skip


def message_out(shaper: Shaper, message: Message) -> MessageOut:
    is_text = message.channel is Channel.TEXT
    return MessageOut(
        id=message.id,
        channel=message.channel,
        about=_about(shaper, message),
        to=visible(shown_phone(message.to) if is_text else message.to),
        state=message.state,
        written_at=message.written_at,
        next_at=message.next_at,
        tries=message.tries,
        answer=None if message.answer is None else visible(message.answer),
        answer_at=message.answer_at,
        can_go_again=bool(message.words) and message.state is not MessageState.SENT,
    )


def _about(shaper: Shaper, message: Message) -> str:
    credential = message.about.credential
    if credential is None:
        return TITLES[message.kind]
    found = credentials.get_issued(shaper.conn, shaper.keys, credential)
    label = "" if found.batch is None else batches.get_batch(shaper.conn, found.batch).said.label
    return f"{TITLES[message.kind]}{f' for {visible(label)}' if label else ''}"
