"""The load: a fixed window of distinct packets in flight, prepared beforehand (rulings 7)."""

import socket
import time
from dataclasses import dataclass

WINDOW = 64
PATIENCE_S = 2.0


@dataclass(frozen=True)
class Measured:
    """One run."""

    rate: float
    """Answers per second."""
    p50_ms: float
    p99_ms: float
    lost: int


def drive(packets: list[bytes], port: int, source: str) -> Measured:
    """Sends all packets, 64 in flight, and waits for every answer. The second octet of a packet is its id."""
    sock = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4 << 20)
    sock.bind((source, 0))
    sock.connect(("127.0.0.1", port))
    sock.settimeout(PATIENCE_S)
    sent_at = [0.0] * 256
    waits: list[float] = []
    clock, send, receive = time.perf_counter, sock.send, sock.recv
    following = iter(packets)
    started = clock()
    for packet in (next(following) for _ in range(WINDOW)):
        sent_at[packet[1]] = clock()
        send(packet)
    lost = 0
    try:
        while len(waits) < len(packets):
            answer = receive(4096)
            now = clock()
            waits.append(now - sent_at[answer[1]])
            packet = next(following, b"")
            if packet:
                sent_at[packet[1]] = now
                send(packet)
    except TimeoutError:
        lost = len(packets) - len(waits)
    took = clock() - started - (PATIENCE_S if lost else 0.0)
    sock.close()
    waits.sort()
    return Measured(
        len(waits) / took, waits[len(waits) // 2] * 1000, waits[int(len(waits) * 0.99)] * 1000, lost
    )
