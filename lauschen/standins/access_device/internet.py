"""A little simulated internet: a table of hosts. It never dials beyond loopback."""

import re
from collections.abc import AsyncIterator
from dataclasses import dataclass
from html import escape

CHUNK = 64 * 1024
_BYTES = re.compile(r"/bytes/(\d{1,9})\Z")
_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{title}</title>
<body style="font:18px/1.5 system-ui,sans-serif;max-width:34rem;margin:3rem auto;padding:0 1rem">
<h1>{title}</h1><p>{text}</p></body></html>"""

SITES = {
    "score-of-the-day.example": ("Score of the day", "Today: a trio for three page-turners, in no hurry."),
    "hollerau.example": ("Hollerau", "Summer academy, guesthouse and instrument shop."),
    "probe.example": ("Success", "Success"),
}
FILES_HOST = "big-files.example"


@dataclass(frozen=True, slots=True)
class Answered:
    """A response of the simulated internet: its head, and the body in pieces."""

    status: str
    content_type: str
    length: int
    page: bytes | None = None

    async def body(self) -> AsyncIterator[bytes]:
        if self.page is not None:
            yield self.page
            return
        left = self.length
        while left > 0:
            piece = min(left, CHUNK)
            yield b"\x2e" * piece
            left -= piece


def answer(host: str, path: str) -> Answered:
    """What a host of the table says; others do not exist."""
    sized = _BYTES.match(path.partition("?")[0])
    if host == FILES_HOST and sized:
        return Answered("200 OK", "application/octet-stream", int(sized[1]))
    if host in SITES:
        title, text = SITES[host]
        page = _PAGE.format(title=escape(title), text=escape(text)).encode()
        return Answered("200 OK", "text/html; charset=utf-8", len(page), page)
    page = _PAGE.format(title="No such host", text=f"{escape(host)} is not in the table.").encode()
    return Answered("502 Bad Gateway", "text/html; charset=utf-8", len(page), page)
