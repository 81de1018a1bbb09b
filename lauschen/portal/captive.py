"""The Captive Portal API (RFC 8908): a device asks by itself whether it is let in, and for how long.

There is one address for all, so a device is found by the address that accounting gave it (rulings 6.14).
"""

from sqlite3 import Connection
from typing import Any

from lauschen.core.config.config import Config
from lauschen.core.decide.standing import Standing, State
from lauschen.core.limits.left import left
from lauschen.store import devices

PATH = "/captive"
MEDIA_TYPE = "application/captive+json"


def captive_state(conn: Connection, config: Config, source: str, now: float) -> dict[str, Any] | None:
    """What RFC 8908 section 5 asks for; None when nobody, or more than one, has that address."""
    found = [one for one in devices.standings_at_address(conn, source) if one.state is not State.LEFT]
    if len(found) != 1 or found[0].network not in config.networks:
        return None
    admission = devices.open_admission_of(conn, found[0].mac, found[0].network)
    remains = None if admission is None else left(config.plan_of(admission.grant), admission.grant.use, now)
    is_in = _is_in(found[0]) and (remains is None or not remains.is_none)
    said: dict[str, Any] = {"captive": not is_in, "user-portal-url": f"{config.page_url}/"}
    if said["captive"]:
        return said
    if remains is not None:
        if remains.seconds is not None:
            said["seconds-remaining"] = remains.seconds
        if remains.octets is not None:
            said["bytes-remaining"] = remains.octets
    said["can-extend-session"] = any(not way.is_off for way in config.networks[found[0].network].ways)
    return said


def _is_in(standing: Standing) -> bool:
    return standing.state is standing.wanted is State.INSIDE
