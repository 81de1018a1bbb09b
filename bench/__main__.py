"""`make bench`: answers per second as shares of a bare echo, alternating in one run, medians of five."""

import asyncio
import random
import re
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import uvloop

from bench.codec import compare_codecs
from bench.load import WINDOW, Measured, drive
from bench.packets import ADDRESS, access_requests, interim_updates, make_data
from lauschen.demo.run import start_demo
from lauschen.road.clock import MovableClock
from lauschen.service import measure_fsync

RUNS = 5
ECHO_PACKETS, MAC_PACKETS, REPORT_PACKETS = 60_000, 20_000, 20_000
LOGINS = 40
_CSRF = re.compile(r'name="csrf" value="([0-9a-f]+)"')


@contextmanager
def started(command: list[str], ready: str) -> Iterator[re.Match[str]]:
    process = subprocess.Popen([sys.executable, "-m", *command], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    try:
        for line in process.stdout:
            found = re.match(ready, line)
            if found:
                yield found
                break
    finally:
        process.terminate()
        process.wait()
        process.stdout.close()


def main() -> None:
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        data = Path(folder)
        make_data(data, time.time())
        print(
            f"fsync {measure_fsync(data) * 1000:.2f} ms; {WINDOW} in flight; medians of {RUNS} alternating runs"
        )
        serve = ["lauschen", "serve", "--data", folder, "--staff", "127.0.0.1:0", "--portal", "127.0.0.1:0"]
        serve += ["--radius", "127.0.0.1", "--auth-port", "0", "--acct-port", "0"]
        with (
            started(["bench.echo"], r"(\d+)") as echo,
            started(serve, r"RADIUS: \S+, (\d+) and (\d+)") as ports,
        ):
            compare(int(echo[1]), int(ports[1]), int(ports[2]))
    with tempfile.TemporaryDirectory(prefix="lauschen-bench-") as folder:
        uvloop.run(logins(Path(folder)))
    ours, theirs = compare_codecs()
    print(
        f"decode, verify, answer, no I/O: ours {ours:.0f}/s, pyrad {theirs:.0f}/s, {ours / theirs:.1f} times"
    )


def compare(echo_port: int, auth_port: int, acct_port: int) -> None:
    chance = random.Random(7)
    echoes, asked, reported = [], [], []
    for number in range(RUNS):
        requests = access_requests(MAC_PACKETS, chance)
        reports = interim_updates(REPORT_PACKETS, number * (REPORT_PACKETS // 2000))
        echoes.append(drive((requests * 3)[:ECHO_PACKETS], echo_port, ADDRESS))
        asked.append(drive(requests, auth_port, ADDRESS))
        reported.append(drive(reports, acct_port, ADDRESS))
    bare = statistics.median(run.rate for run in echoes)
    say("bare asyncio + uvloop echo", echoes, bare)
    say("MAC answers, committed first", asked, bare)
    say("interim updates, committed first", reported, bare)


def say(what: str, runs: list[Measured], bare: float) -> None:
    rate = statistics.median(run.rate for run in runs)
    p50, p99 = (statistics.median(values) for values in ((r.p50_ms for r in runs), (r.p99_ms for r in runs)))
    print(f"{what:34} {rate:9.0f}/s  ratio {rate / bare:5.3f}  p50 {p50:6.2f} ms  p99 {p99:6.2f} ms")


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
                web.post(f"{str(page.url).partition('?')[0]}/code", data={"csrf": csrf[1], "code": code})
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
