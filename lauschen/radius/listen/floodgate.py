"""Lets the kernel drop most of what a flooding address sends: reading it only to drop it would cost the others.

A classic BPF filter on the listening socket (Linux, SO_ATTACH_FILTER): addresses that are shut out pass one packet of
eight, so that a device which floods is still heard, and its flood is still seen.
"""

import ctypes
import socket
import struct
from collections import Counter
from ipaddress import ip_address

SO_ATTACH_FILTER, SO_DETACH_FILTER, SO_MEMINFO = 26, 27, 55
MEMINFO_DROPS = 8
LOAD_WORD, JUMP, JUMP_EQUAL, JUMP_ABOVE, RETURN = 0x20, 0x05, 0x15, 0x25, 0x06
IP_HEADER = 0x100000000 - 0x100000
"""SKF_NET_OFF: octets are counted from the IP header on."""
SOURCE4, SOURCE6 = IP_HEADER + 12, IP_HEADER + 8
"""Where it holds the source address, of four octets or of sixteen."""
WORD = 4
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
    """`struct sock_filter` instructions, eight octets each: code, two jumps, a number.

    Addresses are of one version of IP, that of the socket.
    """
    blocks = list[list[tuple[int, int, int, int]]]()
    for address in addresses:
        octets = ip_address(address).packed
        first = SOURCE4 if len(octets) == WORD else SOURCE6
        # Each word is loaded and compared; where one differs, on to the next address, else to the sampling.
        block = list[tuple[int, int, int, int]]()
        for at in range(0, len(octets), WORD):
            left = 2 * (len(octets) - at) // WORD - 1
            block.append((LOAD_WORD, 0, 0, first + at))
            block.append((JUMP_EQUAL, 0, left, int.from_bytes(octets[at : at + WORD], "big")))
        blocks.append(block)
    length = sum(len(block) + 1 for block in blocks)
    steps = list[tuple[int, int, int, int]]()
    for block in blocks:
        steps += block
        steps.append((JUMP, 0, 0, length - len(steps)))
    steps += [
        (RETURN, 0, 0, ALL),
        (LOAD_WORD, 0, 0, RANDOM),
        (JUMP_ABOVE, 0, 1, ALL // PASSED_OF),
        (RETURN, 0, 0, 0),
        (RETURN, 0, 0, ALL),
    ]
    return b"".join(struct.pack("=HBBI", *step) for step in steps)
