"""Plain HTTP beside HTTPS: whoever opens the page by its own name is led to the secure one."""

from collections.abc import Callable
from urllib.parse import urlsplit

from starlette.requests import Request
from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Receive, Scope, Send


class ToHttps:
    """ASGI middleware. What devices probe comes under other names, and is answered as ever: so they notice."""

    def __init__(self, app: ASGIApp, *, page_url: Callable[[], str]) -> None:
        self._app, self._page_url = app, page_url

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        page = urlsplit(self._page_url())
        is_plain = scope["type"] == "http" and scope["scheme"] == "http" and page.scheme == "https"
        if is_plain and scope["method"] in ("GET", "HEAD"):
            url = Request(scope).url
            if url.hostname == page.hostname:
                query = f"?{url.query}" if url.query else ""
                # 307: asked again each time, since the house may go back to plain HTTP.
                there = RedirectResponse(f"{page.scheme}://{page.netloc}{url.path}{query}", 307)
                await there(scope, receive, send)
                return
        await self._app(scope, receive, send)
