"""What a house may configure, and what the access devices of a dialect will ignore. Invalid names the field."""

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import replace
from ipaddress import IPv4Network
from typing import Protocol
from urllib.parse import urlsplit
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.dialect import Arrives, Call, Dialect, Honours, KeysBy, Move
from lauschen.core.config.role import Role
from lauschen.core.errors import Invalid
from lauschen.core.words.ip import Address, read_ip, read_range
from lauschen.core.words.template import POSTED_WORDS, check_template, uses_rate

SHORTEST_SECRET = 8
LONGEST_RULES = 3000
LONGEST_NAME = 253
"""Octets of one attribute (RFC 2865 section 5)."""
LARGEST_RANGE, LARGEST_RANGE6 = 16, 48
"""Shortest prefix of a range of access devices, of IPv4 and IPv6."""
IPV4 = 4
MOST = {
    "network": 200,
    "role": 200,
    "plan": 200,
    "dialect": 100,
    "access_device": 1000,
    "trusted": 2000,
    "host": 2000,
}
"""Of each that may be there: the house is read whole at each change, and shown whole."""
IDENTIFIERS = ("calling_station_id", "acct_session_id", "nas_ip_address", "framed_ip_address")
_HOST = re.compile(
    r"[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*", re.IGNORECASE
)
FRAMING = frozenset(
    (
        "host",
        "content-length",
        "transfer-encoding",
        "connection",
        "keep-alive",
        "te",
        "trailer",
        "upgrade",
        "expect",
    )
)
"""Headers that say where a request goes and where it ends."""
_TOKEN = re.compile(r"[!#$%&'*+.^_`|~0-9A-Za-z-]+")
_RULE = re.compile(
    r"(permit|deny) (in|out) (ip|tcp|udp|icmp|\d{1,3}) from (?P<src>\S+( [\d,-]+)?) to (?P<dst>\S+( [\d,-]+)?)( \S+)*"
)


def check_room(what: str, there: int) -> None:
    """Invalid when a house has as many of them as it may have."""
    if there >= MOST[what]:
        mend = f"{MOST[what]} are there, and more a house may not have. Remove what is not used any more."
        raise Invalid(f"{what}_many", field="name", mend=mend)


class Named(Protocol):
    """What stands in a list by its name."""

    @property
    def id(self) -> int: ...
    @property
    def name(self) -> str: ...


def check_name(what: str, name: str, own_id: int, there: Iterable[Named]) -> None:
    """Invalid when another one's name reads the same: case, blanks and compatible signs make no difference.

    Nor is one of blanks alone a name.
    """
    read = _as_read(name)
    if not read:
        raise Invalid(f"{what}_name_empty", field="name", mend="Give it a name.")
    same = next((one.name for one in there if one.id != own_id and _as_read(one.name) == read), None)
    if same is not None:
        raise Invalid(
            f"{what}_name_taken", field="name", mend=f"{same} is there already: choose another one."
        )


def _as_read(name: str) -> str:
    return " ".join(unicodedata.normalize("NFKC", name).casefold().split())


def check_access_device(device: AccessDevice) -> AccessDevice:
    """The device with its addresses in their one spelling.

    Invalid for an address that is none, a range that is too wide, or an exception that a range may not have."""
    try:
        address = _comes_from(device)
    except ValueError as exc:
        mend = "An IPv4 or IPv6 address, or a range such as 10.77.0.0/24."
        raise Invalid("address", field="address", mend=mend) from exc
    if device.coa_address is not None:
        try:
            goes_to = read_ip(device.coa_address)
        except ValueError as exc:
            raise Invalid("address", field="coa_address", mend="An IPv4 or IPv6 address.") from exc
        _check_goes_to(goes_to, device)
        device = replace(device, coa_address=str(goes_to))
    if device.hears_unsigned and device.is_range:
        raise Invalid(
            "unsigned", field="hears_unsigned", mend="Only for a single address, never for a range."
        )
    if not 1 <= device.coa_port <= 65535:
        raise Invalid("port", field="coa_port", mend="A port from 1 to 65535.")
    return replace(device, address=address)


