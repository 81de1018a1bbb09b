"""By what a network is recognised."""

from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork, Hint, Match
from lauschen.core.words.text import visible

PORT_TYPES = {15: "wired ports", 19: "Wi-Fi", 5: "virtual ports"}
"""NAS-Port-Type (RFC 2865 section 5.41)."""
_HINTS = {Match.EXACT: "is", Match.BEGINS: "begins with", Match.ENDS: "ends with"}


def recognised_words(network: GuestNetwork, config: Config) -> str:
    """By what a network is recognised."""
    parts = []
    for name, hint in (
        ("the SSID", network.ssid),
        ("NAS-Identifier", network.nas_identifier),
        ("NAS-Port-Id", network.port_id),
    ):
        if hint.match is not Match.ANY:
            parts.append(f"{name} {_HINTS[hint.match]} {hint_text(hint)}")
    if network.port_type is not None:
        parts.append(f"it is about {PORT_TYPES.get(network.port_type, f'NAS-Port-Type {network.port_type}')}")
    if network.access_device is not None:
        device = config.access_devices.get(network.access_device)
        parts.append(f"{device.name if device else 'a device that is gone'} asks")
    return " and ".join(parts)


def hint_text(hint: Hint) -> str:
    return visible(hint.value.decode("utf-8", "replace"))
