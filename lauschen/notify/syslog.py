"""Sends lines to syslog servers: by UDP (RFC 5426), TCP (RFC 6587) or TLS (RFC 5425)."""

import asyncio
import socket
import ssl

from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.messages.channels import SyslogServer, Transport
from lauschen.core.messages.syslog import framed
from lauschen.notify.answer import Answer
from lauschen.outgoing.authorities import context_for
from lauschen.outgoing.faults import os_words, tls_fault
from lauschen.outgoing.reach import Reach, Resolve, check_host, resolve

WHOLE_S = 20.0
LARGEST_UDP = 2048
"""RFC 5426 section 3.2: what every receiver should take."""


class Herald:
    """One connection for each line: they are few."""

    def __init__(self, reach: Reach, look_up: Resolve = resolve) -> None:
        self._reach = reach
        self._look_up = look_up

    async def send(self, server: SyslogServer, line: bytes) -> Answer:
        """Never raises what is outside of us. No syslog server says that it has taken anything."""
        try:
            async with asyncio.timeout(WHOLE_S):
                ip = await check_host(server.host, server.port, self._reach, self._look_up)
                if server.transport is Transport.UDP:
                    await _by_udp(ip, server.port, line)
                    return Answer(True, "Sent by UDP: nobody says whether it arrived.")
                await self._by_stream(server, ip, line)
        except Invalid as exc:
            return Answer(False, exc.mend)
        except Unavailable as exc:
            return Answer(False, f"{exc.what} leads nowhere now.")
        except TimeoutError:
            return Answer(False, f"{server.host} did not answer in time.")
        except ssl.SSLError as exc:
            return Answer(False, f"The connection to {server.host} is not to be trusted: {tls_fault(exc)}.")
        except OSError as exc:
            return Answer(False, f"{server.host}: {os_words(exc)}.")
        return Answer(True, "It was written to the connection, which then ended in order.")

    async def _by_stream(self, server: SyslogServer, ip: str, line: bytes) -> None:
        context = None
        if server.transport is Transport.TLS:
            context = await asyncio.to_thread(context_for, server.authority)
        reader, writer = await asyncio.open_connection(
            ip, server.port, ssl=context, server_hostname=server.host if context else None
        )
        try:
            writer.write(framed(line))
            await writer.drain()
            if writer.can_write_eof():
                writer.write_eof()
                await reader.read()  # until the other side ends it too
        finally:
            writer.close()
            await writer.wait_closed()


async def _by_udp(ip: str, port: int, line: bytes) -> None:
    with socket.socket(socket.AF_INET6 if ":" in ip else socket.AF_INET, socket.SOCK_DGRAM) as sock:
        sock.setblocking(False)
        await asyncio.get_running_loop().sock_sendto(sock, line[:LARGEST_UDP], (ip, port))
