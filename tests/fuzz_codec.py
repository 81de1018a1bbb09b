"""`make fuzz`: coverage-guided fuzzing of the codec and of what reads its packets, for a minute.

Whatever the octets: a packet that is written the same, or BadPacket; and nothing that reads it raises anything else.
"""

import contextlib
import sys

import atheris

with atheris.instrument_imports():
    from lauschen.core.ids import AccessDeviceId
    from lauschen.radius.listen.reading import read_access_request, read_report
    from lauschen.radius.wire.codec import BadPacket, encode, parse
    from lauschen.radius.wire.describing import blank, words_of
    from lauschen.radius.wire.dictionary import ATTRIBUTES
    from lauschen.radius.wire.signing import Secret

SECRET = Secret(b"hollerau-stand-in-secret")


def one(octets: bytes) -> None:
    try:
        packet = parse(octets)
    except BadPacket:
        return
    assert encode(packet) == packet.octets
    for number, value in blank(packet.attributes):
        if number in ATTRIBUTES:
            words_of(ATTRIBUTES[number], value)
    with contextlib.suppress(BadPacket):
        read_access_request(packet, SECRET, AccessDeviceId(1), "127.77.0.11", "shared")
    with contextlib.suppress(BadPacket):
        read_report(packet, AccessDeviceId(1), "127.77.0.11")
    SECRET.is_accounting(packet)
    if packet.signed_at:
        SECRET.is_signed(packet)


if __name__ == "__main__":
    atheris.Setup(sys.argv, one)
    atheris.Fuzz()
