"""A trace is kept as JSON, and read back as the very lines that were written."""

import pytest

from lauschen.core.decide.trace import (
    BarsLine,
    CredentialLine,
    DeviceLine,
    DoorLine,
    LastRuleLine,
    LimitsLine,
    NetworkLine,
    NoRuleLine,
    RuleLine,
    SeatsLine,
    Step,
    TraceLine,
    read_trace,
    write_trace,
)
from lauschen.core.ids import CredentialId, NetworkId, PlanId, RoleId, RuleId

LINES: list[TraceLine] = [
    NetworkLine(Step.NETWORK, "ssid", NetworkId(1)),
    NetworkLine(Step.NETWORK, "foreign_ssid", None, "Höllerau"),
    DeviceLine(Step.DEVICE, "known", 1, "asked"),
    BarsLine(Step.BARS, "none"),
    BarsLine(Step.BARS, "tries", 12.5),
    CredentialLine(Step.CREDENTIAL, "offered", CredentialId(7), None, "passcode"),
    LimitsLine(Step.LIMITS, "time", PlanId(1), 60, 1234.5, None, "left"),
    LimitsLine(Step.LIMITS, None, PlanId(1), None, None, None, "early"),
    SeatsLine(Step.LIMITS, "devices", PlanId(1), 2, 2),
    DoorLine(Step.PLACEMENT, "door", RoleId(1)),
    NoRuleLine(Step.PLACEMENT, "no_rule", 3),
    LastRuleLine(Step.PLACEMENT, "last", RoleId(2), 3),
    RuleLine(Step.PLACEMENT, "rule", RuleId(4), 1, RoleId(2), 0),
]


@pytest.mark.parametrize("line", LINES)
def test_what_was_written_is_read(line: TraceLine) -> None:
    (read,) = read_trace(write_trace([line]))
    assert (type(read), read) == (type(line), line)


def test_older_lines_with_fewer_facts_are_read_too() -> None:
    assert read_trace('[["credential","offered",7]]') == [
        CredentialLine(Step.CREDENTIAL, "offered", CredentialId(7))
    ]
