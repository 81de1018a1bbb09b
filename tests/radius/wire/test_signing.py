"""Signatures hold for what was signed, and for nothing else."""

import contextlib
import hashlib
import hmac

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import BadPacket, parse
from lauschen.radius.wire.numbers import Code
from lauschen.radius.wire.signing import Secret

SECRET, OTHER = Secret(b"hollerau-stand-in-secret"), Secret(b"another-secret-altogether")
AUTHENTICATOR = bytes(range(16))


@given(st.binary(max_size=90), st.binary(max_size=200))
def test_hmac_is_the_one_of_the_library(key: bytes, text: bytes) -> None:
    assert Secret(key).hmac_md5(text[:7], text[7:]) == hmac.digest(key, text, hashlib.md5)


@given(st.binary(min_size=1, max_size=128).filter(lambda p: not p.endswith(b"\0")))
def test_a_hidden_password_is_revealed_under_the_same_secret(password: bytes) -> None:
    assert SECRET.reveal(SECRET.hide(password, AUTHENTICATOR), AUTHENTICATOR) == password
    assert OTHER.reveal(SECRET.hide(password, AUTHENTICATOR), AUTHENTICATOR) != password


@pytest.mark.parametrize("length", [0, 15, 17, 144])
def test_a_password_of_an_impossible_length_is_none(length: int) -> None:
    assert SECRET.reveal(bytes(length), AUTHENTICATOR) is None


def test_requests_are_known_by_their_signature() -> None:
    request = parse(SECRET.access_request(7, AUTHENTICATOR, attributes.text(1, "guest")))
    assert SECRET.is_signed(request)
    assert not OTHER.is_signed(request)
    report = parse(SECRET.accounting_request(8, attributes.integer(40, 1)))
    assert SECRET.is_accounting(report)
    assert not OTHER.is_accounting(report)


def test_a_reply_carries_its_signature_first() -> None:
    request = parse(SECRET.access_request(7, AUTHENTICATOR, b""))
    reply = parse(SECRET.reply(Code.ACCESS_ACCEPT, request, attributes.text(11, "visitor")))
    assert reply.attributes[0][0] == 80
    assert SECRET.is_reply_to(reply, AUTHENTICATOR)
    assert not OTHER.is_reply_to(reply, AUTHENTICATOR)
    assert not SECRET.is_reply_to(reply, bytes(16))


@given(st.integers(0, 61), st.integers(1, 255))
def test_any_flipped_octet_of_a_change_request_shows(place: int, flip: int) -> None:
    octets = bytearray(
        SECRET.change_request(Code.DISCONNECT_REQUEST, 9, attributes.text(44, "ABCDEF0123456789"))
    )
    assert SECRET.is_change_request(parse(bytes(octets)))
    place %= len(octets)
    octets[place] ^= flip
    with contextlib.suppress(BadPacket):
        assert not SECRET.is_change_request(parse(bytes(octets)))
