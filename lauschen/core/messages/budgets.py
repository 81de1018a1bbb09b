"""How many messages there may be in a day: for one address, one device, one network, and of text messages in all."""

from dataclasses import dataclass

DAY_S = 86_400.0
ADDRESS_DAY = 10
DEVICE_DAY = 6
NETWORK_DAY = 2000
HOST_DAY = 80
"""For one address of a host: many guests may ask for the same one."""


@dataclass(frozen=True, slots=True)
class Spent:
    """Messages of the last 24 hours, before the one in question."""

    address: int = 0
    device: int = 0
    network: int = 0
    texts: int = 0
    """Text messages of the whole house; zero for other channels."""


def budget_over(spent: Spent, texts_day: int | None = None, *, to_host: bool = False) -> str | None:
    """Which budget would be exceeded by one more: `address`, `host`, `device`, `network`, `texts`; None: none."""
    if spent.address >= (HOST_DAY if to_host else ADDRESS_DAY):
        return "host" if to_host else "address"
    if spent.device >= DEVICE_DAY:
        return "device"
    if spent.network >= NETWORK_DAY:
        return "network"
    if texts_day is not None and spent.texts >= texts_day:
        return "texts"
    return None
