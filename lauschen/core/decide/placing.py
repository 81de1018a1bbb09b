"""The last step of the decision: where whoever may be in is placed."""

from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import Verdict, judge
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.trace import (
    GivenRoleLine,
    GroupLine,
    KeysLine,
    LastRuleLine,
    NoRuleLine,
    RuleLine,
    Step,
    TraceLine,
)
from lauschen.core.ids import NetworkId, RoleId, RuleId


def place_by_rule(
    network: GuestNetwork, grant: Grant, picture: Picture, verdict: Verdict, trace: list[TraceLine]
) -> Decision:
    """Where the first rule that matches says, or what it brings along."""
    role, rule = find_role(picture.config, network.id, grant, trace)
    if role is None:
        return Decision(Answer.DOOR, Reason.NO_RULE, network.id, network.door_role, trace=trace)
    if grant.vlan is not None:
        trace.append(GroupLine(Step.PLACEMENT, "group", grant.vlan))
    return Decision(
        Answer.ADMIT,
        Reason.ADMITTED,
        network.id,
        role,
        rule,
        grant.vlan,
        verdict.left,
        good_until=verdict.good_until,
        trace=trace,
    )


def let_try(network: GuestNetwork, picture: Picture, now: float, trace: list[TraceLine]) -> Decision:
    """Keys go to its access point, which lets it in by the one that it has: it is placed as that one says.

    Where they say different things, it is at the door until it is known which one it is.
    """
    found = {
        (find_role(picture.config, network.id, grant, [])[0], grant.vlan) for grant in picture.candidates
    }
    role, vlan = found.pop() if len(found) == 1 else (None, None)
    trace.append(KeysLine(Step.CREDENTIAL, "keys", len(picture.candidates)))
    left = None
    if len(picture.candidates) == 1:
        (only,) = picture.candidates
        left = judge(picture.config.plan_of(only), only, now).left
    return Decision(
        Answer.DOOR,
        Reason.KEY_TRIED,
        network.id,
        network.door_role if role is None else role,
        vlan=vlan,
        left=left,
        trace=trace,
    )


def find_role(
    config: Config, network: NetworkId, grant: Grant, trace: list[TraceLine]
) -> tuple[RoleId | None, RuleId | None]:
    """What a grant brings along, else what the first rule that matches says."""
    rule, passed = config.place(network, grant.way, grant.plan)
    if grant.role is not None and grant.role in config.roles:
        trace.append(GivenRoleLine(Step.PLACEMENT, "given", grant.role))
        return grant.role, None
    if rule is None and config.last_role is not None:
        trace.append(LastRuleLine(Step.PLACEMENT, "last", config.last_role, passed))
        return config.last_role, None
    if rule is None:
        trace.append(NoRuleLine(Step.PLACEMENT, "no_rule", passed))
        return None, None
    trace.append(RuleLine(Step.PLACEMENT, "rule", rule.id, rule.position, rule.role, passed))
    return rule.role, rule.id
