"""How one make of access device behaves: the stand-in can play every dialect."""

from dataclasses import dataclass
from urllib.parse import quote

from lauschen.core.ids import Mac
from lauschen.core.words.mac import spell_mac

LOGIN_HOST = "entrance.hollerau.example"
"""The access device's own login page, for guests whose browser posts to it."""


@dataclass(slots=True)
class Habits:
    """What it can do, and how it says where guests are."""

    appends_to: str | None = None
    """A fixed page address, to which it appends who the guest is; None: it redirects to what it was handed."""
    mac_field: str = "client_mac"
    going_field: str = "target"
    takes_attributes: bool = False
    """A CoA-Request may carry a new placement."""
    supports_reauthorise: bool = True
    has_own_login: bool = False
    """Its own login page hears a name and a password, and asks with them."""
    asks_by_chap: bool = False
    remembers_s: float = 0.0
    """An answer is used again for so long when the same device comes back."""
    keeps_session_id: bool = False
    """After a Disconnect the device rejoins under the same session id."""
    tells_address: bool = True
    """Framed-IP-Address in requests and accounting."""

    def page_for(self, mac: Mac, going: str) -> str | None:
        if self.appends_to is None:
            return None
        fields = {self.mac_field: spell_mac(mac).replace("-", ":").lower(), self.going_field: going}
        return f"{self.appends_to}?" + "&".join(f"{n}={quote(v, safe='')}" for n, v in fields.items())
