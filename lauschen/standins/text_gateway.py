"""A text gateway that keeps what it gets, and a small page where mails and text messages of the demo are read."""

import asyncio
import html
import re
from dataclasses import dataclass, field

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, Response
from starlette.routing import Route

from lauschen.standins.mailbox import Mail, Mailbox

_LINK = re.compile(r"https?://[^\s<>\"]+")
_PAGE = """<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Letterbox</title>
<meta name="viewport" content="width=device-width"><style>
body{{margin:0 auto;padding:1rem;max-width:44rem;font:1rem/1.5 sans-serif;background:#f3f1ea;color:#20242b}}
article{{border-top:1px solid #9a978d;padding:.6rem 0}} h2{{font-size:1rem;margin:0}} pre{{white-space:pre-wrap;
font:inherit;margin:.3rem 0}} small{{color:#5a5d63}}</style></head><body><h1>Letterbox of the demo</h1>
<p>What Lauschen sent to people who do not exist, the newest first.</p>{entries}</body></html>"""


@dataclass(frozen=True, slots=True)
class Text:
    """One that was taken."""

    to: str
    text: str
    mark: str


@dataclass
class TextGateway:
    """Takes `{"to": ..., "text": ..., "id": ...}` with the right token; tells by the id what came twice."""

    token: str
    fails: bool = False
    """Answers with status 200 and an error inside."""
    texts: list[Text] = field(default_factory=list)
    came: asyncio.Event = field(default_factory=asyncio.Event)

    async def take(self, request: Request) -> Response:
        if request.headers.get("authorization") != f"Bearer {self.token}":
            return JSONResponse({"result": "error", "reason": "token"}, 401)
        if self.fails:
            return JSONResponse({"result": "error", "reason": "no credit left"})
        wanted = await request.json()
        one = Text(str(wanted["to"]), str(wanted["text"]), str(wanted["id"]))
        if one.mark not in {known.mark for known in self.texts}:
            self.texts.append(one)
        self.came.set()
        return JSONResponse({"result": "taken", "number": len(self.texts)})


@dataclass
class Letterbox:
    """Both together, as the demo shows them."""

    mailbox: Mailbox
    gateway: TextGateway

    def app(self) -> Starlette:
        return Starlette(
            routes=[
                Route("/", self.read),
                Route("/mails", self.mails),
                Route("/texts", self.texts),
                Route("/mails/{number:int}", self.as_sent),
                Route("/send", self.gateway.take, methods=["POST"]),
            ]
        )

    async def read(self, request: Request) -> Response:
        texts = [
            f"<article><h2>Text message to {html.escape(one.to)}</h2><pre>{_linked(one.text)}</pre></article>"
            for one in reversed(self.gateway.texts)
        ]
        mails = [self._mail(number, mail) for number, mail in reversed(list(enumerate(self.mailbox.mails)))]
        return HTMLResponse(_PAGE.format(entries="".join(mails + texts) or "<p>Nothing yet.</p>"))

    async def mails(self, request: Request) -> Response:
        return JSONResponse(
            [
                {"to": mail.to, "subject": mail.subject, "text": mail.part("plain"), "mark": mail.mark}
                for mail in self.mailbox.mails
            ]
        )

    async def texts(self, request: Request) -> Response:
        return JSONResponse([{"to": one.to, "text": one.text} for one in self.gateway.texts])

    async def as_sent(self, request: Request) -> Response:
        """The HTML part as a mail program would show it: it runs nothing and loads nothing."""
        number = request.path_params["number"]
        if not 0 <= number < len(self.mailbox.mails):
            return Response("no such mail", 404)
        policy = "default-src 'none'; style-src 'unsafe-inline'; img-src data:"
        shown = self.mailbox.mails[number].shown()
        return HTMLResponse(shown, headers={"Content-Security-Policy": policy})

    def _mail(self, number: int, mail: Mail) -> str:
        return (
            f"<article><h2>{html.escape(mail.subject)}</h2><small>to {html.escape(mail.to)},"
            f' <a href="/mails/{number}">as sent</a></small><pre>{_linked(mail.part("plain"))}</pre></article>'
        )


def _linked(text: str) -> str:
    return _LINK.sub(lambda found: f'<a href="{found[0]}">{found[0]}</a>', html.escape(text))
