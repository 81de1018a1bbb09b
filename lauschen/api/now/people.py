"""Networks for which nobody but the administrator may issue, though their ways in need somebody who does."""

from collections.abc import Iterator
from sqlite3 import Connection

from lauschen.acts.people.trying import MOST, WINDOW_S
from lauschen.api.now.models import Attention
from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork
from lauschen.core.people.duties import Duty
from lauschen.core.people.limits import Limits
from lauschen.core.ways.kinds import AT_DESK
from lauschen.core.words.text import visible
from lauschen.store.people import attempts, staff
from lauschen.store.people.attempts import Attempt


def nobody_issues(conn: Connection, config: Config) -> Iterator[Attention]:
    """Where somebody works at the desk at all: in a house of administrators alone, they are the desk."""
    bounds = [one.limits for one in staff.all_staff(conn) if one.duty is Duty.DESK]
    if not bounds:
        return
    for network in config.networks.values():
        needed = [way for way in AT_DESK if network.way(way) is not None]
        if needed and not any(_may(config, limits, network) for limits in bounds):
            yield Attention(
                kind="nobody_issues",
                grave=False,
                text=f"Nobody of the desk may issue for {visible(network.name)}: only an administrator can.",
                mend="Widen what somebody may give, or let somebody else issue there.",
                link="/settings?part=people",
                network=network.id,
            )


def second_factors_tried(conn: Connection, now: float) -> Iterator[Attention]:
    """Whose right password came with wrong codes, up to where no more are taken."""
    most = MOST[Attempt.SECOND_FACTOR]
    for name, tries in attempts.who_tried(conn, Attempt.SECOND_FACTOR, now - WINDOW_S, most):
        yield Attention(
            kind="second_factor",
            grave=True,
            text=f"{visible(name)}: {tries} wrong codes of the second factor within an hour, after the right"
            " password.",
            mend="No more are taken for a while. If it was not them, somebody knows their password: set another one.",
            link="/settings?part=people",
        )


def _may(config: Config, limits: Limits, network: GuestNetwork) -> bool:
    offered = {plan.id for plan in config.offered_plans}
    has_plan = not limits.plans or bool(offered & set(limits.plans))
    return has_plan and (not limits.networks or network.id in limits.networks)
