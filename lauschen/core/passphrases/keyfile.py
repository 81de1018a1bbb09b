"""Private passphrases as a hostapd file (`wpa_psk_file`): a line for each, with id and VLAN, and its device, if any.

Lines are `keyid=<id> vlanid=<vlan> <MAC> <passphrase>`; the MAC of nobody in particular is `00:00:00:00:00:00`.
"""

from collections.abc import Iterable
from dataclasses import dataclass

from lauschen.core.ids import Mac
from lauschen.core.words.mac import read_mac

_ANYBODY = "00:00:00:00:00:00"
_HEAD = "# Written by Lauschen: whatever is changed here is lost with the next change there.\n"


@dataclass(frozen=True, slots=True)
class KeyLine:
    """One passphrase."""

    key: int
    passphrase: str
    vlan: int | None
    mac: Mac | None = None
    """Whose device alone it is; None: anybody's."""


def write_key_file(lines: Iterable[KeyLine]) -> str:
    """The whole text."""
    return _HEAD + "".join(_line(one) for one in lines)


def read_key_file(text: str) -> list[KeyLine]:
    """The lines that an access point would take."""
    found = []
    for line in text.splitlines():
        if line.startswith("#") or not line.strip():
            continue
        vlan: int | None = None
        key = 0
        while True:
            word, _, rest = line.partition(" ")
            if word.startswith("vlanid="):
                vlan = int(word[7:])
            elif word.startswith("keyid="):
                key = int(word[6:])
            else:
                break
            line = rest
        mac, _, passphrase = line.partition(" ")
        found.append(KeyLine(key, passphrase, vlan, None if mac == _ANYBODY else read_mac(mac)))
    return found


def _line(one: KeyLine) -> str:
    vlan = "" if one.vlan is None else f"vlanid={one.vlan} "
    mac = _ANYBODY if one.mac is None else ":".join(f"{octet:02x}" for octet in one.mac.to_bytes(6, "big"))
    return f"keyid={one.key} {vlan}{mac} {one.passphrase}\n"
