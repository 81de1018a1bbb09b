"""What Now says of networks that access devices ask for, and may not."""

from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.config.config import Config
from lauschen.store.config import access_devices

SHOWN_S = 86_400.0
MOST = 5


def not_listed(conn: Connection, speaker: Speaker) -> list[Attention]:
    """Access devices that ask for networks that they do not serve, and those that serve none."""
    config, found = speaker.config, list[Attention]()
    for one in access_devices.not_served_since(conn, speaker.now - SHOWN_S, MOST):
        device, network = config.access_devices.get(one.access_device), config.networks.get(one.network)
        if device is None or network is None or config.serves(device.id, network.id):
            continue
        often = "once" if one.packets == 1 else f"{one.packets:,} times"
        text = f"{device.name} asked {often} for {network.name}, last {speaker.clock(one.last_at)}, and is not listed"
        mend = "It was refused. If guests use that network there, list it for the access device."
        link = f"/networks?device={device.id}"
        text += " for it."
        found.append(
            Attention(kind="not_served", grave=False, text=text, mend=mend, link=link, network=network.id)
        )
    return found + _serve_none(config)


def _serve_none(config: Config) -> list[Attention]:
    left = [device for device in config.access_devices.values() if not device.serves]
    if not left or not config.networks:
        return []
    names = " and ".join(device.name for device in left[:MOST])
    more = f", and {len(left) - MOST} more" if len(left) > MOST else ""
    verb = "serves" if len(left) == 1 else "serve"
    text = f"{names}{more} {verb} no network, so nobody gets in there."
    link = f"/networks?device={left[0].id}"
    mend = "List the networks that guests use there."
    return [Attention(kind="serves_none", grave=False, text=text, mend=mend, link=link)]
