"""Sentences of the room Networks: the stages of a network, what a dialect does, why packets were dropped."""

from collections.abc import Sequence
from datetime import datetime

from lauschen.api.networks.models import Stage
from lauschen.api.networks.way_words import PROVES, ways_words
from lauschen.api.words.networks import recognised_words
from lauschen.api.words.plans import plan_words, rate_amount
from lauschen.api.words.speaker import way_name
from lauschen.core.config.checks import ignored
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import Arrives, Dialect, Move
from lauschen.core.config.network import STATUS, GuestNetwork, Pause
from lauschen.core.config.role import Role
from lauschen.core.config.rule import Rule
from lauschen.core.ids import AccessDeviceId
from lauschen.core.limits.tries import BARRED_S, TRIES, WINDOW_S
from lauschen.core.ways.always import Trusted
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.going import shown_host
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.radius.listen.registry import Peer

DROPS = {
    "wrong_secret": (
        "signed with another secret than ours",
        "The secret differs: type the same one at both ends, or take it from a new sheet.",
    ),
    "unsigned": (
        "requests without Message-Authenticator",
        "Turn signing on at the device. If its firmware is too old for that, allow it here, knowing the risk.",
    ),
    "repeated": ("repetitions of requests that we had already", "Nothing to mend: they got the same answer again."),
    "flooded": ("more waiting than its share", "It sends faster than it is served; others are not kept waiting."),
    "unknown_code": (
        "kinds of packets that this port does not answer",
        "Authentication and accounting ports may be swapped.",
    ),
    "truncated": ("shorter than they say", "Something between cuts packets: look for fragments that are dropped."),
    "oversized": ("longer than a RADIUS packet may be", "The device sends what no RADIUS packet holds."),
    "length_lies": ("with an impossible length", "The device sends what no RADIUS packet holds."),
    "attribute_length": ("with an attribute of an impossible length", "The device's firmware errs; ask its maker."),
    "message_authenticator": ("with two signatures or a broken one", "The device's firmware errs; ask its maker."),
    "status_type": ("accounting that does not say what it reports", "The device's firmware errs; ask its maker."),
    "reply_too_long": (
        "with an answer that no packet holds",
        "Filter rules of the role and the Proxy-State of a proxy are over 4096 octets together: shorten either.",
    ),
    "proxy_state": ("with more Proxy-State than an answer holds", "A proxy between adds to each packet; look there."),
}  # fmt: skip
"""Reason -> what the packets were, and the mend."""

_ARRIVES = {
    Arrives.HANDED_OUT: "the page's signed address is handed out in the answer",
    Arrives.APPENDED: "the device appends who the guest is to one fixed address",
    Arrives.PLAIN: "guests open the short address by themselves",
}
_LEARNS = {
    Move.ATTRIBUTES: "new attributes in a CoA",
    Move.REAUTHORISE: "re-authorisation",
    Move.DISCONNECT: "a disconnect",
    Move.POSTED: "the guest's browser, which posts a one-time login",
    Move.CALLED: "a call to a controller",
}
CLOCK_AGREES_S = 5.0
MOST_LINES = 8
"""Of plans and of rules at a network's stage; the placement shows all."""
_SETTINGS = {
    "vlan": "its VLAN",
    "filter_name": "its filter name",
    "filter_rules": "its filter rules",
    "rate": "its rate",
}


