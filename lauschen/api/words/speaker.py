"""What every sentence about the house needs: its names, and the time of day there."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta

from lauschen.core.actor import Actor, ActorKind
from lauschen.core.config.config import Config
from lauschen.core.config.rule import Rule
from lauschen.core.ids import AccessDeviceId, CredentialId, Mac, NetworkId, PlanId, RoleId, RuleId
from lauschen.core.words.amounts import FAR_S
from lauschen.core.words.mac import short_mac
from lauschen.core.words.text import visible

GONE = "that is gone"
_OTHERS = {
    ActorKind.TOKEN: "a program with a token",
    ActorKind.HOST: "a host",
    ActorKind.HOLDER: "its holder",
    ActorKind.GUEST: "the guest",
    ActorKind.COMMAND_LINE: "the command line",
}


@dataclass(frozen=True, slots=True)
class Speaker:
    """Names for one house at one instant."""

    config: Config
    staff: dict[int, str]
    now: float
    holder: Callable[[Mac, float], str] = lambda _mac, _at: ""
    """For whom that was issued by which a device was in at that moment; empty when for nobody by name."""
    vouched: Callable[[CredentialId], str] = lambda _credential: ""
    """Who vouched for it; empty where nobody did."""

    def place(self, access_device: AccessDeviceId | None) -> str:
        device = self.config.access_devices.get(access_device) if access_device is not None else None
        return device.name if device else f"an access device {GONE}"

    def network(self, network: NetworkId) -> str:
        known = self.config.networks.get(network)
        return known.name if known else self.config.removed.networks.get(network, f"a network {GONE}")

    def role(self, role: RoleId | None) -> str:
        known = self.config.roles.get(role) if role is not None else None
        if known is not None or role is None:
            return known.name if known else f"a role {GONE}"
        return self.config.removed.roles.get(role, f"a role {GONE}")

    def plan(self, plan: PlanId) -> str:
        known = self.config.plans.get(plan)
        return known.name if known else f"a plan {GONE}"

    def rule(self, rule: RuleId | None) -> Rule | None:
        return next((known for known in self.config.rules if known.id == rule), None)

    def actor(self, actor: Actor | None) -> str:
        """Who acted; "somebody" where nobody was noted."""
        if actor is None:
            return "somebody"
        named = self.staff.get(actor.staff) if actor.staff is not None else None
        if actor.kind is ActorKind.PERSON:
            return named or "somebody"
        if actor.kind is ActorKind.TOKEN and named is not None:
            return f"the program {named}"
        return _OTHERS[actor.kind]

    def device(self, mac: Mac | None, at: float | None = None) -> str:
        """Who it was by name, if that is known; else the device."""
        if mac is None:
            return f"a device {GONE}"
        return visible(self.holder(mac, self.now if at is None else at)) or f"device {short_mac(mac)}"

    def who(self, mac: Mac | None, at: float | None = None) -> str:
        """The same at the beginning of a sentence."""
        words = self.device(mac, at)
        return words[0].upper() + words[1:]

    def clock(self, at: float) -> str:
        """`18:00`, with the day when it is another one, and with the year when that is far away."""
        zone = self.config.zone
        then, today = datetime.fromtimestamp(at, zone), datetime.fromtimestamp(self.now, zone).date()
        if then.date() == today:
            return f"{then:%H:%M}"
        if then.date() == today + timedelta(days=1):
            return f"tomorrow {then:%H:%M}"
        year = f" {then.year}" if abs(at - self.now) > FAR_S else ""
        return f"{then:%a} {then.day} {then:%b}{year}, {then:%H:%M}"


def way_name(way: str) -> str:
    """A way in as staff say it."""
    return way.replace("_", "-" if way in ("click_through", "self_registration") else " ")


def rule_words(speaker: Speaker, rule: Rule) -> str:
    parts = [f"network {speaker.network(rule.network)}" if rule.network is not None else "any network"]
    parts.append(f"way in {way_name(rule.way_in)}" if rule.way_in else "any way in")
    if rule.plan is not None:
        parts.append(f"plan {speaker.plan(rule.plan)}")
    return " and ".join(parts)
