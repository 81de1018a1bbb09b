"""MAC answers while ten thousand mails wait and are sent by SMTP, beside the same while none is due."""

import random
import statistics
import time
from collections.abc import Callable
from pathlib import Path

import httpx

from bench.load import Measured
from lauschen.core.messages.channels import MailServer
from lauschen.core.messages.message import Channel, Draft, Kind
from lauschen.serve.first_run import open_data
from lauschen.store.config.channels import save_only
from lauschen.store.messages import outbox

WAITING, RUNS = 10_000, 9
WORDS = {"code": "3N2D5-98EEV", "wifi": "Garden", "limits": "8 h", "page": "p", "site": "Hollerau"}
YEAR_S = 365 * 86_400.0


def write_messages(data: Path, port: int, authority: str) -> None:
    """Before anybody serves: a mail server is set, and all mails wait for a day that is far."""
    conn, keys = open_data(data)
    server = MailServer("127.0.0.1", "desk@hollerau.example", port=port, authority=authority)
    save_only(conn, keys, Channel.MAIL, server)
    conn.execute("BEGIN")
    for number in range(WAITING):
        draft = Draft(Channel.MAIL, Kind.PASS, "en", f"n{number}@hollerau.example", WORDS)
        outbox.add_message(conn, keys, draft, mark=f"{number:024x}", now=time.time())
    conn.execute("COMMIT")
    conn.close()
    put_off(data)


def put_off(data: Path) -> None:
    """All that waits, to a day that is far."""
    conn, _ = open_data(data)
    conn.execute("PRAGMA busy_timeout = 20000")  # the server writes too
    conn.execute("UPDATE message SET next_at = ? WHERE next_at IS NOT NULL", (time.time() + YEAR_S,))
    conn.close()


def beside_messages(web: httpx.Client, data: Path, load: Callable[[random.Random], Measured]) -> None:
    """Alternating: put off by hand, and due again when the mail server is saved anew; each warmed up first."""
    chance, mail = random.Random(17), web.get("/api/settings").json()["mail"]
    server = {name: value for name, value in mail.items() if not name.startswith("has_")}
    pairs, took = [], 0.0
    for _ in range(RUNS):
        put_off(data)
        load(chance)
        alone = load(chance).rate
        saved = web.put("/api/mail", json=server)
        assert saved.status_code == 200, saved.text
        began = time.perf_counter()
        load(chance)
        beside = load(chance).rate
        took += time.perf_counter() - began
        pairs.append(beside / alone)
    left = web.get("/api/messages").json()["waiting"]
    # The machine's own rate drifts by more than this asks about: only what was measured side by side compares.
    ratio = statistics.median(pairs)
    print(
        f"MAC answers while {WAITING:,} mails wait: {ratio:.2f} of the rate without;"
        f" {(WAITING - left) / took:.1f} mails a second sent beside them",
        flush=True,
    )
