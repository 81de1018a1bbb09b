"""Why a decision came out as it did: one line for each step, typed, kept as JSON and worded on reading.

A line is a tuple (rulings 1.3: it is made for each packet): its step, what the step found, and the facts of that.
"""

import json
from enum import StrEnum
from typing import Any, Literal, NamedTuple

from lauschen.core.ids import CredentialId, NetworkId, PlanId, RoleId, RuleId


class Step(StrEnum):
    """The steps of the decision in the order of reading."""

    NETWORK = "network"
    DEVICE = "device"
    BARS = "bars"
    CREDENTIAL = "credential"
    LIMITS = "limits"
    PLACEMENT = "placement"


class NetworkLine(NamedTuple):
    """`ssid`, `hints`, `token`, `there`: by what it was recognised; or `foreign_ssid`, `no_ssid`, `gone`;
    `not_served`: its access device may not ask for it.
    """

    step: Literal[Step.NETWORK]
    finding: str
    network: NetworkId | None = None
    said: str | None = None
    """The SSID that is nobody's."""


class DeviceLine(NamedTuple):
    """`new` or `known`."""

    step: Literal[Step.DEVICE]
    finding: str
    private: int
    medium: str


class BarsLine(NamedTuple):
    """`staff` since when, `tries` until when, or `none`."""

    step: Literal[Step.BARS]
    finding: str
    at: float | None = None


class PauseLine(NamedTuple):
    """The network lets nobody in, until when if that is known; `stays`: the device stays inside meanwhile."""

    step: Literal[Step.BARS]
    finding: Literal["paused", "stays"]
    since: float
    until: float | None


class CredentialLine(NamedTuple):
    """`offered` or `admitted`; or the reason why none counts."""

    step: Literal[Step.CREDENTIAL]
    finding: str
    credential: CredentialId | None = None
    at: float | None = None
    way: str | None = None


class KeysLine(NamedTuple):
    """So many keys went to its access point, and which of them it has shows when it joins."""

    step: Literal[Step.CREDENTIAL]
    finding: Literal["keys"]
    keys: int


class LimitsLine(NamedTuple):
    """Which limit binds, and what is left."""

    step: Literal[Step.LIMITS]
    finding: str | None
    plan: PlanId
    seconds: int | None
    until: float | None
    octets: int | None
    state: str
    """`over`, `left`, `early`: good from a later moment on, or `closed`: its plan is, until `until`."""


class SeatsLine(NamedTuple):
    """All of its devices, at once or ever, are others."""

    step: Literal[Step.LIMITS]
    finding: Literal["devices", "ever"]
    plan: PlanId
    taken: int
    of: int


class DoorLine(NamedTuple):
    """Placed before login."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["door"]
    role: RoleId


class NoRuleLine(NamedTuple):
    """None of the rules matches."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["no_rule"]
    passed: int


class LastRuleLine(NamedTuple):
    """Placed by the last rule, which always matches."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["last"]
    role: RoleId
    passed: int


class GivenRoleLine(NamedTuple):
    """What let it in brings its role along."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["given"]
    role: RoleId


class GroupLine(NamedTuple):
    """It belongs to a private group, which has a VLAN of its own."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["group"]
    vlan: int


class RuleLine(NamedTuple):
    """Placed by a rule."""

    step: Literal[Step.PLACEMENT]
    finding: Literal["rule"]
    rule: RuleId
    position: int
    role: RoleId
    passed: int


TraceLine = (
    NetworkLine
    | DeviceLine
    | BarsLine
    | PauseLine
    | CredentialLine
    | KeysLine
    | LimitsLine
    | SeatsLine
    | DoorLine
    | NoRuleLine
    | LastRuleLine
    | GivenRoleLine
    | GroupLine
    | RuleLine
)


# One encoder: `json.dumps` makes one for each call.
_encode = json.JSONEncoder(separators=(",", ":")).encode


def write_trace(trace: list[TraceLine]) -> str:
    return _encode(trace)


def read_trace(text: str) -> list[TraceLine]:
    """What `write_trace` wrote, also of versions before: they had fewer facts at the end of a line."""
    return [_line(*line) for line in json.loads(text)]


def _line(step: str, finding: str, *facts: Any) -> TraceLine:
    match Step(step), finding:
        case Step.NETWORK, "foreign_ssid":
            return NetworkLine(Step.NETWORK, finding, None, str(facts[-1]))
        case Step.NETWORK, _:
            return NetworkLine(Step.NETWORK, finding, *facts)
        case Step.DEVICE, _:
            return DeviceLine(Step.DEVICE, finding, *facts)
        case Step.BARS, "paused" | "stays":
            return PauseLine(Step.BARS, "paused" if finding == "paused" else "stays", *facts)
        case Step.BARS, _:
            return BarsLine(Step.BARS, finding, *facts)
        case Step.CREDENTIAL, "keys":
            return KeysLine(Step.CREDENTIAL, "keys", *facts)
        case Step.CREDENTIAL, _:
            return CredentialLine(Step.CREDENTIAL, finding, *facts)
        case Step.LIMITS, "devices" | "ever":
            return SeatsLine(Step.LIMITS, "devices" if finding == "devices" else "ever", *facts)
        case Step.LIMITS, _:
            return LimitsLine(Step.LIMITS, finding, *facts)
        case Step.PLACEMENT, "door":
            return DoorLine(Step.PLACEMENT, "door", *facts)
        case Step.PLACEMENT, "no_rule":
            return NoRuleLine(Step.PLACEMENT, "no_rule", *facts)
        case Step.PLACEMENT, "given":
            return GivenRoleLine(Step.PLACEMENT, "given", *facts)
        case Step.PLACEMENT, "group":
            return GroupLine(Step.PLACEMENT, "group", *facts)
        case Step.PLACEMENT, "last":
            return LastRuleLine(Step.PLACEMENT, "last", *facts)
    return RuleLine(Step.PLACEMENT, "rule", *facts)
