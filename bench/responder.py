"""A responder built on pyrad, for comparison: it accepts everything and stores nothing. Two UDP ports on loopback."""

import asyncio
from pathlib import Path
from typing import Any

import uvloop
from pyrad.dictionary import Dictionary
from pyrad.packet import AccessAccept, AccountingResponse, AcctPacket, AuthPacket

from bench.packets import SECRET

WORDS = Path(__file__).parents[1] / "tests" / "radius" / "dictionary"


class Responder(asyncio.DatagramProtocol):
    """Verifies, decodes and answers with the attributes that ours would send at the door."""

    def __init__(self, *, is_accounting: bool) -> None:
        self._words = Dictionary(str(WORDS))
        self._is_accounting = is_accounting

    def connection_made(self, transport: Any) -> None:
        self._send = transport.sendto

    def datagram_received(self, data: bytes, addr: tuple[str, int]) -> None:
        if self._is_accounting:
            report = AcctPacket(packet=data, secret=SECRET.octets, dict=self._words)
            if report.VerifyAcctRequest():
                reply = report.CreateReply()
                reply.code = AccountingResponse
                self._send(reply.ReplyPacket(), addr)
            return
        asked = AuthPacket(packet=data, secret=SECRET.octets, dict=self._words)
        if not asked.verify_message_authenticator():
            return
        reply = asked.CreateReply()
        reply.code = AccessAccept
        reply["Filter-Id"] = "doorstep"
        reply["Session-Timeout"] = 1800
        reply["Acct-Interim-Interval"] = 600
        reply.add_message_authenticator()
        self._send(reply.ReplyPacket(), addr)


async def _serve() -> None:
    loop = asyncio.get_running_loop()
    ports = []
    for is_accounting in (False, True):
        transport, _ = await loop.create_datagram_endpoint(
            lambda is_accounting=is_accounting: Responder(is_accounting=is_accounting),  # type: ignore[misc]
            local_addr=("127.0.0.1", 0),
        )
        ports.append(transport.get_extra_info("sockname")[1])
    print(*ports, flush=True)
    await asyncio.Event().wait()


if __name__ == "__main__":
    uvloop.run(_serve())
