"""`make bench`: answers per second as shares of a bare echo, alternating in one run, medians of five."""

import asyncio
import os
import random
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

import httpx
import uvloop

from bench.codec import compare_codecs
from bench.console import beside_the_console
from bench.desk import at_the_desk
from bench.held import hold_the_loop
from bench.load import WINDOW, Measured, drive, drive_paced, drive_patiently
from bench.messages import beside_messages, write_messages
from bench.packets import (
    ADDRESS,
    GARDEN,
    GUEST,
    INSIDE,
    WEST,
    access_requests,
    first_requests,
    interim_updates,
    make_data,
    spread_requests,
    voucher_requests,
)
from bench.pages import GUESTS, pages
from bench.passphrases import ask_cold, issue_beside, match_keys
from bench.summer import after_a_summer
from lauschen.core.words.tokens import PortalToken, sign_token
from lauschen.demo.run import start_demo
from lauschen.demo.site import PAGE_HOST, STAFF_NAME, STAFF_PASSWORD
from lauschen.road.clock import MovableClock
from lauschen.serve.service import measure_fsync
from lauschen.store.keys import KEY_NAME, read_key_file

RUNS = 5
ECHO_PACKETS, MAC_PACKETS, REPORT_PACKETS = 60_000, 20_000, 20_000
LOGINS = 40
SLOW_FSYNC_S = 0.2
PAGE_GETS, GETS_PER_S, LOAD_PER_S = 100, 15.0, 400.0
_CSRF = re.compile(r'name="csrf" value="([0-9a-f]+)"')


@contextmanager
def started(command: list[str], ready: str, log: Path | None = None) -> Iterator[re.Match[str]]:
    """A process of its own; yields what it said when it was ready."""
    with open(log or os.devnull, "w") as errors:
        process = subprocess.Popen(
            [sys.executable, "-m", *command], stdout=subprocess.PIPE, stderr=errors, text=True
        )
        assert process.stdout is not None
        said = ""
        try:
            for line in process.stdout:
                said += line
                found = re.search(ready, said)
                if found:
                    yield found
                    break
        finally:
            process.terminate()
            process.wait()
            process.stdout.close()


def main() -> None:
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        data, log = Path(folder), Path(folder) / "served.log"
        make_data(data, time.time())
        print(
            f"fsync {measure_fsync(data) * 1000:.2f} ms; {WINDOW} in flight; medians of {RUNS} alternating runs"
        )
        authority = data / "letters.pem"
        serve = ["lauschen", "serve", "--data", folder, "--staff", "127.0.0.1:0", "--portal", "127.0.0.1:0"]
        serve += ["--radius", "127.0.0.1", "--auth-port", "0", "--acct-port", "0"]
        ready = r"Staff: \S+:(\d+)\s+guest page: port (\d+)(?:.|\n)*RADIUS: \S+, (\d+) and (\d+)"
        with (
            started(["bench.echo"], r"(\d+)\n") as echo,
            started(["bench.responder"], r"(\d+) (\d+)\n") as peer,
            started(["bench.hello"], r"(\d+)\n") as hello,
            started(["bench.letters", str(authority)], r"(\d+)\n") as letters,
            started(served_with(serve, data, int(letters[1]), authority), ready, log) as ports,
        ):
            staff, portal, auth, acct = (int(port) for port in ports.groups())
            beside_hello(int(hello[1]), portal, staff, auth, data)
            rate = compare(int(echo[1]), (int(peer[1]), int(peer[2])), auth, acct)
            beside_long_work(staff, auth, rate)
            beside_a_flood(auth, rate)
            with signed_in(staff) as web:
                cookie = "; ".join(f"{name}={value}" for name, value in web.cookies.items())
                beside_the_console(started, staff, auth, cookie, web.headers["X-Lauschen-Form"])
                issue_beside(web, lambda chance: drive(access_requests(MAC_PACKETS, chance), auth, ADDRESS))
                beside_messages(
                    web, data, lambda chance: drive(access_requests(MAC_PACKETS, chance), auth, ADDRESS)
                )
        asyncio.run(ask_cold(data))
        held = re.search(r'"longest_hold_ms": ([\d.]+)', log.read_text())
        print(f"longest time that one group held the loop: {held[1] if held else '?'} ms")
    beside_a_slow_disk()
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        uvloop.run(logins(Path(folder)))
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        make_data(Path(folder), time.time())
        at_the_desk(Path(folder))
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        after_a_summer(
            Path(folder),
            started,
            lambda port, chance: drive(access_requests(MAC_PACKETS, chance), port, ADDRESS),
        )
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        hold_the_loop(Path(folder))
    match_keys()
    ours, theirs = compare_codecs()
    print(
        f"decode, verify, answer, no I/O: ours {ours:.0f}/s, pyrad {theirs:.0f}/s, {ours / theirs:.1f} times"
    )


