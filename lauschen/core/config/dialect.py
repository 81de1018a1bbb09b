"""How one make of access device talks: how its guests arrive at the page, and how it learns that one is in.

Attribute sets of one vendor are never built in: a house enters them here (see docs/devices.md).
"""

from dataclasses import dataclass
from enum import StrEnum

from lauschen.core.ids import DialectId


class Arrives(StrEnum):
    """How a guest's browser reaches the page, and what says which device it is."""

    HANDED_OUT = "handed_out"
    """Our signed address in a reply attribute."""
    APPENDED = "appended"
    """One fixed address, to which the access device appends who the guest is in its own field names."""
    PLAIN = "plain"
    """The short address alone: the device is found by its source address."""


class Move(StrEnum):
    """How an access device learns that a device's placement changed."""

    ATTRIBUTES = "attributes"
    """New attributes in a CoA-Request (RFC 5176 section 2.2)."""
    REAUTHORISE = "reauthorise"
    """Service-Type Authorize-Only with State: it asks again (RFC 5176 section 3)."""
    DISCONNECT = "disconnect"
    """RFC 5176 section 2.1: the device joins anew and is asked about."""
    POSTED = "posted"
    """The guest's browser posts a one-time name and secret to it, and it asks with them."""
    CALLED = "called"
    """A described HTTP request to a controller."""


class KeysBy(StrEnum):
    """How access points ask which private passphrase a device has."""

    MAC = "mac"
    """By the device's address alone; they try the passphrases that go back."""
    HANDSHAKE = "handshake"
    """They pass on the nonce and the device's EAPOL-Key frame, which say which one it has."""
    FILE = "file"
    """They do not ask: they have a file of all of them."""


class Honours(StrEnum):
    """Outcomes that an access device carries out; others are marked where they are set."""

    VLAN = "vlan"
    FILTER_NAME = "filter_name"
    FILTER_RULES = "filter_rules"
    SESSION_TIMEOUT = "session_timeout"
    IDLE_TIMEOUT = "idle_timeout"


class UserName(StrEnum):
    """What an Accept says of who it is (RFC 2865 section 5.1); access devices show it, and echo it in accounting."""

    NOTHING = "nothing"
    PSEUDONYM = "pseudonym"
    NAME = "name"
    """For whom it was issued, or what a trusted device is called; a pseudonym for who has no name. Never a code."""


class When(StrEnum):
    """Which Accepts carry a vendor attribute."""

    DOOR = "door"
    INSIDE = "inside"
    ALWAYS = "always"


class ValueKind(StrEnum):
    """How a vendor attribute's value becomes octets."""

    TEXT = "text"
    INTEGER = "integer"
    ADDRESS = "address"
    BYTES = "bytes"


@dataclass(frozen=True, slots=True)
class VendorAttribute:
    """An extra reply attribute: `template` is filled with words of `core.template`."""

    enterprise: int
    """IANA enterprise number."""
    number: int
    kind: ValueKind
    template: str
    when: When


@dataclass(frozen=True, slots=True)
class Appended:
    """Field names under which an access device appends what it knows; empty: it does not."""

    mac: str = "mac"
    going: str = "url"


@dataclass(frozen=True, slots=True)
class Posted:
    """The access device's own login form."""

    url: str = ""
    name_field: str = "username"
    secret_field: str = "password"  # noqa: S105 - the name of a field
    others: tuple[tuple[str, str], ...] = ()
    """Further fields and their templates."""


@dataclass(frozen=True, slots=True)
class Call:
    """A request to a controller. Templates are filled with words of `core.template`."""

    method: str = "POST"
    url: str = ""
    headers: tuple[tuple[str, str], ...] = ()
    body: str = ""
    good_status: tuple[int, ...] = (200, 201, 202, 204)
    good_text: str = ""
    """Must be found in the answer, if not empty."""


@dataclass(frozen=True, slots=True)
class HandshakeIn:
    """Vendor-Specific attributes of a request that hold a handshake (RFC 2865 section 5.26)."""

    enterprise: int = 0
    """IANA enterprise number."""
    nonce: int = 1
    """Of the access point: 32 octets."""
    frame: int = 2
    """The device's EAPOL-Key frame, in as many attributes as it needs."""


@dataclass(frozen=True, slots=True)
class Dialect:
    """How one make of access device talks."""

    id: DialectId
    name: str
    arrives: Arrives = Arrives.HANDED_OUT
    appended: Appended = Appended()
    attributes: tuple[VendorAttribute, ...] = ()
    login_move: Move = Move.DISCONNECT
    end_move: Move = Move.DISCONNECT
    pause_ms: int = 500
    """Between the page's answer and the request, so that the answer reaches the guest (rulings 2.2)."""
    posted: Posted = Posted()
    call_in: Call = Call()
    call_out: Call = Call()
    honours: frozenset[Honours] = frozenset(Honours) - {Honours.FILTER_RULES}
    group_tag: int | None = 0
    """Tag of Tunnel-Private-Group-ID; None leaves the octet out (rulings 3.10)."""
    identify: tuple[str, ...] = ()
    """Names of attributes that a change must carry besides the session's id (they are ANDed)."""
    signs_changes: bool = True
    """Message-Authenticator in CoA- and Disconnect-Requests."""
    timeout_from_start: bool = False
    """Session-Timeout in a CoA counts from the session's start instead of from now."""
    ack_confirms: bool = True
    """A CoA-ACK to new attributes means that they hold."""
    user_name: UserName = UserName.NOTHING
    """In the Accept."""
    counts: bool = True
    """Its accounting counts; False for a device that reports presence while another one sees the traffic."""
    remembers_s: int = 35
    """How long it may answer a returning device from memory (measured: 30 s)."""
    shared_password: str = ""
    """What it sends as password in MAC requests, if not the MAC."""
    keys_by: KeysBy = KeysBy.MAC
    """On networks of private passphrases."""
    handshake: HandshakeIn = HandshakeIn()
    call_secret: str = ""
    """The word {secret} of its calls."""
