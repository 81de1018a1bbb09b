"""A real access point (hostapd) and real clients (wpa_supplicant) on simulated radios, in an emulated machine.

No radio and no outside network is needed; the machine reaches only this one's loopback, by UDP.
"""

import queue
import re
import subprocess
import threading
import time
from pathlib import Path

BOOT_S = 240.0
PATIENCE_S = 60.0


def _hex(text: str) -> str:
    return text.encode().hex()


class Bed:
    """One booted machine. Lines that it says are kept in order; commands are carried out one after another."""

    def __init__(
        self,
        built: Path,
        *,
        ssid: str,
        secret: str,
        auth: int,
        acct: int,
        changes: int,
        log: Path,
        mode: str = "open",
    ) -> None:
        """`mode`: `open`; `psk`, with passphrases that it is told for each device; `file`, with those of a file."""
        kernel_words = {
            "ssid": _hex(ssid), "mode": mode, "secret": _hex(secret), "auth": auth, "acct": acct,
            "nas": _hex("hwsim-ap"), "interim": 0, "dynvlan": 1, "radios": 3, "extra": "",
        }  # fmt: skip
        # Emulated throughout: a machine may offer hardware help that hangs when it is nested.
        words = " ".join(f"wifi.{name}={value}" for name, value in kernel_words.items())
        self._process = subprocess.Popen(
            [
                "qemu-system-x86_64", "-M", "pc", "-accel", "tcg", "-cpu", "max,la57=off",
                "-smp", "1", "-m", "512", "-nodefaults", "-no-user-config", "-display", "none", "-no-reboot",
                "-kernel", str(built / "vmlinux"), "-initrd", str(built / "initramfs.cpio"),
                "-append", "console=ttyS0 quiet panic=-1 tsc=reliable no_timer_check random.trust_cpu=on"
                f" mitigations=off {words}",
                "-netdev", f"user,id=n0,hostfwd=udp:127.0.0.1:{changes}-10.0.2.15:3799",
                "-device", "e1000,netdev=n0,romfile=", "-serial", f"file:{log}", "-serial", "stdio",
            ],
            stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        self._lines: queue.Queue[str] = queue.Queue()
        self._turn = threading.RLock()
        self._reader = threading.Thread(target=self._read, daemon=True)
        self._reader.start()
        self.expect("READY", BOOT_S)

    def close(self) -> None:
        self._process.kill()
        self._process.wait(10)
        self._reader.join(10)
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                pipe.close()

    def join(self, slot: int, mac: str, seconds: int = 30, passphrase: str = "-") -> dict[str, str]:
        """A client joins; what came of it."""
        return self._ask(f"join {slot} {mac} {_hex(passphrase)} {seconds}", "RESULT", seconds + PATIENCE_S)

    def where(self, slot: int, mac: str) -> dict[str, str]:
        """Its VLAN, and the octets that the access point has counted of this association."""
        return self._ask(f"where {slot} {mac}", "WHERE")

    def until_vlan(self, slot: int, mac: str, vlan: int, seconds: float) -> float:
        """Waits until the access point has placed the client there; how long that took."""
        began = time.monotonic()
        while time.monotonic() - began < seconds:
            if self.where(slot, mac)["vlan"] == str(vlan):
                return time.monotonic() - began
            self._say("sleep 1")
        raise AssertionError(f"{mac} was not placed in VLAN {vlan} within {seconds} s")

    def send(self, slot: int, mac: str, count: int, size: int) -> bool:
        """Traffic through the radio link, both ways."""
        return self._ask(f"reach {slot} {mac} {count} {size}", "OK")["reach"] == "yes"

    def leave(self, slot: int) -> None:
        self._ask(f"leave {slot}", "OK")

    def restart_access_point(self) -> None:
        self._ask("restart", "OK")

    def put_keys(self, text: str) -> None:
        """The file of passphrases, in its place."""
        self._ask(f"keys {_hex(text)}", "OK")

    def control(self, question: str) -> str:
        """What the access point answers at its control interface."""
        return bytes.fromhex(self._ask(f"raw {question}", "RAW")["answer"]).decode("utf-8", "replace")

    def expect(self, word: str, seconds: float = PATIENCE_S) -> dict[str, str]:
        """The next line that begins so, as its KEY=VALUE parts."""
        until = time.monotonic() + seconds
        while (left := until - time.monotonic()) > 0:
            try:
                line = self._lines.get(timeout=left)
            except queue.Empty:
                break
            if line.startswith("FATAL"):
                raise AssertionError(line)
            if line.startswith(word):
                return dict(re.findall(r"(\w+)=(\S*)", line))
        raise AssertionError(f"the machine did not say {word} within {seconds:.0f} s")

    def _ask(self, command: str, word: str, seconds: float = PATIENCE_S) -> dict[str, str]:
        """One at a time, whoever asks."""
        with self._turn:
            self._say(command)
            return self.expect(word, seconds)

    def _say(self, command: str) -> None:
        assert self._process.stdin is not None
        self._process.stdin.write(command.encode() + b"\n")
        self._process.stdin.flush()

    def _read(self) -> None:
        assert self._process.stdout is not None
        for line in self._process.stdout:
            self._lines.put(line.decode("utf-8", "replace").strip())
