"""Calls to controllers that learn of logins by HTTP: as the dialect describes them."""

from collections.abc import Mapping

import httpx

from lauschen.core.dialect import Call
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.template import fill, fill_body, fill_url
from lauschen.outgoing.reach import Reach, Resolve, check_target, resolve
from lauschen.road.errands import ACCEPTED, SILENT

TIMEOUT_S = 5.0
LARGEST_ANSWER = 64 * 1024


async def call(described: Call, words: Mapping[str, str], reach: Reach, look_up: Resolve = resolve) -> str:
    """`accepted`, `silent`, or `http:` and what was wrong. Never follows a redirect."""
    url = fill_url(described.url, words)
    try:
        target = await check_target(url, reach, look_up)
    except Invalid as exc:
        return f"http:{exc.mend}"
    except Unavailable:
        return SILENT
    headers = {name: _one_line(fill(value, words)) for name, value in described.headers}
    headers["Host"] = target.host if target.port in (80, 443) else f"{target.host}:{target.port}"
    ip = f"[{target.ip}]" if ":" in target.ip else target.ip
    try:
        # The address that was checked is the one that is reached; the certificate must still be the name's.
        async with (
            httpx.AsyncClient(timeout=TIMEOUT_S, follow_redirects=False, trust_env=False) as http,
            http.stream(
                described.method,
                f"{target.scheme}://{ip}:{target.port}{target.path}",
                headers=headers,
                content=fill_body(described.body, words).encode(),
                extensions={"sni_hostname": target.host},
            ) as answer,
        ):
            return _judge(described, answer.status_code, await _read(answer))
    except httpx.TimeoutException:
        return SILENT
    except httpx.HTTPError as exc:
        return f"http:{type(exc).__name__}"


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
