"""Where messages leave the house: the mail server, the text gateway, syslog receivers and webhooks."""

import re
from dataclasses import dataclass, field
from enum import StrEnum

from lauschen.core.config.checks import check_headers
from lauschen.core.config.dialect import Call
from lauschen.core.errors import Invalid
from lauschen.core.ids import ChannelId
from lauschen.core.messages.message import Kind
from lauschen.core.messages.template import Template, TemplateKey
from lauschen.core.words.template import check_template

LONGEST_HOST = 253
MOST_TEXTS_DAY = 100_000
CALL_WORDS = {
    "to": "the phone number, as +43123456",
    "to_bare": "the phone number without its plus sign",
    "text": "what the message says",
    "id": "an id of the message, the same when it is tried again",
    "secret": "the secret of the gateway",
}
"""What the request of a text gateway may say."""
_LABEL = r"[A-Za-z0-9_]([A-Za-z0-9_-]*[A-Za-z0-9])?"
_HOST = re.compile(rf"(?=.{{1,{LONGEST_HOST}}}\Z){_LABEL}(\.{_LABEL})*")


class Security(StrEnum):
    """How the connection to a mail server is kept from others; one without is not offered."""

    STARTTLS = "starttls"
    TLS = "tls"


@dataclass(frozen=True, slots=True)
class MailServer:
    """The house's own relay or its provider's."""

    host: str
    sender: str
    """The address that mails come from."""
    port: int = 587
    security: Security = Security.STARTTLS
    user: str = ""
    password: str = ""
    sender_name: str = ""
    authority: str = ""
    """A certificate authority of the house's own (PEM); empty: those that the system knows."""
    code_in_subject: bool = False


@dataclass(frozen=True, slots=True)
class TextGateway:
    """A service that takes text messages by HTTP, described by its request."""

    call: Call
    secret: str = ""
    price: int = 0
    """Of one message, in thousandths of `currency`."""
    currency: str = "EUR"
    countries: tuple[str, ...] = ()
    """Two letters each (ISO 3166); the first is assumed for numbers that name none."""
    texts_day: int = 200


class Transport(StrEnum):
    """How syslog lines travel."""

    UDP = "udp"
    TCP = "tcp"
    TLS = "tls"


@dataclass(frozen=True, slots=True)
class SyslogServer:
    """Hears of what happens, one line each (RFC 5424)."""

    id: ChannelId
    name: str
    host: str
    port: int = 6514
    transport: Transport = Transport.TLS
    facility: int = 16
    """16 is local use 0 (RFC 5424 table 1)."""
    authority: str = ""
    hears: tuple[Kind, ...] = ()
    """What it is told."""


@dataclass(frozen=True, slots=True)
class Webhook:
    """Hears of what happens by an HTTP POST that is signed."""

    id: ChannelId
    name: str
    url: str
    secret: str
    hears: tuple[Kind, ...] = ()
    """What it is told."""


@dataclass(frozen=True, slots=True)
class Channels:
    """All of them, and the house's own words."""

    mail: MailServer | None = None
    text: TextGateway | None = None
    syslog: tuple[SyslogServer, ...] = ()
    webhooks: tuple[Webhook, ...] = ()
    templates: dict[TemplateKey, Template] = field(default_factory=dict)
    """Those that differ from ours."""


HEARD = (
    Kind.REGISTERED,
    Kind.PASSCODE,
    Kind.HOST_ASKED,
    Kind.HOST_SAID_YES,
    Kind.HOST_SAID_NO,
    Kind.HOST_SILENT,
)
"""What syslog servers and webhooks can be told of."""
LONGEST_SECRET, SHORTEST_SECRET = 200, 16


def check_receiver(receiver: SyslogServer | Webhook) -> None:
    """Invalid says what of it cannot be."""
    if not receiver.name.strip():
        raise Invalid("name_missing", field="name", mend="Give it a name.")
    if isinstance(receiver, SyslogServer):
        check_host(receiver.host, receiver.port)
        if not 0 <= receiver.facility <= 23:
            raise Invalid("facility", field="facility", mend="0 to 23 (RFC 5424 table 1).")
    elif not SHORTEST_SECRET <= len(receiver.secret) <= LONGEST_SECRET:
        mend = f"{SHORTEST_SECRET} signs at least: whoever guesses it can speak for us."
        raise Invalid("secret_short", field="secret", mend=mend)


def check_host(host: str, port: int, field_name: str = "host") -> None:
    """Invalid when it is neither a host name nor an address, or the port is none."""
    if not _HOST.fullmatch(host) and not _is_address(host):
        raise Invalid(
            "host", field=field_name, mend="The name or address of the server, as mail.house.example."
        )
    if not 1 <= port <= 65535:
        raise Invalid("port", field="port", mend="A port from 1 to 65535.")


def check_gateway(gateway: TextGateway) -> None:
    """Invalid says what of the request could not be sent, or what is missing in it."""
    call = gateway.call
    for text, name in ((call.url, "url"), (call.body, "body"), *((v, "headers") for _, v in call.headers)):
        check_template(text, name, CALL_WORDS)
    check_headers(call, "headers")
    said = call.url + call.body
    if "{text}" not in said or not ("{to}" in said or "{to_bare}" in said):
        raise Invalid("gateway_words", field="body", mend="It must say {to} and {text} somewhere.")
    if not gateway.countries:
        mend = "Name at least one country: text messages go to listed ones only."
        raise Invalid("countries", field="countries", mend=mend)
    if not 1 <= gateway.texts_day <= MOST_TEXTS_DAY:
        raise Invalid("texts_day", field="texts_day", mend=f"1 to {MOST_TEXTS_DAY:,} a day.")


def _is_address(host: str) -> bool:
    return ":" in host and bool(re.fullmatch(r"[0-9A-Fa-f:.]{2,45}", host))
