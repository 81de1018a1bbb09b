"""Where the demo's mails and text messages arrive, and can be read."""

from dataclasses import dataclass, field

from lauschen.demo.site import MAIL_PASSWORD, TEXT_TOKEN, Outside
from lauschen.http.server import HttpServer, listen
from lauschen.outgoing.reach import Reach
from lauschen.standins.authority import make_tls
from lauschen.standins.mailbox import Mailbox
from lauschen.standins.text_gateway import Letterbox, TextGateway

HOST = "127.0.0.1"


@dataclass
class Letters:
    """`open` begins to listen; port 0 lets the system choose."""

    mailbox: Mailbox = field(
        default_factory=lambda: Mailbox(make_tls((HOST,)), user="lauschen", password=MAIL_PASSWORD)
    )
    gateway: TextGateway = field(default_factory=lambda: TextGateway(TEXT_TOKEN))
    port: int = 0
    """Of the page where they are read, and of the gateway."""
    _http: HttpServer | None = None

    async def open(self, port: int) -> Outside:
        await self.mailbox.open(HOST)
        (sock,) = listen([HOST], port)
        self.port = int(sock.getsockname()[1])
        self._http = HttpServer(Letterbox(self.mailbox, self.gateway).app(), [sock])
        await self._http.begin()
        return Outside(self.mailbox.port, self.mailbox.tls.authority, self.port, TEXT_TOKEN)

    @property
    def reach(self) -> Reach:
        """What Lauschen must be let through to."""
        return Reach(plain=frozenset({(HOST, self.mailbox.port), (HOST, self.port)}))

    async def close(self) -> None:
        if self._http is not None:
            await self._http.stop()
        await self.mailbox.close()
