"""Mail by SMTP (RFC 5321): always encrypted, the certificate checked, and the other side's own words kept."""

import asyncio
import socket

from aiosmtplib import SMTP
from aiosmtplib.errors import (
    SMTPAuthenticationError,
    SMTPConnectError,
    SMTPException,
    SMTPRecipientsRefused,
    SMTPResponseException,
    SMTPServerDisconnected,
    SMTPTimeoutError,
)

from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.messages.channels import MailServer, Security
from lauschen.notify.answer import Answer, shortened
from lauschen.outgoing.authorities import context_for
from lauschen.outgoing.faults import os_words, tls_fault
from lauschen.outgoing.reach import Reach, Resolve, check_host, resolve

STEP_S = 20.0
"""For one answer of the server."""
WHOLE_S = 90.0
PERMANENT = 500
"""RFC 5321 section 4.2.1: from here on it will be the same next time."""


class Postman:
    """Carries one mail to the server, over a connection of its own."""

    def __init__(self, reach: Reach, look_up: Resolve = resolve) -> None:
        self._reach = reach
        self._look_up = look_up

    async def send(self, server: MailServer, to: str, octets: bytes) -> Answer:
        """Never raises what is outside of us."""
        try:
            async with asyncio.timeout(WHOLE_S):
                return await self._send(server, to, octets)
        except Invalid as exc:
            return Answer(False, exc.mend)
        except Unavailable as exc:
            return Answer(False, f"{exc.what} leads nowhere now.")
        except (TimeoutError, SMTPTimeoutError):
            return Answer(False, f"{server.host} did not answer in time.")
        except (SMTPException, OSError) as exc:
            return _said(server, exc)

    async def _send(self, server: MailServer, to: str, octets: bytes) -> Answer:
        ip = await check_host(server.host, server.port, self._reach, self._look_up)
        context = await asyncio.to_thread(context_for, server.authority)
        connection = await _connect(ip, server.port)
        is_tls = server.security is Security.TLS
        # The address that was checked is the one that is reached; the certificate must still be the name's.
        smtp = SMTP(
            hostname=server.host,
            sock=connection,
            timeout=STEP_S,
            use_tls=is_tls,
            start_tls=not is_tls,
            tls_context=context,
            local_hostname=server.sender.rpartition("@")[2],
        )
        try:
            await smtp.connect()
            if server.user:
                await smtp.login(server.user, server.password)
            _, said = await smtp.sendmail(server.sender, [to], octets)
        finally:
            smtp.close()
        return Answer(True, shortened(said))


async def _connect(ip: str, port: int) -> socket.socket:
    connection = socket.socket(socket.AF_INET6 if ":" in ip else socket.AF_INET, socket.SOCK_STREAM)
    connection.setblocking(False)
    try:
        async with asyncio.timeout(STEP_S):
            await asyncio.get_running_loop().sock_connect(connection, (ip, port))
    except BaseException:
        connection.close()
        raise
    return connection


def _said(server: MailServer, error: Exception) -> Answer:
    if isinstance(error, SMTPRecipientsRefused):
        first = error.recipients[0]
        return Answer(False, _reply(server, first.code, first.message), is_final=first.code >= PERMANENT)
    if isinstance(error, SMTPAuthenticationError):
        return Answer(False, f"It refuses our name and password. {_reply(server, error.code, error.message)}")
    if isinstance(error, SMTPResponseException):
        if error.code < 0:  # the library's own word for lines that are none
            return Answer(
                False, f"What {server.host} says at port {server.port} is not what a mail server says."
            )
        return Answer(False, _reply(server, error.code, error.message))
    tls = tls_fault(error)
    if tls == "wrong version number" and server.security is Security.TLS:
        return Answer(False, f"{server.host} does not begin with TLS at port {server.port}: try STARTTLS.")
    if tls is not None:
        return Answer(False, f"The connection to {server.host} is not to be trusted: {tls}.")
    if isinstance(error, SMTPServerDisconnected | SMTPConnectError):  # it was reached by a socket of ours
        return Answer(False, f"{server.host} closed the connection.")
    if isinstance(error, SMTPException) and "STARTTLS" in str(error):
        return Answer(False, f"{server.host} does not offer STARTTLS, and mail goes out encrypted only.")
    if isinstance(error, OSError):
        return Answer(False, f"{server.host}: {os_words(error)}.")
    return Answer(False, shortened(f"{server.host}: {error}"))


def _reply(server: MailServer, code: int, message: str) -> str:
    return shortened(f"{server.host} answered: {code} {message}")
