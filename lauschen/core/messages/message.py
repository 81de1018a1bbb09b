"""One message: what it is about, whom it goes to, and how far it is."""

from dataclasses import dataclass, field
from enum import StrEnum

from lauschen.core.ids import ChannelId, CredentialId, Mac, MessageId, NetworkId


class Channel(StrEnum):
    """How something reaches somebody outside."""

    MAIL = "mail"
    TEXT = "text"
    """A text message to a phone."""
    SYSLOG = "syslog"
    WEBHOOK = "webhook"


class Kind(StrEnum):
    """What a message is about; each has words of its own."""

    PASS = "pass"  # noqa: S105 - a kind of message
    """The code of a voucher or a guest pass, and where it is good."""
    ACCOUNT = "account"
    """The name of an account, its password if it is known, and where it is good."""
    PASSPHRASE = "passphrase"  # noqa: S105
    """A private passphrase, and the Wi-Fi that it is for."""
    CONFIRM = "confirm"
    """A link and six digits, by which whoever reads it confirms the address."""
    ASKED = "asked"
    """A guest asks a host to vouch for them."""
    REMINDER = "reminder"
    """The same once more."""
    OWN_PAGE = "own_page"
    """The link to a host's own page."""
    NOT_VOUCHED = "not_vouched"
    """A host said no; for the guest."""
    TEST = "test"
    """Whether a channel works."""
    REGISTERED = "registered"
    """Somebody wrote themselves in; for machines."""
    HOST_ASKED = "host_asked"
    """A host was asked; for machines, as the next three."""
    HOST_SAID_YES = "host_said_yes"
    HOST_SAID_NO = "host_said_no"
    HOST_SILENT = "host_silent"
    """Nobody answered in time."""
    PASSCODE = "passcode"
    """The passcode of a network changed; for those who hand it out."""
    INVITED = "invited"
    """Somebody may sign in at the console, and chooses a password by this link."""


class MessageState(StrEnum):
    """How far a message is."""

    WAITING = "waiting"
    """Until its next try, or its first."""
    SENT = "sent"
    """The other side has taken it."""
    FAILED = "failed"
    """Given up; *send again* is a message of its own."""


@dataclass(frozen=True, slots=True)
class About:
    """What a message belongs to: budgets count by it, and the dossier shows it."""

    credential: CredentialId | None = None
    mac: Mac | None = None
    network: NetworkId | None = None


@dataclass(frozen=True, slots=True)
class Message:
    """As it stands in the outbox."""

    id: MessageId
    mark: str
    """Random; the receiver sees it, the same in each try, and can tell by it what came twice."""
    channel: Channel
    kind: Kind
    lang: str
    to: str
    """A mail address, a phone number (E.164), else empty."""
    words: dict[str, str]
    """What it says; empty once it was sent."""
    receiver: ChannelId | None
    """Which of several syslog servers or webhooks."""
    about: About
    written_at: float
    tries: int
    next_at: float | None
    """None: it is over."""
    state: MessageState
    answer: str | None
    """What the other side said last, in words."""
    answer_at: float | None


@dataclass(frozen=True, slots=True)
class Draft:
    """A message before it is written."""

    channel: Channel
    kind: Kind
    lang: str
    to: str
    words: dict[str, str] = field(default_factory=dict)
    about: About = About()
    receiver: ChannelId | None = None
