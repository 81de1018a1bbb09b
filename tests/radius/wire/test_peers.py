"""Two independent libraries read what we write, and we read what they write, over every form of attribute."""

import io
from typing import Any

import pytest
from pyrad.dictionary import Dictionary
from pyrad.packet import AuthPacket
from pyrad.packet import Packet as PeerPacket
from scapy.layers.radius import Radius

from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.describing import words_of
from lauschen.radius.wire.dictionary import ATTRIBUTES, Form, Known
from lauschen.radius.wire.signing import Secret

SECRET = b"hollerau-stand-in-secret"
AUTHENTICATOR = bytes(range(16))
OURS = Secret(SECRET)

# Form -> the peer's word for it, a value in its terms, ours as octets, and the words that people read.
CASES: dict[Form, tuple[str, Any, Any, str]] = {
    Form.TEXT: ("string", "Höfl", lambda n: attributes.text(n, "Höfl"), "Höfl"),
    Form.OCTETS: ("octets", b"\x01\xff", lambda n: attributes.octets(n, b"\x01\xff"), "01 ff"),
    Form.INTEGER: ("integer", 90_001, lambda n: attributes.integer(n, 90_001), "90001"),
    Form.INTEGER64: ("integer64", 1 << 40, lambda n: attributes.integer64(n, 1 << 40), str(1 << 40)),
    Form.ADDRESS: ("ipaddr", "10.77.0.11", lambda n: attributes.address(n, "10.77.0.11"), "10.77.0.11"),
    Form.ADDRESS6: ("ipv6addr", "fd77::11", lambda n: attributes.address6(n, "fd77::11"), "fd77::11"),
    Form.PREFIX6: ("ipv6prefix", "fd77:1::/60", lambda n: attributes.prefix6(n, "fd77:1::/60"), "fd77:1::/60"),
    Form.INTERFACE6: (
        "ifid", "1200:77ff:fe00:1011", lambda n: attributes.interface6(n, "1200:77ff:fe00:1011"),
        "1200:77ff:fe00:1011",
    ),
    Form.TIME: ("date", 1_780_000_000, lambda n: attributes.time(n, 1_780_000_000.9), "2026-05-28 20:26:40 UTC"),
    Form.TAGGED_INTEGER: ("integer has_tag", 310, lambda n: attributes.tagged_integer(n, 310, 3), "310"),
    Form.TAGGED_TEXT: ("string has_tag", "310", lambda n: attributes.tagged_text(n, "310", 3), "310"),
}  # fmt: skip
EVERY_PLAIN = [(n, k) for n, k in ATTRIBUTES.items() if k.form in CASES and n not in (2, 3, 80)]


def peer(number: int, known: Known) -> Dictionary:
    word = CASES[known.form][0] if known.form in CASES else "octets"
    return Dictionary(io.StringIO(f"ATTRIBUTE {known.name} {number} {word}\n"))


def name_for_peer(known: Known) -> str:
    return f"{known.name}:3" if "has_tag" in CASES[known.form][0] else known.name


@pytest.mark.parametrize(("number", "known"), EVERY_PLAIN, ids=lambda x: getattr(x, "name", x))
def test_pyrad_and_we_write_the_same_octets(number: int, known: Known) -> None:
    _, value, ours, _ = CASES[known.form]
    theirs = PeerPacket(code=4, id=1, secret=SECRET, authenticator=bytes(16), dict=peer(number, known))
    theirs.AddAttribute(name_for_peer(known), value)
    written = theirs._PktEncodeAttributes()
    if known.form is Form.PREFIX6:  # the peer pads the prefix to 16 octets, which RFC 3162 section 2.3 allows
        assert attributes.read_prefix6(written[2:]) == attributes.read_prefix6(ours(number)[2:])
    else:
        assert written == ours(number)