def _comes_from(device: AccessDevice) -> str:
    found = read_range(device.address)
    largest = LARGEST_RANGE if found.version == IPV4 else LARGEST_RANGE6
    if device.is_range and found.prefixlen < largest:
        raise Invalid("range", field="address", mend=f"At most a /{largest}.")
    if found.version != IPV4 and found.is_link_local:
        mend = "A link-local address does not say on which interface. Use another one of the access device's."
        raise Invalid("link_local", field="address", mend=mend)
    return str(found) if device.is_range else str(found.network_address)


def _check_goes_to(address: Address, device: AccessDevice) -> None:
    """Invalid for an address for changes that no access device has; loopback only for one that asks from there."""
    is_here = address.is_loopback and not read_range(device.address).is_loopback
    if (
        is_here
        or address.is_multicast
        or (address.is_reserved and not address.is_loopback)
        or address.is_link_local
        or address.is_unspecified
    ):
        mend = f"{address}: no access device hears changes there."
        raise Invalid("coa_address", field="coa_address", mend=mend)


def check_page_url(url: str) -> None:
    """Invalid for an address that has no scheme, or anything after the host and its port."""
    _check_url(url, "page_url")
    parts = urlsplit(url)
    if parts.path or parts.query or parts.fragment or "@" in parts.netloc:
        mend = f"{url}: an address without a path, such as http://welcome.house.example"
        raise Invalid("page_url", field="page_url", mend=mend)


def check_host(host: str, field: str) -> str:
    """The host name as it is; Invalid when it is none."""
    if not _HOST.fullmatch(host) or len(host) > 253:
        raise Invalid("host", field=field, mend=f"{host}: a host name, such as slip.house.example")
    return host


def check_zone(zone: str) -> None:
    """Invalid for a time zone that nobody knows: a house with it could not be read again."""
    try:
        ZoneInfo(zone)
    except (ZoneInfoNotFoundError, ValueError, OSError) as exc:
        raise Invalid("zone", field="zone", mend=f"{zone}: no time zone; one such as Europe/Vienna") from exc


def check_secret(secret: str) -> None:
    if len(secret) < SHORTEST_SECRET:
        mend = f"At least {SHORTEST_SECRET} characters; 16 random ones are good."
        raise Invalid("secret_short", field="secret", mend=mend)


def check_role(role: Role) -> None:
    """Invalid for a VLAN that is none and for filter rules that an access device could not read (RFC 4849)."""
    if role.vlan is not None and not 1 <= role.vlan <= 4094:
        raise Invalid("vlan", field="vlan", mend="A VLAN from 1 to 4094.")
    if role.filter_name is not None and not 1 <= len(role.filter_name.encode()) <= LONGEST_NAME:
        mend = f"A name of 1 to {LONGEST_NAME} octets; letters outside ASCII take more than one."
        raise Invalid("filter_name", field="filter_name", mend=mend)
    for rule in role.filter_rules:
        found = _RULE.fullmatch(rule)
        if found is None or not rule.isascii() or not rule.isprintable():
            mend = "Such as: permit in ip from any to 10.77.0.0/24"
            raise Invalid("filter_rule", field="filter_rules", mend=mend)
        for side in ("src", "dst"):
            if not _is_place(found[side].split(" ")[0]):
                mend = f"{found[side]}: an address, a range, any or assigned; names cannot be sent."
                raise Invalid("filter_rule", field="filter_rules", mend=mend)
    if role.filter_rules and not re.search(r" from any to any$", role.filter_rules[-1]):
        mend = "End with a rule for everything else: deny in ip from any to any"
        raise Invalid("filter_rules_open", field="filter_rules", mend=mend)
    if sum(len(rule.encode()) + 1 for rule in role.filter_rules) > LONGEST_RULES:
        mend = f"At most {LONGEST_RULES} octets in all."
        raise Invalid("filter_rules_long", field="filter_rules", mend=mend)