def stages(network: GuestNetwork, config: Config, heard_at: Sequence[AccessDeviceId]) -> list[Stage]:
    """The path from left to right: what is set at each stage."""
    rules = [rule for rule in config.rules if rule.network in (None, network.id)]
    door = config.roles[network.door_role]
    serving = [one for one in config.access_devices.values() if config.serves(one.id, network.id)]
    places = _and_more([one.name for one in serving[:MOST_LINES]], len(serving), "access devices")
    at = [*serving, *(config.access_devices[device] for device in heard_at)]
    used = {device.dialect for device in at} or set(config.dialects)
    dialects = [config.dialects[one] for one in sorted(used)]
    arrives = sorted({_ARRIVES[dialect.arrives] for dialect in dialects})
    ends = sorted({f"ended by {_LEARNS[dialect.end_move]}" for dialect in dialects})
    tries, barred = duration_words(int(WINDOW_S)), duration_words(int(BARRED_S))
    paused = [pause_words(network.pause, config)] if network.pause is not None else []
    proves = [PROVES[way.way] for way in network.ways]
    if any(
        way.way in (WayIn.VOUCHER, WayIn.GUEST_PASS, WayIn.PASSCODE, WayIn.ACCOUNT, WayIn.SELF_REGISTRATION)
        for way in network.ways
    ):
        proves.append(f"{TRIES} wrong codes or passwords in {tries}: no more typing for {barred}")
    shown = rules if len(rules) <= MOST_LINES else rules[: MOST_LINES - 1]
    placed = _and_more([_placed_words(rule, config) for rule in shown], len(rules), "rules")
    if config.last_role is not None:
        placed.append(f"everybody else: {role_words(config.roles[config.last_role])}")
    return [
        Stage(
            name="Arrives",
            lines=[
                recognised_words(network, config),
                f"served by {_join(places)}" if places else "served by no access device yet: nobody gets in",
            ],
            opens="network",
        ),
        Stage(
            name="Is asked",
            lines=[*paused, *ways_words(network, config), *_before_words(network, door, arrives)],
            opens="ways",
        ),
        Stage(name="Proves", lines=proves or ["nothing yet"]),
        Stage(
            name="Is placed",
            lines=placed or ["no rule yet: everybody stays at the door"],
            opens="placement",
        ),
        Stage(name="Stays", lines=[*_onward(network), *_plans_words(network, config)], opens="placement"),
        Stage(name="Leaves", lines=["held when its time or data is used up", *ends]),
    ]


def _before_words(network: GuestNetwork, door: Role, arrives: list[str]) -> list[str]:
    """Where devices are meanwhile, and how their guests come to the page."""
    if network.by_key:
        return [f"until it is known which one it has: {role_words(door)}"]
    return [f"before login: {role_words(door)}", *arrives]


def pause_words(pause: Pause, config: Config) -> str:
    """Since when, until when, and what it means for those inside."""
    until = "until somebody ends it" if pause.until is None else f"until {_moment(pause.until, config)}"
    inside = "those inside go to the door" if pause.ends_stays else "those inside stay in"
    return f"Paused since {_moment(pause.since, config)}, {until}; {inside}, and nobody else is let in."


def trusted_words(one: Trusted, config: Config) -> str:
    """What is trusted."""
    if one.mac is not None:
        return spell_mac(one.mac)
    device = config.access_devices.get(one.access_device) if one.access_device is not None else None
    where = device.name if device is not None else "an access device that is gone"
    return f"port {visible(one.port)} of {where}" if one.port is not None else f"everything at {where}"


def _moment(at: float, config: Config) -> str:
    then = datetime.fromtimestamp(at, config.zone)
    return f"{then:%a} {then.day} {then:%b} {then:%H:%M}"


def _plans_words(network: GuestNetwork, config: Config) -> list[str]:
    """The plans that this network leads to; vouchers may have any."""
    given = {way.plan for way in network.ways if way.plan is not None}
    takes_any = any(way.plan is None for way in network.ways)
    plans = [plan for plan in config.offered_plans if takes_any or plan.id in given]
    shown = plans if len(plans) <= MOST_LINES else plans[: MOST_LINES - 1]
    lines = [f"{plan.name}: {plan_words(plan)}" for plan in shown]
    return _and_more(lines, len(plans), "plans") or ["no plan yet"]


def _onward(network: GuestNetwork) -> list[str]:
    if network.onward == STATUS:
        return ["after login: the status page"]
    return [f"after login: on to {visible(shown_host(network.onward))}"] if network.onward else []


def _and_more(lines: list[str], count: int, what: str) -> list[str]:
    return [*lines, f"and {count - len(lines)} more {what}"] if count > len(lines) else lines


def _placed_words(rule: Rule, config: Config) -> str:
    asks = [way_name(rule.way_in)] if rule.way_in else []
    asks += [config.plans[rule.plan].name] if rule.plan is not None else []
    return f"rule {rule.position}, {' and '.join(asks) or 'anything'}: {role_words(config.roles[rule.role])}"


