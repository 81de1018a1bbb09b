"""A real access point that does not ask: hostapd with a file of all passphrases, read again when it is told to.

The machine of the access point is another one here: what Lauschen asks at the socket is asked there over its console.
"""

import socket
import threading
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import httpx
import pytest

from lauschen.core.decide.standing import State
from tests.real.bed import Bed
from tests.real.cloister import FIRST, FIRST_GROUP, SECOND, SSID, Cloister, make_site
from tests.real.town import PASSWORD, STAFF, open_air

FILE, INTERFACE = "cloister.psk", "wlan0"
SOON_S = 20
READ_S = 4
"""Until what was changed is in the file, and read."""


class Relay:
    """The control socket of this side."""

    def __init__(self, folder: Path, bed: Bed) -> None:
        self._file, self._bed = folder / FILE, bed
        self._sock = socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM)
        self._sock.bind(str(folder / INTERFACE))
        self._sock.settimeout(1)
        self._is_over = threading.Event()
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def close(self) -> None:
        self._is_over.set()
        self._thread.join(10)
        self._sock.close()

    def _serve(self) -> None:
        while not self._is_over.is_set():
            try:
                question, asker = self._sock.recvfrom(4096)
            except TimeoutError:
                continue
            if question == b"RELOAD_WPA_PSK":
                self._bed.put_keys(self._file.read_text())
            answer = self._bed.control(question.decode())
            try:
                self._sock.sendto(answer.encode(), asker)
            except OSError:
                continue  # whoever asked waits no more


@pytest.fixture(scope="module")
def cloister(built: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Cloister]:
    folder = tmp_path_factory.mktemp("air")
    make = partial(make_site, file=(FILE, INTERFACE))
    more = ("--key-files", str(folder), "--hostapd", str(folder))
    data = tmp_path_factory.mktemp("filed")
    with (
        open_air(data, built, make, ssid=SSID, mode="file", more=more) as air,
        httpx.Client(base_url=f"http://127.0.0.1:{air[2]}") as http,
    ):
        relay = Relay(folder, air[1])
        signed_in = http.post("/api/session", json={"name": STAFF, "password": PASSWORD})
        http.headers["X-Lauschen-Form"] = signed_in.json()["csrf"]
        made = Cloister(air[0], air[1], http)
        yield made
        made.reader.close()
        relay.close()


def until_read(cloister: Cloister) -> None:
    time.sleep(READ_S)
    said = f"{FILE} is in force."
    cloister.until(
        lambda: said in cloister.http.get("/api/passphrases").json()["networks"][0]["asks"], SOON_S
    )


def test_who_is_in_the_file_joins_with_its_vlan_and_is_bound(cloister: Cloister) -> None:
    ines = cloister.issue("Ines Harwood", has_group=True)
    until_read(cloister)
    wrong = cloister.bed.join(1, FIRST, seconds=12, passphrase="a-passphrase-of-another-house")
    assert wrong["joined"] == "no"
    joined = cloister.bed.join(1, FIRST, passphrase=ines["passphrase"])
    assert (joined["joined"], joined["vlan"], joined["ping"]) == ("yes", str(FIRST_GROUP), "yes")
    cloister.until(lambda: bool(cloister.full(ines)["devices"]), SOON_S)
    (device,) = cloister.full(ines)["devices"]
    assert (device["mac"].lower().replace("-", ":"), device["is_in"]) == (FIRST, True)


def test_a_rotated_key_joins_and_a_withdrawn_one_is_thrown_off_and_stays_off(cloister: Cloister) -> None:
    jonas = cloister.issue("Jonas Quist")
    until_read(cloister)
    assert cloister.bed.join(2, SECOND, passphrase=jonas["passphrase"])["joined"] == "yes"
    renewed = cloister.act(f"passphrases/{jonas['id']}/renew", overlap_minutes=60)
    until_read(cloister)
    for one in (renewed, jonas):
        assert cloister.bed.join(2, SECOND, passphrase=one["passphrase"])["joined"] == "yes"
    cloister.until(lambda: any(one["is_in"] for one in cloister.full(jonas)["devices"]), SOON_S)
    cloister.act("issued/acts", what="withdraw", issued=[jonas["id"]])
    until_read(cloister)
    cloister.until(lambda: "[AUTHORIZED]" not in cloister.bed.control(f"STA {SECOND}"), SOON_S)
    for one in (renewed, jonas):
        assert cloister.bed.join(2, SECOND, passphrase=one["passphrase"], seconds=12)["joined"] == "no"
    standing = cloister.standing(SECOND)
    assert standing is not None
    assert standing.state is not State.INSIDE