def served_with(serve: list[str], data: Path, port: int, authority: Path) -> list[str]:
    """The command, once the mails stand in the outbox of what it serves."""
    write_messages(data, port, authority.read_text())
    return [*serve, "--reach", f"http://127.0.0.1:{port}"]


@contextmanager
def signed_in(staff: int) -> Iterator[httpx.Client]:
    with httpx.Client(base_url=f"http://127.0.0.1:{staff}", timeout=300) as web:
        answer = web.post("/api/session", json={"name": STAFF_NAME, "password": STAFF_PASSWORD})
        web.headers["X-Lauschen-Form"] = answer.json()["csrf"]
        yield web


def compare(echo_port: int, peer: tuple[int, int], auth_port: int, acct_port: int) -> float:
    """Everything alternating in one run; the rate of MAC answers."""
    chance = random.Random(7)
    runs: dict[str, list[Measured]] = {}

    def measure(what: str, packets: list[bytes], port: int) -> None:
        runs.setdefault(what, []).append(drive(packets, port, ADDRESS))

    codes = voucher_requests(MAC_PACKETS, chance)
    for number in range(RUNS):
        requests = access_requests(MAC_PACKETS, chance)
        reports = interim_updates(REPORT_PACKETS, number * (REPORT_PACKETS // INSIDE))
        measure("echo", (requests * 3)[:ECHO_PACKETS], echo_port)
        measure("peer_auth", requests, peer[0])
        measure("auth", requests, auth_port)
        measure("peer_acct", reports, peer[1])
        measure("acct", reports, acct_port)
        measure("pap", codes(), auth_port)
    rates = {what: statistics.median(run.rate for run in done) for what, done in runs.items()}
    bare = rates["echo"]
    say("bare asyncio + uvloop echo", runs["echo"], bare)
    say("pyrad, accepts all, stores nothing", runs["peer_auth"], bare)
    say("pyrad, accounting, stores nothing", runs["peer_acct"], bare)
    say("MAC answers, committed first", runs["auth"], bare, rates["peer_auth"])
    say("PAP answers (codes), committed first", runs["pap"], bare, rates["peer_auth"])
    say("interim updates, committed first", runs["acct"], bare, rates["peer_acct"])
    return rates["auth"]


def beside_hello(hello: int, portal: int, staff: int, auth: int, data: Path) -> None:
    """The guest page and its form, as shares of the least that the same HTTP server can do."""
    with signed_in(staff) as web:
        batch = web.post("/api/batches", json={"plan": 1, "count": GUESTS}).json()
        codes: list[str] = []
        while len(codes) < GUESTS:
            after = batch["issued"][-1]["id"] if batch["issued"] else 0
            codes += [one["code"].replace("-", "") for one in batch["issued"]]
            batch = web.get(f"/api/batches/{batch['id']}", params={"after": after}).json()
    drive(first_requests(GUESTS), auth, ADDRESS)
    key = read_key_file(data / KEY_NAME).token_key
    runs = uvloop.run(pages(hello, portal, key, codes))
    bare = statistics.median(run.rate for run in runs["hello"])
    say('bare uvicorn "hello"', runs["hello"], bare)
    for what, name, least in (("page", "guest page", "hello"), ("inside", "status page", "hello_inside")):
        say(name, runs[what], bare)
        shares = [one.rate / beside.rate for one, beside in zip(runs[what], runs[least], strict=True)]
        print(f"{name}: {statistics.median(shares):.3f} of the hello of the same round, by the median")
    say("right code, committed first", runs["login"], bare)


def say(what: str, runs: list[Measured], bare: float, peer: float | None = None) -> None:
    rate = statistics.median(run.rate for run in runs)
    p50, p99 = (statistics.median(values) for values in ((r.p50_ms for r in runs), (r.p99_ms for r in runs)))
    beside = f"  {rate / peer:4.2f} x pyrad" if peer else ""
    print(
        f"{what:36} {rate:8.0f}/s  ratio {rate / bare:5.3f}  p50 {p50:6.2f} ms  p99 {p99:6.2f} ms{beside}",
        flush=True,
    )


def beside_long_work(staff: int, auth_port: int, rate: float) -> None:
    """At half the measured rate: p99 idle, and while slips are drawn and ten thousand vouchers are issued."""
    chance, pace = random.Random(11), rate / 2
    with signed_in(staff) as web:
        thousand = web.post("/api/batches", json={"plan": 1, "count": 1000}).json()["id"]

        def load() -> Measured:
            return drive_paced(spread_requests(int(pace), chance), auth_port, pace)

        load()  # these devices become known at their access devices
        idle = [load() for _ in range(3)]
        with ThreadPoolExecutor(2) as pool:
            began = time.perf_counter()
            drawn = pool.submit(web.get, f"/api/batches/{thousand}/slips.pdf")
            issued = pool.submit(web.post, "/api/batches", json={"plan": 1, "count": 10_000})
            busy = []
            while not (drawn.done() and issued.done()) or not busy:
                busy.append(load())
            took = time.perf_counter() - began
            assert issued.result().status_code == 201, issued.result().text
            assert drawn.result().status_code == 200, drawn.result().text
    before, during = (statistics.median(run.p99_ms for run in runs) for runs in (idle, busy))
    print(
        f"at half the rate: p99 {before:.2f} ms idle, {during:.2f} ms ({during / before:.1f} times) while a PDF of"
        f" 1,000 slips ({len(drawn.result().content) // 1000} kB) and 10,000 vouchers are made in {took:.1f} s",
        flush=True,
    )


def beside_a_flood(auth_port: int, rate: float) -> None:
    """One of two access devices sends ten times its share; what is left to the other."""
    alone = drive_patiently(access_requests(MAC_PACKETS, random.Random(12)), auth_port, ADDRESS).rate
    flood = rate / 2 * 10
    with started(["bench.flood", str(auth_port), str(flood)], "flooding"):
        beside = drive_patiently(access_requests(MAC_PACKETS, random.Random(13)), auth_port, ADDRESS).rate
    print(
        f"beside a device that floods with {flood:.0f}/s: {beside / alone:.2f} of its rate alone", flush=True
    )


def beside_a_slow_disk() -> None:
    """GETs of a guest's page while requests go on, and each fsync takes 200 ms."""
    found = []
    for delay in (0.0, SLOW_FSYNC_S):
        with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
            make_data(Path(folder), time.time())
            with started(["bench.slow_disk", folder, str(delay)], r"(\d+) (\d+)\n") as ports:
                found.append(page_gets(Path(folder), int(ports[1]), int(ports[2])))
    quick, slow = found
    print(
        f"page GET p99 {quick:.1f} ms; {slow:.1f} ms ({slow / quick:.1f} times) while each fsync takes"
        f" {SLOW_FSYNC_S * 1000:.0f} ms",
        flush=True,
    )


def page_gets(data: Path, portal: int, auth: int) -> float:
    """p99 in ms over some seconds of load; the commit that finds out that the disk is slow comes before them."""
    keys = read_key_file(data / KEY_NAME)
    token = sign_token(PortalToken(GUEST, WEST, GARDEN, int(time.time()) + 600), keys.token_key)
    with (
        httpx.Client(base_url=f"http://127.0.0.1:{portal}", headers={"Host": PAGE_HOST}, timeout=30) as web,
        ThreadPoolExecutor(1) as pool,
    ):
        drive(access_requests(64, random.Random(20)), auth, ADDRESS)
        page = web.get(f"/?t={token}").headers["location"]
        packets = access_requests(int(LOAD_PER_S * PAGE_GETS / GETS_PER_S), random.Random(21))
        load = pool.submit(drive_paced, {ADDRESS: packets}, auth, LOAD_PER_S)
        took = []
        for _ in range(PAGE_GETS):
            began = time.perf_counter()
            assert web.get(page).status_code == 200
            took.append(time.perf_counter() - began)
            time.sleep(max(0.0, 1 / GETS_PER_S - took[-1]))
        load.result()
    return sorted(took)[int(len(took) * 0.99)] * 1000


async def logins(data: Path) -> None:
    """From the POST of a right code to the second Access-Accept at the access point."""
    demo = await start_demo(data, MovableClock(), use_free_ports=True, crowd_phones=0)
    took = []
    phone, proxy, point = demo.phones[0], demo.proxies[0], demo.points[0]
    transport = httpx.AsyncHTTPTransport(proxy=f"http://127.0.0.1:{proxy.port}")
    async with httpx.AsyncClient(
        transport=transport, headers={"Origin": "http://welcome.hollerau.example"}
    ) as web:
        for code in await demo.issue("Day visit", LOGINS):
            await point.join(phone)
            page = await web.get("http://score-of-the-day.example/", follow_redirects=True)
            csrf = _CSRF.search(page.text)
            assert csrf
            started_at = time.perf_counter()
            posted = asyncio.create_task(
                web.post(f"{str(page.url).partition('?')[0]}/by/code", data={"csrf": csrf[1], "code": code})
            )
            await point.until(
                lambda: phone.session is not None and phone.session.placement.filter_name == "visitor"
            )
            took.append(time.perf_counter() - started_at)
            await posted
            demo.clock.advance(9 * 3600)
            await point.leave(phone)
    await demo.close()
    print(
        f"POST of a right code to the second Access-Accept: "
        f"median {statistics.median(took) * 1000:.1f} ms of {LOGINS}"
    )


if __name__ == "__main__":
    main()
