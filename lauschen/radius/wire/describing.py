"""Attributes in words, for people: what a recorded packet says, with every secret already blanked."""

from collections.abc import Callable
from dataclasses import dataclass
from ipaddress import IPv4Address, IPv6Address

from lauschen.core.words.codes import LENGTH, LONGEST, SHORTEST, Typo, read_code
from lauschen.core.words.text import visible
from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import Attribute, Packet
from lauschen.radius.wire.dictionary import ATTRIBUTES, SECRET_KINDS, SECRET_VENDOR_KINDS, Form, Known
from lauschen.radius.wire.numbers import Kind

_UNKNOWN = Known("", Form.OCTETS)
LIKE_A_CODE = b"(not kept: it reads like a code)"
NEAR = 2
"""So many signs more or less than a code has are still nearly one."""


@dataclass(frozen=True, slots=True)
class Line:
    """One attribute as people read it."""

    number: int
    name: str
    words: str
    octets: str
    """The value as hex digits in pairs; empty for a secret."""


def blank(received: list[Attribute]) -> list[Attribute]:
    """The attributes without what must not be kept.

    Passwords, CHAP values, Tunnel-Password, EAP, State; the same inside of vendor attributes (RFC 2548); and a name
    that reads like a code, for people type codes there too.
    """
    return [(kind, _blanked(kind, value)) for kind, value in received]


def _blanked(kind: int, value: bytes) -> bytes:
    if kind in SECRET_KINDS:
        return b""
    if kind == Kind.USER_NAME and _may_be_a_code(value):
        return LIKE_A_CODE
    if kind == Kind.VENDOR_SPECIFIC and int.from_bytes(value[:4], "big") in SECRET_VENDOR_KINDS:
        return _blanked_vendor(value)
    return value


def _blanked_vendor(value: bytes) -> bytes:
    """Of what cannot be taken apart nothing is kept but whose it is."""
    read = attributes.read_vendor(value)
    if read is None:
        return value[:4]
    enterprise, subs = read
    secret = SECRET_VENDOR_KINDS[enterprise]
    kept = [(number, b"" if number in secret else sub) for number, sub in subs]
    return attributes.vendor_many(enterprise, kept)[2:]


def _may_be_a_code(name: bytes) -> bool:
    """Also one with a typing error, or with a sign too many or too few."""
    text = name.decode("utf-8", "replace")
    typed = read_code(text)
    if not isinstance(typed, Typo) or typed is Typo.CHECK:
        return True
    # Of other lengths those alone whose check holds, and that have a digit: names are more often so long.
    if not isinstance(read_code(text, range(SHORTEST, LONGEST + 1)), Typo):
        return any(sign.isdigit() for sign in text)
    signs = [sign for sign in text if sign.isalnum()]
    is_near = typed in (Typo.TOO_SHORT, Typo.TOO_LONG) and abs(len(signs) - LENGTH) <= NEAR
    return is_near and any(sign.isdigit() for sign in signs)


def lines(packet: Packet) -> list[Line]:
    """Every attribute in its order; `packet` was blanked before it was kept."""
    return [_line(kind, value) for kind, value in packet.attributes]


def _line(kind: int, value: bytes) -> Line:
    known = ATTRIBUTES.get(kind, _UNKNOWN)
    name = known.name or f"Attribute {kind}"
    if known.is_secret:
        return Line(kind, name, "not kept", "")
    return Line(kind, name, words_of(known, value), value.hex(" "))


def words_of(known: Known, value: bytes) -> str:
    """The value in words; hex digits where the octets are not what the number promises."""
    words = _READERS[known.form](value)
    if words is None:
        return value.hex(" ") or "empty"
    if known.values and words.isdigit() and int(words) in known.values:
        return f"{known.values[int(words)]} ({words})"
    return words


def _text(value: bytes) -> str | None:
    try:
        return visible(value.decode())
    except UnicodeDecodeError:
        return None


def _number(octets: int) -> Callable[[bytes], str | None]:
    return lambda value: str(int.from_bytes(value, "big")) if len(value) == octets else None


def _address(value: bytes) -> str | None:
    return str(IPv4Address(value)) if len(value) == 4 else None


def _address6(value: bytes) -> str | None:
    return str(IPv6Address(value)) if len(value) == 16 else None


def _time(value: bytes) -> str | None:
    at = attributes.read_time(value)
    return f"{at:%Y-%m-%d %H:%M:%S} UTC" if at is not None else None


def _tagged_number(value: bytes) -> str | None:
    return str(int.from_bytes(value[1:], "big")) if len(value) == 4 else None


def _tagged_text(value: bytes) -> str | None:
    return _text(attributes.read_tag(value)[1])


def _vendor(value: bytes) -> str | None:
    read = attributes.read_vendor(value)
    if read is None:
        return None
    enterprise, subs = read
    parts = [f"{number} = {_printable(sub) or sub.hex(' ') or 'not kept'}" for number, sub in subs]
    return f"enterprise {enterprise}: " + "; ".join(parts)


def _printable(value: bytes) -> str | None:
    words = _text(value)
    return words if words is not None and words.isprintable() and words else None


def _hex(value: bytes) -> str | None:
    return value.hex(" ") if value else None


_READERS: dict[Form, Callable[[bytes], str | None]] = {
    Form.TEXT: _text,
    Form.OCTETS: _hex,
    Form.INTEGER: _number(4),
    Form.INTEGER64: _number(8),
    Form.ADDRESS: _address,
    Form.ADDRESS6: _address6,
    Form.PREFIX6: attributes.read_prefix6,
    Form.INTERFACE6: attributes.read_interface6,
    Form.TIME: _time,
    Form.TAGGED_INTEGER: _tagged_number,
    Form.TAGGED_TEXT: _tagged_text,
    Form.SALTED: _hex,
    Form.VENDOR: _vendor,
    Form.JOINED: _text,
    Form.EXTENDED: _hex,
}