def check_dialect(dialect: Dialect) -> None:
    """Invalid for a template with an unknown word, and for a way that lacks what it needs."""
    for one in dialect.attributes:
        check_template(one.template, "attributes")
        if not (1 <= one.number <= 255 and 1 <= one.enterprise < 1 << 24):
            mend = "An enterprise number and an attribute number from 1 to 255."
            raise Invalid("vendor_attribute", field="attributes", mend=mend)
    if dialect.keys_by is KeysBy.HANDSHAKE:
        asked = dialect.handshake
        if not (1 <= asked.nonce <= 255 and 1 <= asked.frame <= 255 and 1 <= asked.enterprise < 1 << 24):
            mend = "An enterprise number, and two attribute numbers from 1 to 255."
            raise Invalid("handshake", field="handshake", mend=mend)
        if asked.nonce == asked.frame:
            mend = "Nonce and frame come in different attributes."
            raise Invalid("handshake", field="handshake", mend=mend)
    if dialect.arrives is Arrives.APPENDED and not dialect.appended.mac:
        raise Invalid("appended", field="appended", mend="The name of the field that holds the MAC address.")
    if dialect.group_tag is not None and not 0 <= dialect.group_tag <= 31:
        raise Invalid("group_tag", field="group_tag", mend="A tag from 0 to 31, or none.")
    for name in dialect.identify:
        if name not in IDENTIFIERS:
            raise Invalid("identify", field="identify", mend=f"One of {', '.join(IDENTIFIERS)}.")
    if dialect.end_move is Move.POSTED:
        raise Invalid("end_move", field="end_move", mend="A guest's browser cannot end its own stay.")
    if dialect.login_move is Move.POSTED:
        _check_url(dialect.posted.url, "posted")
        for _, template in dialect.posted.others:
            check_template(template, "posted", POSTED_WORDS)
    for move, call, field in (
        (dialect.login_move, dialect.call_in, "call_in"),
        (dialect.end_move, dialect.call_out, "call_out"),
    ):
        if move is Move.CALLED:
            _check_call(call, field)


def ignored(role: Role, dialect: Dialect) -> list[str]:
    """Settings of a role that access devices of this dialect will ignore.

    `vlan`, `filter_name`, `filter_rules` or `rate`.
    """
    lost = []
    if role.vlan is not None and Honours.VLAN not in dialect.honours:
        lost.append("vlan")
    sends_rules = bool(role.filter_rules) and Honours.FILTER_RULES in dialect.honours
    if role.filter_name is not None and (Honours.FILTER_NAME not in dialect.honours or sends_rules):
        lost.append("filter_name")
    if role.filter_rules and not sends_rules:
        lost.append("filter_rules")
    if (role.down_bps or role.up_bps) and not sends_rates(dialect):
        lost.append("rate")
    return lost


def sends_rates(dialect: Dialect) -> bool:
    """Whether any attribute or call of it speaks of a rate."""
    templates = [one.template for one in dialect.attributes]
    if Move.CALLED in (dialect.login_move, dialect.end_move):
        templates += [dialect.call_in.url, dialect.call_in.body]
    return any(uses_rate(template) for template in templates)


def check_headers(call: Call, field: str) -> None:
    """Invalid for a header that is none, or that says where the request goes or ends: we say that ourselves.

    A second length would let the rest of the body be read as another request (RFC 9112 section 11.2).
    """
    for name, value in call.headers:
        if not _TOKEN.fullmatch(name) or any(
            (sign < " " and sign != "\t") or sign == "\x7f" for sign in value
        ):
            raise Invalid("header", field=field, mend=f"{name[:60]}: no header (RFC 9110 section 5.6.2).")
        if name.lower() in FRAMING:
            mend = f"{name}: the request's own headers are written by Lauschen. Take it away."
            raise Invalid("header", field=field, mend=mend)


def _check_call(call: Call, field: str) -> None:
    _check_url(call.url, field)
    check_headers(call, field)
    for template in (call.url, call.body, *(value for _, value in call.headers)):
        check_template(template, field)


def _check_url(url: str, field: str) -> None:
    """What can be seen without asking anybody; words in braces may stand in the host, too."""
    try:
        parts = urlsplit(url)
        _ = parts.port
    except ValueError as exc:
        raise Invalid("address", field=field, mend=f"The port is none: {exc}.") from exc
    if parts.scheme not in ("http", "https") or not parts.hostname:
        raise Invalid("address", field=field, mend="An address that begins with https:// or http://.")
    if "{" not in parts.netloc and ":" not in parts.hostname:
        try:
            parts.hostname.encode("idna")
        except UnicodeError as exc:
            mend = "A part of the host name is empty or longer than 63 letters."
            raise Invalid("address", field=field, mend=mend) from exc


def _is_place(text: str) -> bool:
    if text in ("any", "assigned"):
        return True
    try:
        IPv4Network(text)
    except ValueError:
        return False
    return True