@pytest.mark.parametrize(("number", "known"), EVERY_PLAIN, ids=lambda x: getattr(x, "name", x))
def test_pyrad_and_scapy_read_what_we_write(number: int, known: Known) -> None:
    _, value, ours, words = CASES[known.form]
    sent = OURS.access_request(7, AUTHENTICATOR, ours(number))
    theirs = AuthPacket(packet=sent, secret=SECRET, dict=peer(number, known))
    assert theirs[name_for_peer(known)] == [value]
    (ours_again,) = parse(sent).all(number)
    assert [bytes(a.value) if isinstance(a.value, bytes) else bytes(a)[2:] for a in Radius(sent).attributes
            if a.type == number] == [ours_again]  # fmt: skip
    read = words_of(known, ours_again)
    assert read == words or read.endswith(f"({words})")


def test_a_tunnel_password_is_read_by_the_peer_and_by_us() -> None:
    definition = Dictionary(io.StringIO("ATTRIBUTE Tunnel-Password 69 string has_tag,encrypt=2\n"))
    for length in (8, 15, 16, 31, 63):
        passphrase = ("plum and pine " * 5)[:length]
        hidden = OURS.salt_hide(passphrase.encode(), AUTHENTICATOR, b"\x9a\x01")
        theirs = PeerPacket(secret=SECRET, authenticator=AUTHENTICATOR, dict=definition)
        assert theirs.SaltDecrypt(hidden).rstrip(b"\0") == passphrase.encode()
        assert OURS.salt_reveal(theirs.SaltCrypt(passphrase.encode()), AUTHENTICATOR) == passphrase.encode()


def test_a_salted_value_under_another_secret_is_not_the_same() -> None:
    hidden = OURS.salt_hide(b"guest-pass-one", AUTHENTICATOR, b"\x80\x00")
    assert Secret(b"another").salt_reveal(hidden, AUTHENTICATOR) != b"guest-pass-one"
    assert OURS.salt_reveal(hidden[:9], AUTHENTICATOR) is None
    with pytest.raises(ValueError, match="top bit"):
        OURS.salt_hide(b"x", AUTHENTICATOR, b"\x01\x00")
    with pytest.raises(ValueError, match="at most 239"):
        OURS.salt_hide(bytes(240), AUTHENTICATOR, b"\x80\x00")


def test_several_sub_attributes_in_one_vendor_attribute() -> None:
    definition = Dictionary(
        io.StringIO(
            "VENDOR Documentation 32473\nBEGIN-VENDOR Documentation\n"
            "ATTRIBUTE Page 1 string\nATTRIBUTE Rate 2 integer\nEND-VENDOR Documentation\n"
        )
    )
    ours = attributes.vendor_many(32473, [(1, b"http://page"), (2, (2000).to_bytes(4, "big"))])
    sent = OURS.access_request(7, AUTHENTICATOR, ours)
    theirs = AuthPacket(packet=sent, secret=SECRET, dict=definition)
    assert theirs["Page"] == ["http://page"]
    assert theirs["Rate"] == [2000]
    scapys = next(a for a in Radius(sent).attributes if a.type == 26)
    assert scapys.vendor_id == 32473
    (value,) = parse(sent).all(26)
    assert attributes.read_vendor(value) == (32473, [(1, b"http://page"), (2, b"\x00\x00\x07\xd0")])
    back = AuthPacket(code=1, secret=SECRET, authenticator=AUTHENTICATOR, dict=definition)
    back["Page"] = "http://page"
    read = attributes.read_vendor(parse(back.RequestPacket()).all(26)[0])
    assert read == (32473, [(1, b"http://page")])


@pytest.mark.parametrize("form", [f for f in Form if f not in CASES])
def test_every_other_form_is_kept_whole_by_both_peers(form: Form) -> None:
    """Salted and vendor values have tests of their own above; here: nothing of them is lost."""
    number = next(n for n, known in ATTRIBUTES.items() if known.form is form)
    value = b"\x80\x01\x00\x00\x01\x05abc" if form is not Form.VENDOR else b"\x00\x00\x7e\xd9odd"
    sent = OURS.access_request(7, AUTHENTICATOR, attributes.octets(number, value))
    assert parse(sent).all(number) == [value]
    assert bytes(next(a for a in Radius(sent).attributes if a.type == number))[2:] == value
    name = ATTRIBUTES[number].name
    definition = Dictionary(io.StringIO(f"ATTRIBUTE {name} {number} octets\n"))
    assert AuthPacket(packet=sent, secret=SECRET, dict=definition)[name] == [value]
