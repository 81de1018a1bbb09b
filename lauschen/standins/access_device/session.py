"""What the stand-in knows of one associated phone: its placement, its time-outs, and what it really carried."""

import asyncio
from dataclasses import dataclass, field
from urllib.parse import quote

from lauschen.radius.wire.attributes import read_vendor, read_vlan
from lauschen.radius.wire.codec import Packet
from lauschen.radius.wire.numbers import Kind, TerminationAction
from lauschen.road.clock import Timer

REDIRECT = (32473, 1)
DOOR_FILTER = "doorstep"


@dataclass(slots=True)
class Placement:
    """What an Access-Accept said."""

    vlan: str | None = None
    filter_name: str | None = None
    redirect: str | None = None
    session_timeout: int | None = None
    idle_timeout: int | None = None
    asks_again: bool = False
    """Termination-Action RADIUS-Request: ask at the time-out instead of ending."""
    class_: bytes | None = None
    user: bytes | None = None

    @property
    def is_door(self) -> bool:
        return self.filter_name == DOOR_FILTER or self.redirect is not None

    def page_for(self, going: str) -> str | None:
        """Where plain HTTP is sent: the page, with where the guest was going appended (unsigned)."""
        if self.redirect is None:
            return None
        joint = "&" if "?" in self.redirect else "?"
        return f"{self.redirect}{joint}url={quote(going, safe='')}"


def read_placement(accept: Packet) -> Placement:
    """What this dialect honours of an Access-Accept."""
    placement = Placement(
        filter_name=accept.text(Kind.FILTER_ID),
        session_timeout=accept.integer(Kind.SESSION_TIMEOUT),
        idle_timeout=accept.integer(Kind.IDLE_TIMEOUT),
        asks_again=accept.integer(Kind.TERMINATION_ACTION) == TerminationAction.RADIUS_REQUEST,
        class_=accept.first(Kind.CLASS),
        user=accept.first(Kind.CHARGEABLE_USER_IDENTITY),
    )
    group = accept.first(Kind.TUNNEL_PRIVATE_GROUP_ID)
    if group is not None:
        placement.vlan = read_vlan(group)
    for value in accept.all(Kind.VENDOR_SPECIFIC):
        vendor = read_vendor(value)
        for number, sub in vendor[1] if vendor else ():
            if vendor and (vendor[0], number) == REDIRECT:
                placement.redirect = sub.decode()
    return placement


@dataclass(slots=True)
class Session:
    """One association, from joining to leaving."""

    id: str
    began: float
    """Monotonic seconds."""
    placement: Placement
    octets_in: int = 0
    """From the phone."""
    octets_out: int = 0
    last_traffic: float = 0.0
    timers: list[Timer] = field(default_factory=list)
    flows: set["asyncio.Task[None]"] = field(default_factory=set)
    """Open connections that a change of role cuts; those to the walled garden are not among them."""

    def cut_flows(self) -> None:
        current = asyncio.current_task()
        for flow in list(self.flows):
            if flow is not current:
                flow.cancel()

    def stop_timers(self) -> None:
        for timer in self.timers:
            timer.cancel()
        self.timers.clear()
