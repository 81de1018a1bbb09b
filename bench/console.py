"""Packets beside the console: who is not signed in asks all the time, and who is sends large bodies."""

import http.client
import json
import random
import statistics
import sys
import threading
import time
from collections.abc import Callable
from contextlib import AbstractContextManager

from bench.load import drive_paced
from bench.packets import spread_requests

CLIENTS, PACE, RUNS = 4, 400, 5
GUESTS = 80_000
Started = Callable[[list[str], str], AbstractContextManager[object]]


def beside_the_console(started: Started, staff: int, auth: int, cookie: str, csrf: str) -> None:
    """Prints latencies alone, and beside each."""
    chance = random.Random(31)

    def latency() -> tuple[float, float]:
        runs = [drive_paced(spread_requests(PACE, chance), auth, PACE) for _ in range(RUNS)]
        return statistics.median(run.p50_ms for run in runs), statistics.median(run.p99_ms for run in runs)

    latency()  # these devices become known at their access devices
    found = {"alone": latency()}
    with started(["bench.console", "strangers", str(staff)], "asking"):
        time.sleep(5)  # whatever they may ask at first is asked
        found["beside four clients that are not signed in"] = latency()
    with started(["bench.console", "large", str(staff), cookie, csrf], "asking"):
        found["beside bodies of 4 MB, one after the other"] = latency()
    said = "; ".join(f"{p50:.1f} ms, p99 {p99:.1f} ms {how}" for how, (p50, p99) in found.items())
    print(f"MAC answers at {PACE} a second: {said}", flush=True)


def _ask(port: int, method: str, path: str, body: bytes | None, headers: dict[str, str]) -> None:
    """On one connection, until it is closed, and then on the next."""
    while True:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        try:
            while True:
                connection.request(method, path, body, headers)
                connection.getresponse().read()
        except (OSError, http.client.HTTPException):
            continue
        finally:
            connection.close()


def main(what: str, port: int, cookie: str = "", csrf: str = "") -> None:
    if what == "strangers":
        asks = [(port, "GET", "/api/openapi.json", None, {})] * CLIENTS
    else:
        lines = "".join(
            f"Guest {number}, guest{number}@students.hollerau.example\n" for number in range(GUESTS)
        )
        body = json.dumps({"text": lines, "lang": "en"}).encode()
        headers = {"Cookie": cookie, "X-Lauschen-Form": csrf, "Content-Type": "application/json"}
        asks = [(port, "POST", "/api/passes/lines/check", body, headers)]
    threads = [threading.Thread(target=_ask, args=one, daemon=True) for one in asks]
    for thread in threads:
        thread.start()
    print("asking", flush=True)
    threads[0].join()


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), *sys.argv[3:])