def role_words(role: Role) -> str:
    return f"{role.name} ({sent_words(role)})"


def sent_words(role: Role) -> str:
    """What access devices are sent for it."""
    parts = [f"VLAN {role.vlan}"] if role.vlan is not None else []
    if role.filter_name is not None:
        parts.append(f"filter {role.filter_name}")
    if role.filter_rules:
        parts.append(f"{len(role.filter_rules)} filter rules")
    rates = ((role.down_bps, "down"), (role.up_bps, "up"))
    parts += [f"{rate_amount(rate)} {way}" for rate, way in rates if rate]
    return ", ".join(parts) or "nothing is sent for it"


def role_use_words(role: Role, config: Config) -> str:
    """Who places devices in it."""
    doors = [n.name for n in config.networks.values() if n.door_role == role.id]
    rules = [f"rule {r.position}" for r in config.rules if r.role == role.id]
    if doors:
        return f"before login on {_join(doors)}"
    if role.id == config.last_role:
        return (
            f"by {_join(rules)}, and everybody whom no rule places"
            if rules
            else "everybody whom no rule places"
        )
    return f"by {_join(rules)}" if rules else "no network or rule places devices in it"


def _join(names: list[str]) -> str:
    shown = names[:3] + ([f"{len(names) - 3} more"] if len(names) > 3 else [])
    return " and ".join([", ".join(shown[:-1]), shown[-1]]) if len(shown) > 1 else shown[0]


def dialect_words(dialect: Dialect) -> str:
    ways = _LEARNS[dialect.login_move]
    if dialect.end_move is not dialect.login_move:
        ways += f"; of an end by {_LEARNS[dialect.end_move]}"
    return f"{_ARRIVES[dialect.arrives][0].upper()}{_ARRIVES[dialect.arrives][1:]}; it learns of a login by {ways}."


def secret_words(peer: Peer) -> str:
    """Which secret is in use, during a change-over."""
    heard = [source for source in peer.sources.values() if source.last_heard]
    if peer.old_secret is None:
        return "one secret"
    old = sum(source.uses_old_secret for source in heard)
    if not heard:
        return "old and new are heard; nothing came yet"
    if old == 0:
        return "the new one is in use; the old one can be forgotten"
    if old == len(heard):
        return "the old one is still in use"
    return f"{old} of {len(heard)} addresses still use the old one"


def signing_words(peer: Peer) -> str:
    heard = [source for source in peer.sources.values() if source.last_heard]
    if peer.hears_unsigned:
        return "allowed to send unsigned requests, until the first signed one"
    if heard and not all(source.was_signed for source in heard):
        return "last heard unsigned"
    return "signed" if heard else "not heard yet"


def risk_words(peer: Peer) -> str | None:
    if not peer.hears_unsigned:
        return None
    return (
        "Anybody who can send under this device's address can ask in its name, for any guest; and whoever sits"
        " between can change the answers too (CVE-2024-3596). Keep that address and the path on a network of your"
        " own, and renew the firmware."
    )


def role_ignored_words(role: Role, config: Config) -> list[str]:
    """Which dialects in use will not carry out a setting of this role."""
    return [
        f"{config.dialects[one].name} ignores {_SETTINGS[setting]}"
        for one in config.spoken
        for setting in ignored(role, config.dialects[one])
    ]


def ignores_words(dialect: Dialect, config: Config) -> list[str]:
    """Settings of roles that devices of this dialect do not carry out."""
    return [
        f"{role.name}: {_SETTINGS[setting]}"
        for role in config.roles.values()
        for setting in ignored(role, dialect)
    ]


def clock_words(errors: list[float]) -> str | None:
    """Of the address whose clock is wrong most; seconds ahead of ours."""
    if not errors:
        return None
    worst = max(errors, key=abs)
    if abs(worst) < CLOCK_AGREES_S:
        return "agrees with ours"
    return f"{duration_words(int(abs(worst)))} {'ahead of' if worst > 0 else 'behind'} ours; nothing depends on it"
