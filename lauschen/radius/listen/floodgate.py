"""Lets the kernel drop most of what a flooding address sends: reading it only to drop it would cost the others.

A classic BPF filter on the listening socket (Linux, SO_ATTACH_FILTER): addresses that are shut out pass one packet of
eight, so that a device which floods is still heard, and its flood is still seen.
"""

import ctypes
import socket
import struct
from collections import Counter

SO_ATTACH_FILTER, SO_DETACH_FILTER, SO_MEMINFO = 26, 27, 55
MEMINFO_DROPS = 8
LOAD_WORD, JUMP_EQUAL, JUMP_ABOVE, RETURN = 0x20, 0x15, 0x25, 0x06
SOURCE_ADDRESS = 0x100000000 - 0x100000 + 12
"""SKF_NET_OFF: from the IP header on, which holds the source address at its octet 12."""
RANDOM = 0x100000000 - 0x1000 + 56
"""SKF_AD_OFF and SKF_AD_RANDOM: a word that is new for each packet."""
ALL = 0xFFFFFFFF
PASSED_OF = 8
WINDOW_S = 0.1
SHUT_AT = 500
"""Dropped packets of one address in one window."""
SHUT_S = 1.0
MOST_SHUT = 64


class FloodGate:
    """Belongs to one socket; times are monotonic."""

    def __init__(self, sock: socket.socket) -> None:
        self._socket = sock
        self._dropped: Counter[str] = Counter()
        self._window_ends = 0.0
        self._open_again = 0.0
        self._lost_before = 0
        self.shut: set[str] = set()
        """Addresses of which the kernel drops most."""

    def dropped(self, address: str, now: float) -> None:
        """A packet of this address was read in vain."""
        if now > self._window_ends:
            self._dropped.clear()
            self._window_ends = now + WINDOW_S
        self._dropped[address] += 1
        if self._dropped[address] == SHUT_AT and address not in self.shut and len(self.shut) < MOST_SHUT:
            self._shut_out(address, now)

    def look(self, now: float) -> dict[str, int]:
        """Opens for everybody once in a while, to see who still floods; how many the kernel dropped, by address."""
        if not self.shut or now < self._open_again:
            return {}
        shut, self.shut = self.shut, set()
        self._dropped.clear()
        share = max(0, self._lost() - self._lost_before) // len(shut)
        self._socket.setsockopt(socket.SOL_SOCKET, SO_DETACH_FILTER, 0)
        return dict.fromkeys(shut, share)

    def _lost(self) -> int:
        counters = self._socket.getsockopt(socket.SOL_SOCKET, SO_MEMINFO, 4 * (MEMINFO_DROPS + 1))
        return int(struct.unpack_from("=I", counters, 4 * MEMINFO_DROPS)[0])

    def _shut_out(self, address: str, now: float) -> None:
        program = program_for([*self.shut, address])
        buffer = ctypes.create_string_buffer(program)
        described = struct.pack("HL", len(program) // 8, ctypes.addressof(buffer))
        try:
            if not self.shut:
                self._open_again, self._lost_before = now + SHUT_S, self._lost()
            self._socket.setsockopt(socket.SOL_SOCKET, SO_ATTACH_FILTER, described)
        except OSError:  # no such filter on this system: the flood is read and dropped, as ever
            return
        self.shut.add(address)


def program_for(addresses: list[str]) -> bytes:
    """`struct sock_filter` instructions, eight octets each: code, two jumps, a number."""
    steps = [(LOAD_WORD, 0, 0, SOURCE_ADDRESS)]
    for left, address in zip(range(len(addresses), 0, -1), addresses, strict=True):
        # To the sampling, which comes after the other addresses and the return that accepts.
        steps.append((JUMP_EQUAL, left, 0, int.from_bytes(socket.inet_aton(address), "big")))
    steps += [
        (RETURN, 0, 0, ALL),
        (LOAD_WORD, 0, 0, RANDOM),
        (JUMP_ABOVE, 0, 1, ALL // PASSED_OF),
        (RETURN, 0, 0, 0),
        (RETURN, 0, 0, ALL),
    ]
    return b"".join(struct.pack("=HBBI", *step) for step in steps)
