"""After a busy summer: how fast the desk lists, finds and opens, and what packets keep of their rate meanwhile."""

import json
import multiprocessing
import queue
import random
import statistics
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, suppress
from multiprocessing.queues import Queue
from multiprocessing.synchronize import Event
from pathlib import Path

import httpx

from bench.browser import watch_guests
from bench.load import Measured
from lauschen.core.ids import Mac
from lauschen.core.words.mac import spell_mac
from lauschen.demo.large import FIRST_MAC, SUMMER
from lauschen.demo.site import STAFF_NAME, STAFF_PASSWORD

ROUNDS, EACH = 5, 60
PACES = (5.0, 20.0)
"""Requests a second: of two people whose lists change all the time, and of eight."""
READY = r"Ctrl-C ends"
Start = Callable[[list[str], str], AbstractContextManager[object]]
Load = Callable[[int], Measured]


def _wishes(chance: random.Random) -> Iterator[tuple[str, str]]:
    """What a busy desk asks: kind and path."""
    while True:
        mac = spell_mac(Mac(FIRST_MAC + chance.randrange(1, SUMMER.devices)))
        inside = spell_mac(Mac(FIRST_MAC + chance.randrange(1, SUMMER.inside)))
        sort = chance.choice(("since", "used", "rate", "today", "who", "until"))
        yield "list", f"/api/guests?sort={sort}&page={chance.randrange(40)}"
        yield "find", f"/api/guests?find={inside[-8:]}"
        yield "dossier", f"/api/guests/{mac}/1"


def ask(
    base: str, cookies: dict[str, str], pace: float, is_over: Event, seconds: "Queue[tuple[str, float]]"
) -> None:
    """Asks `pace` times a second; in a process of its own, as it would take turns with the load here."""
    wishes = _wishes(random.Random(17))
    with httpx.Client(base_url=base, cookies=cookies, timeout=300) as web:
        while not is_over.is_set():
            kind, path = next(wishes)
            began = time.perf_counter()
            answer = web.get(path)
            took = time.perf_counter() - began
            assert answer.status_code == 200, answer.text
            seconds.put((kind, took))
            is_over.wait(max(0.0, 1 / pace - took))


def after_a_summer(folder: Path, start: Start, load: Callable[[int, random.Random], Measured]) -> None:
    """Prints the figures; `load` drives packets at a port, `start` runs a process of its own."""
    say = folder / "said.json"
    demo = ["lauschen", "demo", "--large", "--no-crowd", "--ports", "free", "--say", str(say)]
    with start(demo, READY):
        facts = json.loads(say.read_text())
        with httpx.Client(base_url=f"http://127.0.0.1:{facts['staff']}", timeout=300) as web:
            web.post("/api/session", json={"name": STAFF_NAME, "password": STAFF_PASSWORD})
            _measure(web, lambda number: load(facts["auth"], random.Random(number)))
        watch_guests(facts["staff"], lambda: load(facts["auth"], random.Random(99)))


def _measure(web: httpx.Client, load: Load) -> None:
    quiet: dict[str, list[float]] = {}
    wishes = _wishes(random.Random(19))
    began = time.perf_counter()
    assert web.get("/api/guests").status_code == 200
    print(
        f"after a summer, the first list, which reads everybody: {(time.perf_counter() - began) * 1000:.0f} ms"
    )
    for _ in range(3 * EACH):
        kind, path = next(wishes)
        began = time.perf_counter()
        assert web.get(path).status_code == 200
        quiet.setdefault(kind, []).append(time.perf_counter() - began)
    for kind, took in quiet.items():
        print(f"after a summer, {kind}: p50 {_p(took, 50):.1f} ms, p99 {_p(took, 99):.1f} ms", flush=True)
    load(0)
    for pace in PACES:
        busy: dict[str, list[float]] = {}
        shares = []
        for number in range(1, ROUNDS + 1):
            alone = load(2 * number).rate
            with _asking(web, pace, busy):
                shares.append(load(2 * number + 1).rate / alone)
        said = ", ".join(f"{kind} {_p(took, 50):.0f} and {_p(took, 99):.0f}" for kind, took in busy.items())
        print(
            f"packets keep {statistics.median(shares):.2f} of their rate while the desk asks {pace:.0f} times a"
            f" second, answered in ms (p50 and p99): {said}",
            flush=True,
        )


@contextmanager
def _asking(web: httpx.Client, pace: float, into: dict[str, list[float]]) -> Iterator[None]:
    processes = multiprocessing.get_context("spawn")
    is_over, seconds = processes.Event(), processes.Queue()
    asking = processes.Process(
        target=ask, args=(str(web.base_url), dict(web.cookies), pace, is_over, seconds)
    )
    asking.start()
    seconds.get()  # it has begun
    yield
    is_over.set()
    while asking.is_alive() or not seconds.empty():
        with suppress(queue.Empty):
            kind, took = seconds.get(timeout=0.2)
            into.setdefault(kind, []).append(took)
    asking.join()


def _p(took: list[float], share: int) -> float:
    return sorted(took)[min(len(took) - 1, len(took) * share // 100)] * 1000
