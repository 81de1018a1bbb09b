"""The worker process ends with the server, however that ends."""

import os
import signal
import subprocess
import sys
import time

SERVES = """
import asyncio, os
from lauschen.beside.worker import Worker

async def main():
    worker = Worker()
    print(await worker.run(os.getpid), flush=True)
    await asyncio.sleep(60)

asyncio.run(main())
"""
PATIENCE_S = 20.0


def is_alive(pid: int) -> bool:
    try:
        with open(f"/proc/{pid}/stat") as said:
            return said.read().rpartition(")")[2].split()[0] != "Z"
    except FileNotFoundError:
        return False


def test_a_killed_server_leaves_no_worker_behind() -> None:
    server = subprocess.Popen([sys.executable, "-c", SERVES], stdout=subprocess.PIPE, text=True)
    assert server.stdout is not None
    worker = int(server.stdout.readline())
    assert is_alive(worker)
    os.kill(server.pid, signal.SIGKILL)
    server.wait()
    server.stdout.close()
    until = time.monotonic() + PATIENCE_S
    while is_alive(worker) and time.monotonic() < until:
        time.sleep(0.05)
    assert not is_alive(worker)
