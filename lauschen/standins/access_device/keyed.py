"""A stand-in access point of a Wi-Fi with private passphrases: it shakes hands with its phones, in all three ways."""

import os
from collections.abc import Callable
from pathlib import Path

from lauschen.core.config.dialect import HandshakeIn, KeysBy
from lauschen.core.ids import Mac
from lauschen.core.passphrases.derive import pmk_of
from lauschen.core.passphrases.eapol import read_key_frame
from lauschen.core.passphrases.handshake import Handshake, kck_of, mic_of
from lauschen.core.passphrases.keyfile import read_key_file
from lauschen.core.words.mac import read_mac
from lauschen.radius.wire import attributes
from lauschen.radius.wire.attributes import read_tag
from lauschen.radius.wire.codec import Packet
from lauschen.radius.wire.numbers import Code, Kind
from lauschen.standins.access_device.device import AccessPoint, Phone
from lauschen.standins.access_device.session import Placement, read_placement

_HEADER = bytes((1, 3, 0, 117, 2, 1, 0x0A, 0, 0))
"""Of a second message: EAPOL-Key, RSN, pairwise, with MIC, descriptor version 2."""
_RSN = bytes.fromhex("30140100000fac040100000fac040100000fac020000")
LONGEST_PART = 200


class KeyedAccessPoint(AccessPoint):
    """`passphrases` of its phones are what was typed into them."""

    def __init__(
        self,
        *,
        keys_by: KeysBy,
        where: HandshakeIn | None = None,
        file: Path | None = None,
        bssid: str,
        ssid: str,
        **more: object,
    ) -> None:
        super().__init__(bssid=bssid, ssid=ssid, **more)  # type: ignore[arg-type]
        self.keys_by = keys_by
        self.passphrases: dict[Mac, str] = {}
        self._where = where or HandshakeIn()
        self._file = file
        self._ssid = ssid.encode()
        read = read_mac(bssid)
        assert read is not None
        self._bssid = read
        self._pmks: dict[str, bytes] = {}

    async def _placement_of(self, phone: Phone, session_id: str) -> Placement | None:
        now = self._clock.monotonic()
        if phone.last_placement is not None and now - phone.asked_at < self.habits.remembers_s:
            return phone.last_placement
        if self.keys_by is KeysBy.FILE:
            return self._look_up(phone)
        authenticator, body = os.urandom(16), self._request(phone, session_id)
        if self.keys_by is KeysBy.HANDSHAKE:
            body += self._passed_on(phone)
        accept = await self.radio.ask(body, authenticator)
        if accept is None or accept.code != Code.ACCESS_ACCEPT:
            return None
        if self.passphrases.get(phone.mac) not in self.told(accept, authenticator):
            return None  # none of these signs what the phone signed
        phone.asked_at = now
        phone.last_placement = read_placement(accept)
        return phone.last_placement

    def told(self, accept: Packet, authenticator: bytes) -> list[str]:
        """The passphrases of an Accept, in their order."""
        hidden = [read_tag(value)[1] for value in accept.all(Kind.TUNNEL_PASSWORD)]
        plain = [self.radio.salt_reveal(value, authenticator) for value in hidden]
        return [text.decode() for text in plain if text is not None]

    def _look_up(self, phone: Phone) -> Placement | None:
        assert self._file is not None
        for line in read_key_file(self._file.read_text()):
            if line.passphrase == self.passphrases.get(phone.mac) and line.mac in (None, phone.mac):
                return Placement(vlan=None if line.vlan is None else str(line.vlan), filter_name="resident")
        return None

    def _passed_on(self, phone: Phone) -> bytes:
        """Its own nonce, and the second message of the handshake that the phone answers it with."""
        nonce = os.urandom(32)
        frame = self.second_message(phone, nonce)
        parts = [frame[at : at + LONGEST_PART] for at in range(0, len(frame), LONGEST_PART)]
        vendor, where = attributes.vendor, self._where
        return vendor(where.enterprise, where.nonce, nonce) + b"".join(
            vendor(where.enterprise, where.frame, part) for part in parts
        )

    def second_message(
        self, phone: Phone, nonce: bytes, chance: Callable[[int], bytes] = os.urandom
    ) -> bytes:
        """Signed with the passphrase that was typed into the phone (IEEE 802.11-2020, 12.7.6.3)."""
        text = self.passphrases.get(phone.mac, "none was ever typed")
        pmk = self._pmks.setdefault(text, pmk_of(text, self._ssid))
        key_length_and_replay = bytes(7) + b"\1"
        body = _HEADER + key_length_and_replay + chance(32) + bytes(32)
        unsigned = body + bytes(16) + len(_RSN).to_bytes(2, "big") + _RSN
        unsigned = unsigned[:2] + (len(unsigned) - 4).to_bytes(2, "big") + unsigned[4:]
        shake = Handshake(self._bssid, phone.mac, self._ssid, nonce, read_key_frame(unsigned))
        mic = mic_of(kck_of(pmk, shake), shake.frame)
        return unsigned[:81] + mic + unsigned[97:]
