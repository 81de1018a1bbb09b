"""What is kept of packets for people to look at holds nothing that opens a door."""

import pytest

from lauschen.core.words.codes import group_code, make_code
from lauschen.radius.listen.recording import Recorder
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.describing import lines
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.radius.wire.signing import Secret

SECRET = Secret(b"hollerau-stand-in-secret")
PROOF = b"\x07" * 30
ENTERPRISE = 311


def kept(body: bytes) -> list[str]:
    """An answered request as it is shown; its octets too."""
    recorder = Recorder()
    request = parse(SECRET.access_request(1, bytes(16), body))
    recorder.answered("10.0.0.1", request, SECRET.reply(Code.ACCESS_REJECT, request, b""), 1.0, 1.0)
    (one,) = recorder.of("10.0.0.1")
    assert one.packet is not None
    assert one.packet.octets == b""
    return [f"{line.words} {line.octets}" for line in lines(one.packet)]


@pytest.mark.parametrize("number", [1, 11, 25])
def test_a_challenge_and_its_proof_inside_of_vendor_attributes_are_not_kept(number: int) -> None:
    shown = kept(a.vendor_many(ENTERPRISE, [(number, PROOF), (9, b"plain")]))
    assert PROOF.hex(" ") not in " ".join(shown)
    assert f"{number} = not kept; 9 = plain" in shown[-1]


def test_of_a_vendor_attribute_that_cannot_be_taken_apart_nothing_is_kept_but_whose_it_is() -> None:
    odd = a.octets(Kind.VENDOR_SPECIFIC, ENTERPRISE.to_bytes(4, "big") + b"\x19\xff" + PROOF)
    assert "07" not in kept(odd)[-1].split()[1:]
    assert PROOF.hex(" ") not in kept(odd)[-1]


def test_other_vendors_attributes_are_kept_as_they_came() -> None:
    assert "1 = hello" in kept(a.vendor(32473, 1, b"hello"))[-1]


CODE = make_code(123_456_789)


@pytest.mark.parametrize(
    "typed",
    [CODE, CODE.lower(), group_code(CODE), CODE[:-1] + "X", CODE[:-1], CODE + "2", CODE[:8], f" {CODE} "],
)
def test_a_code_that_was_typed_as_name_is_not_kept_even_with_a_slip_in_it(typed: str) -> None:
    shown = " ".join(kept(a.text(Kind.USER_NAME, typed)))
    assert typed.strip() not in shown
    assert "reads like a code" in shown


@pytest.mark.parametrize(
    "name", ["mirela", "020000aabb01", "visit-0011223344556677", "anna.k@hollerau.example"]
)
def test_names_are_kept(name: str) -> None:
    assert name in " ".join(kept(a.text(Kind.USER_NAME, name)))
