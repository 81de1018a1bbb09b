"""`kill -9` after the first slice of mass work: what was answered holds, and a restart goes on with it."""

import signal
import socket
import time
from pathlib import Path

import pytest

from lauschen.acts.desk import helping
from lauschen.core.ids import Mac
from lauschen.demo.site import SECRET as SECRET_OCTETS
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind, StatusType
from lauschen.radius.wire.signing import Secret
from lauschen.road import slices
from lauschen.serve.first_run import open_data
from tests.place import PHONE, Place
from tests.test_crash import PATIENCE_S, serving

MANY = 5
SECRET = Secret(SECRET_OCTETS)
ON = SECRET.accounting_request(
    7, a.integer(Kind.ACCT_STATUS_TYPE, StatusType.ON) + a.text(Kind.NAS_IDENTIFIER, "west")
)
DIES_AT_THE_SECOND = """
import os, signal
from lauschen.cli import main
from lauschen.road import slices
from lauschen.serve import rounds
from lauschen.store.moving import intents
slices.SLICE_S = 0.0
def do_slice(tx):
    if intents.is_any_due(tx.conn, tx.now):
        os.kill(os.getpid(), signal.SIGKILL)
    return False
rounds.do_slice = do_slice
main()
"""


def fill(data: Path) -> Place:
    """Everybody is inside by one code, at one access point."""
    place = Place(data)
    place.now = time.time() - 60
    place.conn.execute("UPDATE plan SET devices = ?", (MANY,))
    place.reload()
    code = place.issue()[0]
    for number in range(MANY):
        place.let_in(code, Mac(PHONE + number), f"S{number}", f"v{number}")
    return place


def count(data: Path, sql: str) -> int:
    conn, _ = open_data(data)
    try:
        return int(conn.execute(sql).fetchone()[0])
    finally:
        conn.close()


def until(data: Path, sql: str, wanted: int) -> None:
    end = time.monotonic() + PATIENCE_S
    while (found := count(data, sql)) != wanted:
        assert time.monotonic() < end, found
        time.sleep(0.05)


CLOSED = "SELECT count(*) FROM stay WHERE end_cause = 'device_restarted'"


def test_stays_of_an_access_device_that_restarted(data: Path) -> None:
    fill(data).close()
    with serving(data, program=("-c", DIES_AT_THE_SECOND)) as (process, _, acct):
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock:
            sock.bind(("127.77.0.11", 0))
            sock.settimeout(PATIENCE_S)
            sock.sendto(ON, ("127.0.0.1", acct))
            assert parse(sock.recv(4096)).code == Code.ACCOUNTING_RESPONSE
        assert process.wait(PATIENCE_S) == -signal.SIGKILL
    assert count(data, CLOSED) == 1
    with serving(data):
        until(data, CLOSED, MANY)
        until(data, "SELECT count(*) FROM intent", 0)


def test_devices_of_a_code_that_was_withdrawn(data: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """The act was answered, and the process ended before its next slice."""
    monkeypatch.setattr(slices, "SLICE_S", 0.0)
    place = fill(data)
    (credential,) = place.conn.execute("SELECT id FROM credential").fetchone()
    with place.tx() as tx:
        helping.withdraw(tx, credential)
    place.close()
    out = "SELECT count(*) FROM admission WHERE end_reason = 'code_withdrawn'"
    assert count(data, out) == 1
    with serving(data):
        until(data, out, MANY)
