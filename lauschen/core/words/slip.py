"""What the QR codes of slips and mails contain, and where a code may be used."""

from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork, Match
from lauschen.core.ids import NetworkId
from lauschen.core.ways.kinds import WayIn

_WIFI_SPECIAL = '\\;,:"'


def slip_address(config: Config, code: str) -> str:
    """What the QR code says: a plain host outside the walled garden, so that it is intercepted at the door."""
    return f"http://{config.slip_host}/{code}"


def taking_networks(config: Config, way: WayIn, only: NetworkId | None) -> list[GuestNetwork]:
    """Return the networks that offer this way in; `only` limits them to one."""
    networks = config.networks.values()
    return [n for n in networks if n.way(way) is not None and only in (None, n.id)]


def wifi_join(config: Config, way: WayIn, only: NetworkId | None = None) -> str | None:
    """What a QR code says that joins the Wi-Fi, the first that takes the code; None where no SSID is whole."""
    whole = [n for n in taking_networks(config, way, only) if n.ssid.match is Match.EXACT]
    if not whole:
        return None
    return f"WIFI:T:nopass;S:{_escaped(whole[0].shown_as)};;"


def wifi_by_key(network: GuestNetwork, passphrase: str) -> str:
    """What a QR code says that joins by a passphrase."""
    return f"WIFI:T:WPA;S:{_escaped(network.shown_as)};P:{_escaped(passphrase)};;"


def _escaped(text: str) -> str:
    return "".join(f"\\{sign}" if sign in _WIFI_SPECIAL else sign for sign in text)


def page_words(config: Config) -> str:
    """The page's address as people type it."""
    return config.page_url.partition("://")[2]
