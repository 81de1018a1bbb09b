"""How many messages there may be in a day: for one address, one device, one network, and of text messages in all."""

from dataclasses import dataclass

DAY_S = 86_400.0
ADDRESS_DAY = 10
DOMAIN_DAY = 400
"""For all mail addresses of one domain: somebody who has it can make up as many as they like."""
DEVICE_DAY = 6
NETWORK_DAY = 2000
RESERVE = 5
"""One of so many text messages of a day is kept for the desk."""
HOST_DAY = 80
"""For one address of a host: many guests may ask for the same one."""


@dataclass(frozen=True, slots=True)
class Spent:
    """Messages of the last 24 hours, before the one in question."""

    address: int = 0
    domain: int = 0
    device: int = 0
    network: int = 0
    texts: int = 0
    """Text messages of the whole house; zero for other channels."""


def texts_for_guests(texts_day: int) -> int:
    """So many of a day's text messages guests may bring about; the others are kept for the desk."""
    return texts_day - texts_day // RESERVE


def budget_over(spent: Spent, texts_day: int | None = None, *, to_host: bool = False) -> str | None:
    """Which budget would be exceeded by one more, as it is called in `Spent`, or `host`; None: none.

    `texts_day`: how many text messages a guest, or the desk, may cause in a day.
    """
    if not to_host and spent.domain >= DOMAIN_DAY:
        return "domain"
    if spent.address >= (HOST_DAY if to_host else ADDRESS_DAY):
        return "host" if to_host else "address"
    if spent.device >= DEVICE_DAY:
        return "device"
    if spent.network >= NETWORK_DAY:
        return "network"
    if texts_day is not None and spent.texts >= texts_day:
        return "texts"
    return None
