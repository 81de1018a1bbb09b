"""What was heard, in our words. Slots without `frozen`: these are made for each packet (rulings 1.3)."""

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from lauschen.core.decide.reason import Reason
from lauschen.core.ids import AccessDeviceId, Mac, NetworkId
from lauschen.core.ways.ways import Asked


class Medium(StrEnum):
    """How an arrival reached us."""

    ASKED = "asked"
    """An access device asked for a device that joined."""
    REAUTHORISED = "reauthorised"
    """An access device asked again because we told it to (RFC 5176 section 3)."""
    PAGE = "page"
    """A guest offered something at the page."""
    PERSON = "person"
    """An access device asked for a person, with a name and a voucher code."""
    POSTED = "posted"
    """An access device asked with the one-time name and secret that the page gave the guest's browser."""
    CHANGED = "changed"
    """Nobody asked: what a device should have now is sent to its access device as new attributes."""


@dataclass(slots=True)
class Arrival:
    """What was heard, in our words."""

    medium: Medium
    mac: Mac
    access_device: AccessDeviceId
    ssid: bytes | None = None
    network: NetworkId | None = None
    """Set instead of `ssid` when the page already knows it from the token."""
    spelled: str = ""
    """Calling-Station-Id as this access device writes it."""
    session_id: str | None = None
    framed_ip: str | None = None
    nas_identifier: str | None = None
    port_id: str | None = None
    port_type: int | None = None
    source: str = ""
    """The address that the request came from."""
    offer: Asked | None = None
    """What is to let it in; None: what it was admitted by before."""
    is_signed: bool = True
    """Whether the request carried a Message-Authenticator: keys go nowhere else."""
    refusal: Reason | None = None
    """What made the request unanswerable before any device was looked at."""

    def on(self, network: NetworkId) -> "Arrival":
        """Return a copy for a job to work with, on the network that was recognised; what was heard never changes."""
        return Arrival(
            self.medium, self.mac, self.access_device, self.ssid, network, self.spelled, self.session_id,
            self.framed_ip, self.nas_identifier, self.port_id, self.port_type, self.source, self.offer,
            self.is_signed, self.refusal,
        )  # fmt: skip

    def hints(self) -> str:
        """JSON of what it said of where it comes from, so that it can be decided again; octets as characters."""
        return _hints(
            self.ssid,
            self.nas_identifier,
            self.port_id,
            self.port_type,
            self.source,
            None if self.offer is None else self.offer.kind,
        )


# Kept, since most packets of an access device say the same.
@lru_cache(maxsize=1024)
def _hints(
    ssid: bytes | None,
    nas_identifier: str | None,
    port_id: str | None,
    port_type: int | None,
    source: str,
    offer: str | None,
) -> str:
    said = {
        "ssid": None if ssid is None else ssid.decode("latin-1"),
        "nas_identifier": nas_identifier,
        "port_id": port_id,
        "port_type": port_type,
        "source": source or None,
        "offer": offer,
    }
    return json.dumps(
        {name: value for name, value in said.items() if value is not None}, separators=(",", ":")
    )
