"""A log that cannot be written holds nothing up, and says later what it lost."""

import json
import os
import resource
import socket
import time
from pathlib import Path

from lauschen.cli.log_lines import LogLines
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code
from tests.test_crash import PATIENCE_S, request, serving

FULL = Path("/dev/full")
"""Says of each write that the disk is full."""


def test_what_was_lost_is_counted() -> None:
    read, write = os.pipe()
    spare = os.dup(write)
    lines = LogLines(spare)
    with FULL.open("wb", buffering=0) as full:
        os.dup2(full.fileno(), spare)
        lines.error("one")
        lines.info("two")
    os.dup2(write, spare)
    lines.info("three")
    lines.info("four \ud800")
    os.close(write)
    os.close(spare)
    with open(read, encoding="utf-8") as pipe:
        said = [line for line in pipe.read().splitlines() if line]
    assert json.loads(said[0]) == {"event": "lines_lost", "count": 2}
    assert said[1:] == ["three", r"four \ud800"]


def test_nobody_reads_it_any_more() -> None:
    read, write = os.pipe()
    os.close(read)
    LogLines(write).warning("nobody hears this")
    os.close(write)


def test_a_server_whose_log_is_on_the_full_disk_goes_on_once_it_can_store(data: Path) -> None:
    with (
        serving(data, log=FULL) as (process, auth, _),
        socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as sock,
    ):
        sock.bind(("127.77.0.11", 0))
        sock.settimeout(1.0)

        def is_answered(number: int) -> bool:
            sock.sendto(request(number)[0], ("127.0.0.1", auth))
            try:
                return parse(sock.recv(4096)).code == Code.ACCESS_ACCEPT
            except TimeoutError:
                return False

        assert is_answered(0)
        resource.prlimit(process.pid, resource.RLIMIT_FSIZE, (0, resource.RLIM_INFINITY))
        assert not any(is_answered(number) for number in range(1, 4))
        resource.prlimit(process.pid, resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY,) * 2)
        deadline = time.monotonic() + PATIENCE_S
        while not is_answered(9):
            assert time.monotonic() < deadline
