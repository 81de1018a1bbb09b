"""Bytes <-> packet: what is valid comes back the same, and nothing else gets through or raises anything else."""

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import BadPacket, Packet, encode, encode_attributes, parse

values = st.tuples(st.integers(1, 255).filter(lambda k: k != 80), st.binary(max_size=253))
packets = st.builds(
    Packet,
    st.integers(0, 255),
    st.integers(0, 255),
    st.binary(min_size=16, max_size=16),
    st.lists(values, max_size=15),
)


@given(packets)
def test_every_packet_comes_back_the_same(packet: Packet) -> None:
    read = parse(encode(packet))
    assert (read.code, read.id, read.authenticator, read.attributes) == (
        packet.code, packet.id, packet.authenticator, packet.attributes
    )  # fmt: skip
    assert encode(read) == encode(packet)


@given(st.binary(max_size=5000))
def test_random_octets_are_a_packet_or_bad_and_nothing_else(octets: bytes) -> None:
    with contextlib.suppress(BadPacket):
        parse(octets)


@given(packets, st.data())
def test_cut_and_bent_packets_are_a_packet_or_bad(packet: Packet, data: st.DataObject) -> None:
    octets = bytearray(encode(packet))
    octets[data.draw(st.integers(0, len(octets) - 1))] = data.draw(st.integers(0, 255))
    with contextlib.suppress(BadPacket):
        parse(bytes(octets[: data.draw(st.integers(0, len(octets)))]))


HEAD = bytes(16)


@pytest.mark.parametrize(
    ("octets", "reason"),
    [
        (b"", "truncated"),
        (b"\x01" * 19, "truncated"),
        (bytes((1, 0, 0, 24)) + HEAD, "truncated"),
        (bytes((1, 0, 0, 19)) + HEAD, "length_lies"),
        (bytes((1, 0, 0x20, 0)) + HEAD, "length_lies"),
        (bytes((1, 0, 0x10, 0)) + bytes(4093), "oversized"),
        (bytes((1, 0, 0, 22)) + HEAD + b"\x01\x00", "attribute_length"),
        (bytes((1, 0, 0, 22)) + HEAD + b"\x01\x01", "attribute_length"),
        (bytes((1, 0, 0, 22)) + HEAD + b"\x01\x03", "attribute_length"),
        (bytes((1, 0, 0, 21)) + HEAD + b"\x01", "attribute_length"),
        (bytes((1, 0, 0, 24)) + HEAD + b"\x50\x04ab", "message_authenticator"),
        (bytes((1, 0, 0, 56)) + HEAD + (b"\x50\x12" + bytes(16)) * 2, "message_authenticator"),
    ],
)
def test_bad_packets_say_why(octets: bytes, reason: str) -> None:
    with pytest.raises(BadPacket) as caught:
        parse(octets)
    assert caught.value.reason == reason


def test_padding_after_the_length_is_ignored() -> None:
    packet = parse(bytes((1, 7, 0, 23)) + HEAD + b"\x01\x03a" + b"padding")
    assert packet.attributes == [(1, b"a")]
    assert len(packet.octets) == 23


def test_an_integer_of_another_length_is_a_bad_packet() -> None:
    with pytest.raises(BadPacket):
        parse(bytes((1, 7, 0, 23)) + HEAD + b"\x06\x03a").integer(6)


def test_what_does_not_fit_is_our_fault() -> None:
    with pytest.raises(ValueError, match="at most 253"):
        encode_attributes([(1, bytes(254))])
    with pytest.raises(ValueError, match="at most 4096"):
        encode(Packet(1, 1, HEAD, [(1, bytes(253))] * 17))


def test_vendor_attributes_and_vlans() -> None:
    assert attributes.read_vendor(attributes.vendor(32473, 1, b"url")[2:]) == (32473, [(1, b"url")])
    assert attributes.read_vendor(b"\x00\x00\x7e\xd9\x01\x09url") is None
    assert attributes.read_vlan(attributes.vlan("310")[-4:]) == "310"
    assert attributes.read_vlan(b"310") == "310"
