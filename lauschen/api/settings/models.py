"""The shapes of the room Settings."""

from typing import Literal

from pydantic import Field

from lauschen.api.model import Model
from lauschen.api.networks.models import CallModel
from lauschen.core.messages.channels import Security, Transport
from lauschen.core.messages.message import Channel, Kind, MessageState

Lang = Literal["en", "de"]


class MailIn(Model):
    """The mail server."""

    host: str = Field(min_length=1, max_length=253)
    port: int = Field(default=587, ge=1, le=65535)
    security: Security = Security.STARTTLS
    user: str = Field(default="", max_length=200)
    password: str | None = Field(default=None, max_length=200)
    """Not said: it stays."""
    sender: str = Field(min_length=1, max_length=254)
    sender_name: str = Field(default="", max_length=80)
    authority: str = Field(default="", max_length=20_000)
    """Certificates (PEM) that the server's must be signed by; empty: those that the system trusts."""
    code_in_subject: bool = False


class MailOut(MailIn):
    password: None = None
    has_password: bool


class TextIn(Model):
    """The text gateway."""

    call: CallModel
    secret: str | None = Field(default=None, max_length=400)
    """Not said: it stays."""
    price: float = Field(default=0, ge=0, le=100)
    """Of one message."""
    currency: str = Field(default="EUR", pattern="^[A-Z]{3}$")
    countries: list[str] = Field(max_length=250)
    texts_day: int = Field(default=200, ge=1, le=100_000)


class TextOut(TextIn):
    secret: None = None
    has_secret: bool


class SyslogIn(Model):
    """A syslog server."""

    name: str = Field(min_length=1, max_length=60)
    host: str = Field(min_length=1, max_length=253)
    port: int = Field(default=6514, ge=1, le=65535)
    transport: Transport = Transport.TLS
    facility: int = Field(default=16, ge=0, le=23)
    authority: str = Field(default="", max_length=20_000)
    hears: list[Kind] = Field(default=[], max_length=20)


class SyslogOut(SyslogIn):
    id: int


class WebhookIn(Model):
    """A webhook."""

    name: str = Field(min_length=1, max_length=60)
    url: str = Field(min_length=1, max_length=1500)
    secret: str | None = Field(default=None, max_length=200)
    """Not said: it stays; of a new one, a random one is made and shown once."""
    hears: list[Kind] = Field(default=[], max_length=20)


class WebhookOut(WebhookIn):
    id: int


class TryMail(Model):
    """A test, also of what is not saved yet."""

    server: MailIn
    to: str = Field(max_length=254)


class TryText(Model):
    gateway: TextIn
    to: str = Field(max_length=60)


class Tried(Model):
    """What came of a test."""

    is_sent: bool
    answer: str
    """The other side's own words."""


class MessageOut(Model):
    id: int
    channel: Channel
    about: str
    """In words, with the name of whom it is for."""
    to: str
    state: MessageState
    written_at: float
    next_at: float | None
    tries: int
    answer: str | None
    answer_at: float | None
    can_go_again: bool


class MessagesOut(Model):
    messages: list[MessageOut]
    waiting: int
    failed: int


class Cost(Model):
    month: str
    channel: Channel
    count: int
    price: str
    """As `3.20 EUR`; empty for what costs nothing."""


class WordsIn(Model):
    """What messages of a kind say."""

    subject: str = Field(default="", max_length=300)
    body: str = Field(max_length=8000)


class WordsOut(WordsIn):
    kind: Kind
    channel: Channel
    lang: Lang
    title: str
    is_ours: bool


class Preview(Model):
    """As it would be sent."""

    subject: str
    plain: str
    html: str
    parts: int
    """Of a text message, so many are charged for."""


class KnownWord(Model):
    word: str
    meaning: str


class SettingsOut(Model):
    mail: MailOut | None
    text: TextOut | None
    syslog: list[SyslogOut]
    webhooks: list[WebhookOut]
    """Their secrets are not said."""
    heard: list[KnownWord]
    """What syslog servers and webhooks can be told of."""
    templates: list[WordsOut]
    words: dict[Kind, list[KnownWord]]
    """Those that messages of a kind may use."""
    costs: list[Cost]
