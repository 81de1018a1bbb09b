"""`kill -9` around a message: written and not sent it is sent; sent and not noted it goes again under the same id."""

import json
import signal
import subprocess
import threading
import time
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest

from lauschen.core.config.dialect import Call
from lauschen.core.messages.channels import TextGateway
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.serve.first_run import open_data
from lauschen.store.config.channels import save_only
from lauschen.store.messages import outbox
from tests.test_crash import PATIENCE_S, serving

TO = "+447700900123"


class Gateway(ThreadingHTTPServer):
    """Keeps the ids that it hears; kills whoever asks before it answers, as often as `kills` says."""

    def __init__(self) -> None:
        super().__init__(("127.0.0.1", 0), Handler)
        self.heard: list[str] = []
        self.came = threading.Event()
        self.kills: list[subprocess.Popen[str]] = []


class Handler(BaseHTTPRequestHandler):
    def do_POST(self) -> None:
        gateway: Any = self.server
        said = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        gateway.heard.append(said["id"])
        if gateway.kills:
            gateway.kills.pop().send_signal(signal.SIGKILL)
            gateway.came.set()
            return
        self.send_response(200)
        self.end_headers()
        self.wfile.write(b"taken")
        gateway.came.set()

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing to the terminal."""


@pytest.fixture
def gateway() -> Iterator[Gateway]:
    made = Gateway()
    threading.Thread(target=made.serve_forever, daemon=True).start()
    yield made
    made.shutdown()
    made.server_close()


def written(data: Path, port: int) -> None:
    """A gateway is set and a message waits; the process that would send it is not there yet."""
    conn, keys = open_data(data)
    call = Call(url=f"http://127.0.0.1:{port}/", body='{"to": "{to}", "text": "{text}", "id": "{id}"}')
    save_only(conn, keys, Channel.TEXT, TextGateway(call, price=70, countries=("GB",)))
    draft = Draft(Channel.TEXT, Kind.TEST, "en", TO, {"site": "Hollerau"})
    outbox.add_message(conn, keys, draft, mark="ab" * 12, now=time.time())
    conn.close()


def stands(data: Path) -> tuple[str, int, int]:
    """State and tries of the only message, and how many are said to have been sent."""
    conn, _ = open_data(data)
    state, tries = conn.execute("SELECT state, tries FROM message").fetchone()
    count = conn.execute("SELECT coalesce(sum(count), 0) FROM message_cost").fetchone()[0]
    conn.close()
    return state, tries, count


def make_due(data: Path) -> None:
    conn, _ = open_data(data)
    conn.execute("UPDATE message SET next_at = 0")
    conn.close()


def until_noted(data: Path) -> None:
    deadline = time.monotonic() + PATIENCE_S
    while stands(data)[0] != "sent" and time.monotonic() < deadline:
        time.sleep(0.05)


def test_what_was_written_and_not_sent_is_sent_after_the_restart(data: Path, gateway: Gateway) -> None:
    written(data, gateway.server_port)
    with serving(data, "--reach", f"http://127.0.0.1:{gateway.server_port}"):
        assert gateway.came.wait(PATIENCE_S)
        until_noted(data)
    assert gateway.heard == ["ab" * 12]
    assert stands(data) == ("sent", 1, 1)


def test_what_was_sent_and_not_noted_goes_again_under_the_same_id_and_counts_once(
    data: Path, gateway: Gateway
) -> None:
    written(data, gateway.server_port)
    reach = ("--reach", f"http://127.0.0.1:{gateway.server_port}")
    with serving(data, *reach) as (process, _, _):
        gateway.kills.append(process)
        assert gateway.came.wait(PATIENCE_S)
        process.wait(PATIENCE_S)
    assert stands(data) == ("waiting", 0, 0)
    make_due(data)
    gateway.came.clear()
    with serving(data, *reach):
        assert gateway.came.wait(PATIENCE_S)
        until_noted(data)
    assert gateway.heard == ["ab" * 12] * 2
    assert stands(data) == ("sent", 1, 1)
