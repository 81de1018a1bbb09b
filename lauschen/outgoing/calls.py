"""Calls to controllers that learn of logins by HTTP: as the dialect describes them."""

import asyncio
from collections.abc import Mapping
from http.cookiejar import CookieJar, DefaultCookiePolicy

import httpx

from lauschen.acts.moving.errands import ACCEPTED, SILENT
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.house.dialect import Call
from lauschen.core.words.template import fill, fill_body, fill_url
from lauschen.outgoing.reach import Reach, Resolve, Target, check_target, resolve

TIMEOUT_S = 5.0
"""For a whole call: the name, the connection, the answer to its last octet."""
LARGEST_ANSWER = 64 * 1024


class Caller:
    """One client for all calls: making one costs 60 ms of the loop. Nothing is carried from one call to another."""

    def __init__(self, reach: Reach, look_up: Resolve = resolve) -> None:
        self._reach = reach
        self._look_up = look_up
        self._http: httpx.AsyncClient | None = None

    async def call(self, described: Call, words: Mapping[str, str]) -> str:
        """`accepted`, `silent`, or `http:` and what was wrong. Never follows a redirect."""
        try:
            async with asyncio.timeout(TIMEOUT_S):
                target = await check_target(fill_url(described.url, words), self._reach, self._look_up)
                return await self._ask(described, words, target)
        except Invalid as exc:
            return f"http:{exc.mend}"
        except (Unavailable, TimeoutError, httpx.TimeoutException):
            return SILENT
        except (httpx.HTTPError, httpx.InvalidURL) as exc:
            return f"http:{type(exc).__name__}"

    def make_ready(self) -> None:
        """Makes the client now, so that the first call does not."""
        self._client()

    async def close(self) -> None:
        if self._http is not None:
            await self._http.aclose()

    async def _ask(self, described: Call, words: Mapping[str, str], target: Target) -> str:
        headers = {name: _one_line(fill(value, words)) for name, value in described.headers}
        headers["Host"] = target.host if target.port in (80, 443) else f"{target.host}:{target.port}"
        ip = f"[{target.ip}]" if ":" in target.ip else target.ip
        # The address that was checked is the one that is reached; the certificate must still be the name's.
        async with self._client().stream(
            described.method,
            f"{target.scheme}://{ip}:{target.port}{target.path}",
            headers=headers,
            content=fill_body(described.body, words).encode(),
            extensions={"sni_hostname": target.host},
        ) as answer:
            return _judge(described, answer.status_code, await _read(answer))

    def _client(self) -> httpx.AsyncClient:
        if self._http is None:
            self._http = httpx.AsyncClient(
                timeout=TIMEOUT_S,
                follow_redirects=False,
                trust_env=False,
                cookies=CookieJar(DefaultCookiePolicy(allowed_domains=[])),
                # A connection that is kept would be reused for another name at the same address, whose certificate
                # nobody looked at.
                limits=httpx.Limits(max_keepalive_connections=0),
            )
        return self._http


async def _read(answer: httpx.Response) -> str:
    octets = b""
    async for piece in answer.aiter_bytes():
        octets += piece
        if len(octets) > LARGEST_ANSWER:
            break
    return octets[:LARGEST_ANSWER].decode("utf-8", "replace")


def _judge(described: Call, status: int, text: str) -> str:
    if status not in described.good_status:
        return f"http:it answered with status {status}"
    if described.good_text and described.good_text not in text:
        return "http:its answer lacks the text that means success"
    return ACCEPTED


def _one_line(text: str) -> str:
    """A header cannot be broken out of."""
    return "".join(sign for sign in text if sign.isprintable())
