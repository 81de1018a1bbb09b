"""hostapd's control interface: a datagram for each question, on a Unix socket in the folder that it was told."""

import asyncio
import os
import socket
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from pathlib import Path

from lauschen.core.errors import Unavailable
from lauschen.core.ids import KeyId, Mac
from lauschen.core.words.mac import read_mac

ANSWERS_S = 2.0
LARGEST = 8192
MOST_STATIONS = 2007
"""Association ids of one access point (IEEE 802.11-2020, 9.4.1.8)."""


@dataclass(frozen=True, slots=True)
class Station:
    """A device that is associated, with the id of the passphrase that it joined with."""

    mac: Mac
    key: KeyId | None
    """None: by one that is not in the file any more, or while it shakes hands."""


class Control:
    """One interface. Each question raises Unavailable when nobody answers it."""

    def __init__(self, path: Path, sock: socket.socket) -> None:
        self._path = path
        self._sock = sock

    async def ask(self, question: str) -> str:
        loop = asyncio.get_running_loop()
        try:
            async with asyncio.timeout(ANSWERS_S):
                await loop.sock_sendall(self._sock, question.encode())
                answer = await loop.sock_recv(self._sock, LARGEST)
        except (OSError, TimeoutError) as exc:
            raise Unavailable(
                "hostapd", meanwhile=f"{self._path} does not answer: {exc or 'silence'}."
            ) from exc
        return answer.decode("utf-8", "replace").strip()

    async def reload_passphrases(self) -> None:
        """It reads its file again; whoever is in stays in."""
        answer = await self.ask("RELOAD_WPA_PSK")
        if answer != "OK":
            raise Unavailable(
                "hostapd", meanwhile=f"It does not read its file of passphrases: {answer[:60]}."
            )

    async def stations(self) -> list[Station]:
        """Those that are authorised."""
        found: list[Station] = []
        answer = await self.ask("STA-FIRST")
        while answer and answer != "FAIL" and len(found) < MOST_STATIONS:
            first, *lines = answer.splitlines()
            mac = read_mac(first)
            if mac is None:
                break
            facts = dict(line.partition("=")[::2] for line in lines if "=" in line)
            if "[AUTHORIZED]" in facts.get("flags", ""):
                key = facts.get("keyid", "")
                is_ours = key.isascii() and key.isdecimal() and len(key) < 16
                found.append(Station(mac, KeyId(int(key)) if is_ours else None))
            answer = await self.ask(f"STA-NEXT {first}")
        return found

    async def throw_off(self, mac: Mac) -> None:
        octets = mac.to_bytes(6, "big")
        await self.ask(f"DEAUTHENTICATE {octets.hex(':')}")


@asynccontextmanager
async def opened(path: Path) -> AsyncIterator[Control]:
    """Its own end needs a name, or nothing could be answered."""
    own = Path(tempfile.gettempdir()) / f"lauschen-{os.getpid()}-{os.urandom(6).hex()}"
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as sock:
        sock.setblocking(False)
        try:
            sock.bind(str(own))
            sock.connect(str(path))
        except OSError as exc:
            own.unlink(missing_ok=True)
            raise Unavailable("hostapd", meanwhile=f"{path} is not there: {exc.strerror}.") from exc
        try:
            yield Control(path, sock)
        finally:
            own.unlink(missing_ok=True)
