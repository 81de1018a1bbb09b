"""Networks for which nobody but the administrator may issue, though their ways in need somebody who does."""

from collections.abc import Iterator
from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.core.house.house import House
from lauschen.core.house.network import GuestNetwork
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits
from lauschen.core.ways.kinds import AT_DESK
from lauschen.core.words.text import visible
from lauschen.store.people import staff


def nobody_issues(conn: Connection, house: House) -> Iterator[Attention]:
    """Where somebody works at the desk at all: in a house of administrators alone, they are the desk."""
    bounds = [one.limits for one in staff.all_staff(conn) if one.duty is Duty.DESK]
    if not bounds:
        return
    for network in house.networks.values():
        needed = [way for way in AT_DESK if network.way(way) is not None]
        if needed and not any(_may(house, limits, network) for limits in bounds):
            yield Attention(
                kind="nobody_issues",
                grave=False,
                text=f"Nobody of the desk may issue for {visible(network.name)}: only an administrator can.",
                mend="Widen what somebody may give, or let somebody else issue there.",
                link="/house?part=people",
                network=network.id,
            )


def _may(house: House, limits: Limits, network: GuestNetwork) -> bool:
    offered = {plan.id for plan in house.offered_plans}
    has_plan = not limits.plans or bool(offered & set(limits.plans))
    return has_plan and (not limits.networks or network.id in limits.networks)
