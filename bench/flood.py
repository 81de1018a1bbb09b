"""An access device that floods: signed requests from its own address, at a given rate, until it is ended."""

import random
import socket
import sys
import time
from contextlib import suppress

from bench.packets import access_requests

ADDRESS = "127.77.0.12"
TICK_S = 0.002


def main(port: int, rate: float) -> None:
    packets = access_requests(5000, random.Random(9))
    sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    sock.bind((ADDRESS, 0))
    sock.connect(("127.0.0.1", port))
    sock.setblocking(False)
    print("flooding", flush=True)
    began, sent = time.perf_counter(), 0
    while True:
        due = int((time.perf_counter() - began) * rate)
        while sent < due:
            with suppress(BlockingIOError):  # the system's buffer is full of it already
                sock.send(packets[sent % len(packets)])
            sent += 1
        time.sleep(TICK_S)


if __name__ == "__main__":
    main(int(sys.argv[1]), float(sys.argv[2]))
