"""`kill -9` in the middle of load: what was answered is there, and what was wanted is sent after the restart."""

import os
import re
import select
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, nullcontext
from pathlib import Path

from lauschen.acts.desk import helping as staff_acts
from lauschen.cli.saying import act_on
from lauschen.core.ids import NetworkId
from lauschen.demo.site import SECRET as SECRET_OCTETS
from lauschen.demo.site import SSID
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret
from lauschen.serve.first_run import open_data
from lauschen.store.config import access_devices
from tests.place import GARDEN, PHONE, Place

SECRET = Secret(SECRET_OCTETS)
PATIENCE_S = 20.0
IN_FLIGHT = 32


@contextmanager
def serving(
    data: Path, *options: str, program: Sequence[str] = ("-m", "lauschen"), log: Path | None = None
) -> Iterator[tuple[subprocess.Popen[str], int, int]]:
    """`lauschen serve` as a process of its own, with the ports that it chose. `log`: its standard error."""
    command = [
        sys.executable, *program, "serve", "--data", str(data), "--staff", "127.0.0.1:0",
        "--portal", "127.0.0.1:0", "--radius", "127.0.0.1", "--auth-port", "0", "--acct-port", "0", *options,
    ]  # fmt: skip
    with nullcontext() if log is None else log.open("wb") as stderr:
        process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=stderr, text=True)
    assert process.stdout is not None
    try:
        for line in process.stdout:
            found = re.match(r"RADIUS: \S+, (\d+) and (\d+)", line)
            if found:
                yield process, int(found[1]), int(found[2])
                break
        else:
            raise AssertionError(f"it did not start: {process.wait(PATIENCE_S)}")
    finally:
        process.kill()
        process.wait(PATIENCE_S)
        process.stdout.close()


def request(number: int) -> tuple[bytes, bytes]:
    """One Access-Request and one Start, each for a device and a session that nobody else has."""
    mac = f"02-00-10-{number >> 16 & 255:02X}-{number >> 8 & 255:02X}-{number & 255:02X}"
    identity = (
        a.text(Kind.CALLING_STATION_ID, mac)
        + a.text(Kind.CALLED_STATION_ID, f"02-77-00-00-00-11:{SSID}")
        + a.text(Kind.ACCT_SESSION_ID, f"S{number}")
    )
    ask = identity + a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
    report = identity + a.integer(Kind.ACCT_STATUS_TYPE, StatusType.START)
    packet_id = number & 0xFF
    return SECRET.access_request(packet_id, os.urandom(16), ask), SECRET.accounting_request(packet_id, report)


def load_until_killed(
    process: subprocess.Popen[str], ports: tuple[int, int], kill_after: int
) -> tuple[set[int], set[int]]:
    """Keeps 32 requests of each kind in flight; the numbers that were answered."""
    answered: tuple[set[int], set[int]] = (set(), set())
    socks = []
    for _ in range(2):
        sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        sock.bind(("127.77.0.11", 0))
        socks.append(sock)
    number, flying = 0, [0, 0]
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until:
        while min(flying) < IN_FLIGHT and process.poll() is None:
            for which, octets in enumerate(request(number)):
                socks[which].sendto(octets, ("127.0.0.1", ports[which]))
                flying[which] += 1
            number += 1
        ready, _, _ = select.select(socks, [], [], 0.5)
        for sock in ready:
            which = socks.index(sock)
            packet_id = sock.recv(4096)[1]
            # Of the numbers in flight only one has this id.
            latest = number - 1 - ((number - 1 - packet_id) & 0xFF)
            answered[which].add(latest)
            flying[which] -= 1
        if len(answered[0]) >= kill_after and process.poll() is None:
            process.send_signal(signal.SIGKILL)
            process.wait(PATIENCE_S)
        elif not ready and process.poll() is not None:
            break
    for sock in socks:
        sock.close()
    return answered


def test_every_packet_that_was_answered_is_in_the_database(data: Path) -> None:
    with serving(data) as (process, auth, acct):
        asked, reported = load_until_killed(process, (auth, acct), kill_after=700)
        assert process.returncode == -signal.SIGKILL
    assert len(asked) >= 700
    assert len(reported) >= 100
    conn, _ = open_data(data)
    decided = {mac & 0xFFFFFF for (mac,) in conn.execute("SELECT mac FROM decision")}
    begun = {int(session[1:]) for (session,) in conn.execute("SELECT session_id FROM stay")}
    assert conn.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    conn.close()
    assert asked <= decided
    assert reported <= begun


def test_a_change_that_was_wanted_but_not_sent_is_sent_after_the_restart(data: Path) -> None:
    listener = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    listener.bind(("127.77.0.11", 0))
    listener.settimeout(PATIENCE_S)
    before = Place(data)
    before.now = time.time()
    before.conn.execute("UPDATE access_device SET coa_port = ?", (listener.getsockname()[1],))
    before.let_in(before.issue()[0])
    with before.tx() as tx:  # wanted is stored; the process that would send it is gone
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    before.close()
    with serving(data) as (process, _, _):
        octets, source = listener.recvfrom(4096)
        packet = parse(octets)
        assert SECRET.is_change_request(packet)
        assert (packet.code, packet.text(Kind.ACCT_SESSION_ID)) == (Code.DISCONNECT_REQUEST, "S1")
        process.kill()  # unanswered: after another restart it goes again
    with serving(data):
        again, source = listener.recvfrom(4096)
        assert parse(again).text(Kind.ACCT_SESSION_ID) == "S1"
        listener.sendto(SECRET.reply(Code.DISCONNECT_ACK, parse(again), b""), source)
    listener.close()


def test_a_running_server_takes_in_what_the_command_line_adds(data: Path) -> None:
    with serving(data) as (_, auth, _):
        with act_on(data) as tx:
            access_devices.add_access_device(
                tx.conn,
                tx.keys,
                "New",
                address="127.77.0.15",
                secret=SECRET_OCTETS,
                dialect=1,  # type: ignore[arg-type]
                serves=[NetworkId(1)],
            )
        sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
        sock.bind(("127.77.0.15", 0))
        sock.settimeout(0.2)
        reply = b""
        for number in range(100):  # the first ones come from an unknown access device
            sock.sendto(request(number)[0], ("127.0.0.1", auth))
            try:
                reply = sock.recv(4096)
                break
            except TimeoutError:
                continue
        sock.close()
        assert parse(reply).code == Code.ACCESS_ACCEPT
