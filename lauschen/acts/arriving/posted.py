"""The one-time login of a visit: the guest's browser posts it to the access device, which asks us with it.

The name is the visit's; the secret is computed from it and the time it was handed out, so nothing readable is
stored. It is bound to MAC, access device and visit, good for a minute, and used up in the deciding transaction
(rulings 6.2).
"""

import base64
import hmac

from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.reason import Reason
from lauschen.core.ids import Mac
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.road.tx import Tx
from lauschen.store import visits

GOOD_FOR_S = 60.0
SECRET_CHARACTERS = 16
_NAME = "visit-"


def hand_out(tx: Tx, digest: bytes) -> None:
    """A new one-time login for a visit, which is named by its hash; one before it is good no more."""
    visits.hand_out_login(tx.conn, digest, name=_NAME + digest[:8].hex(), now=tx.now)


def one_time_secret(key: bytes, visit_digest: bytes, mac: Mac, handed_out_at: float) -> str:
    """16 characters of base32."""
    message = b"posted" + visit_digest + mac.to_bytes(6, "big") + repr(handed_out_at).encode()
    return base64.b32encode(hmac.digest(key, message, "sha256")).decode().lower()[:SECRET_CHARACTERS]


def is_one_time(offered: NameAndPassword) -> bool:
    """Return whether the name is a visit's; any other is a person's, with a code."""
    return offered.name.startswith(_NAME)


def redeem(tx: Tx, arrival: Arrival, offered: NameAndPassword) -> Reason | None:
    """Use up a one-time login, or return why it does not count here and now."""
    login = visits.find_login(tx.conn, offered.name)
    if login is None or login.mac != arrival.mac or login.access_device != arrival.access_device:
        return Reason.SECRET_FOREIGN
    secret = one_time_secret(tx.keys.token_key, login.visit_digest, login.mac, login.handed_out_at)
    if not offered.proves(secret.encode()):
        return Reason.SECRET_FOREIGN
    if login.used_at is not None:
        return Reason.SECRET_USED
    if tx.now - login.handed_out_at > GOOD_FOR_S:
        return Reason.SECRET_OLD
    visits.use_login(tx.conn, login.visit_digest, tx.now)
    return None
