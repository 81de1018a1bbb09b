"""Calls to controllers that learn of logins by HTTP: as the dialect describes them."""

import asyncio
from collections.abc import Mapping
from dataclasses import dataclass
from http.cookiejar import CookieJar, DefaultCookiePolicy

import httpx

from lauschen.core.config.dialect import Call
from lauschen.core.decide.wanted import ACCEPTED, SILENT
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.words.template import fill, fill_body, fill_url
from lauschen.outgoing.faults import os_fault, tls_fault
from lauschen.outgoing.reach import Reach, Resolve, Target, check_target, resolve

TIMEOUT_S = 5.0
"""For a whole call: the name, the connection, the answer to its last octet."""
LARGEST_ANSWER = 64 * 1024
NO_ANSWER = "no answer in time"
FAULTS = (Invalid, Unavailable, TimeoutError, httpx.HTTPError, httpx.InvalidURL)
"""What can keep an answer from us."""


SHOWN_ANSWER = 200


@dataclass(frozen=True, slots=True)
class Heard:
    """What came of a call: `fault` empty when it was good. `status` 0: nothing was answered."""

    fault: str
    status: int = 0
    text: str = ""

    @property
    def is_good(self) -> bool:
        return not self.fault

    def words(self, secret: str = "") -> str:
        """In a sentence, with the beginning of what was answered, and without our secret."""
        said = " ".join(self.text.split())[:SHOWN_ANSWER]
        status = f"status {self.status}" if self.status and str(self.status) not in self.fault else ""
        words = ", ".join(part for part in (self.fault, status) if part) + (f": {said}" if said else "")
        return words.replace(secret, "…") if secret else words


class Caller:
    """One client for all calls: making one costs 60 ms of the loop. Nothing is carried from one call to another."""

    def __init__(self, reach: Reach, look_up: Resolve = resolve) -> None:
        self._reach = reach
        self._look_up = look_up
        self._http: httpx.AsyncClient | None = None

    async def call(self, described: Call, words: Mapping[str, str]) -> str:
        """`accepted`, `silent`, or `http:` and what was wrong. Never follows a redirect."""
        heard = await self.ask(described, words)
        if heard.is_good:
            return ACCEPTED
        return SILENT if heard.fault == NO_ANSWER else f"http:{heard.fault}"

    async def ask(self, described: Call, words: Mapping[str, str]) -> Heard:
        """The same, with what the other side said. Never raises what is outside of us."""
        try:
            async with asyncio.timeout(TIMEOUT_S):
                target = await check_target(fill_url(described.url, words), self._reach, self._look_up)
                headers = {name: fill(value, words) for name, value in described.headers}
                body = fill_body(described.body, words).encode()
                status, text = await self._ask(described.method, target, headers, body)
                return Heard(_judge(described, status, text), status, text)
        except FAULTS as exc:
            return _heard_nothing(exc)

    async def post(self, url: str, headers: Mapping[str, str], body: bytes) -> Heard:
        """These very octets; good is whatever is answered with a status of 200 to 299."""
        try:
            async with asyncio.timeout(TIMEOUT_S):
                target = await check_target(url, self._reach, self._look_up)
                status, text = await self._ask("POST", target, headers, body)
        except FAULTS as exc:
            return _heard_nothing(exc)
        return Heard("" if 200 <= status < 300 else "refused", status, text)

    def make_ready(self) -> None:
        """Makes the client now, so that the first call does not."""
        self._client()

    async def close(self) -> None:
        if self._http is not None:
            await self._http.aclose()

    async def _ask(
        self, method: str, target: Target, said: Mapping[str, str], body: bytes
    ) -> tuple[int, str]:
        headers = {name: _one_line(value) for name, value in said.items()}
        headers["Host"] = target.host if target.port in (80, 443) else f"{target.host}:{target.port}"
        ip = f"[{target.ip}]" if ":" in target.ip else target.ip
        # The address that was checked is the one that is reached; the certificate must still be the name's.
        async with self._client().stream(
            method,
            f"{target.scheme}://{ip}:{target.port}{target.path}",
            headers=headers,
            content=body,
            extensions={"sni_hostname": target.host},
        ) as answer:
            return answer.status_code, await _read(answer)

    def _client(self) -> httpx.AsyncClient:
        if self._http is None:
            self._http = httpx.AsyncClient(
                timeout=TIMEOUT_S,
                follow_redirects=False,
                trust_env=False,
                headers={"User-Agent": "Lauschen"},
                cookies=CookieJar(DefaultCookiePolicy(allowed_domains=[])),
                # A connection that is kept would be reused for another name at the same address, whose certificate
                # nobody looked at.
                limits=httpx.Limits(max_keepalive_connections=0),
            )
        return self._http


def _heard_nothing(fault: Exception) -> Heard:
    if isinstance(fault, Invalid):
        return Heard(fault.mend)
    if isinstance(fault, (Unavailable, TimeoutError, httpx.TimeoutException)):
        return Heard(NO_ANSWER)
    tls, system = tls_fault(fault), os_fault(fault)
    if tls is not None:
        return Heard(f"it is not to be trusted: {tls}")
    if system is not None:
        return Heard(system)
    if isinstance(fault, httpx.RemoteProtocolError):
        return Heard("what it answered is not HTTP, or was broken off")
    return Heard(f"it could not be asked ({type(fault).__name__})")


async def _read(answer: httpx.Response) -> str:
    octets = b""
    async for piece in answer.aiter_bytes():
        octets += piece
        if len(octets) > LARGEST_ANSWER:
            break
    return octets[:LARGEST_ANSWER].decode("utf-8", "replace")


def _judge(described: Call, status: int, text: str) -> str:
    """What is wrong with an answer; empty when it is good."""
    if status not in described.good_status:
        return f"it answered with status {status}"
    if described.good_text and described.good_text not in text:
        return "its answer lacks the text that means success"
    return ""


def _one_line(text: str) -> str:
    """A header cannot be broken out of."""
    return "".join(sign for sign in text if sign.isprintable())
