"""A stand-in for hostapd's control interface: it reads a file of passphrases when told, and knows who is there."""

import asyncio
import socket
from pathlib import Path

from lauschen.core.ids import Mac
from lauschen.core.passphrases.keyfile import KeyLine, read_key_file
from lauschen.core.words.mac import read_mac

LARGEST = 4096


class FakeHostapd:
    """Listens at once, on the running loop."""

    def __init__(self, path: Path, file: Path) -> None:
        self.path = path
        self._file = file
        self._lines: list[KeyLine] = []
        self.stations: dict[Mac, str | None] = {}
        """Those that are associated, each with the id of its passphrase as it says it."""
        self.shaking: set[Mac] = set()
        """Of them, those that are not authorised yet."""
        self.reloads = 0
        self.thrown: list[Mac] = []
        """Whom it was told to put off, whether they were there or not."""
        self.refuses = False
        """It answers FAIL when it is to read its file."""
        self._sock = socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM)
        self._sock.setblocking(False)
        self._sock.bind(str(path))
        asyncio.get_running_loop().add_reader(self._sock.fileno(), self._hear)

    def close(self) -> None:
        asyncio.get_running_loop().remove_reader(self._sock.fileno())
        self._sock.close()
        self.path.unlink()

    def join(self, mac: Mac, passphrase: str) -> bool:
        """A device shakes hands; False when its passphrase is not in the file that was read."""
        found = next(
            (one for one in self._lines if one.passphrase == passphrase and one.mac in (None, mac)), None
        )
        if found is None:
            return False
        self.stations[mac] = str(found.key)
        return True

    def _hear(self) -> None:
        question, asker = self._sock.recvfrom(LARGEST)
        self._sock.sendto(self._answer(question.decode()).encode(), asker)

    def _answer(self, question: str) -> str:
        what, _, about = question.partition(" ")
        macs = sorted(self.stations)
        match what:
            case "PING":
                return "PONG\n"
            case "RELOAD_WPA_PSK" if not self.refuses:
                self.reloads += 1
                self._lines = read_key_file(self._file.read_text())
                return "OK\n"
            case "STA-FIRST":
                return self._facts(macs[0]) if macs else ""
            case "STA-NEXT":
                after = [mac for mac in macs if mac > (read_mac(about) or 0)]
                return self._facts(after[0]) if after else ""
            case "DEAUTHENTICATE":
                mac = read_mac(about)
                if mac is None:
                    return "FAIL\n"
                self.stations.pop(mac, None)
                self.thrown.append(mac)
                return "OK\n"
        return "FAIL\n"

    def _facts(self, mac: Mac) -> str:
        key = self.stations[mac]
        keyid = "" if key is None else f"keyid={key}\n"
        spelled = mac.to_bytes(6, "big").hex(":")
        authorised = "" if mac in self.shaking else "[AUTHORIZED]"
        return f"{spelled}\nflags=[AUTH][ASSOC]{authorised}\naid=1\n{keyid}connected_time=4\n"
