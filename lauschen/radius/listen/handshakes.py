"""The handshake in a request of an access point that passes it on, in the attributes that its dialect names."""

from lauschen.core.config.dialect import HandshakeIn
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.passphrases.eapol import NONCE_LENGTH, read_key_frame
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.ways.passphrase import Signed
from lauschen.core.words.mac import read_mac
from lauschen.radius.wire.attributes import read_vendor
from lauschen.radius.wire.codec import Packet
from lauschen.radius.wire.numbers import Kind


def hear_handshake(arrival: Arrival, packet: Packet, where: HandshakeIn, bssid: str) -> None:
    """What the request offers, if it carries a handshake; refused when that is none."""
    nonce, frame = _parts(packet, where)
    if not nonce and not frame:
        return
    access_point = read_mac(bssid)
    try:
        if len(nonce) != NONCE_LENGTH or access_point is None or arrival.ssid is None:
            raise Invalid("handshake", field="handshake", mend="")
        read = read_key_frame(frame)
    except Invalid:
        arrival.refusal = Reason.HANDSHAKE_BROKEN
        return
    shake = Handshake(access_point, arrival.mac, arrival.ssid, nonce, read)
    arrival.offer = Signed(shake, arrival.access_device)


def _parts(packet: Packet, where: HandshakeIn) -> tuple[bytes, bytes]:
    """Nonce and frame, each joined from the attributes that it was split over; empty where there is none."""
    nonce = frame = b""
    for value in packet.all(Kind.VENDOR_SPECIFIC):
        read = read_vendor(value)
        if read is None or read[0] != where.enterprise:
            continue
        for number, octets in read[1]:
            if number == where.nonce:
                nonce += octets
            elif number == where.frame:
                frame += octets
    return nonce, frame
