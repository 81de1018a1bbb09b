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
from lauschen.sentences.catalogue import sentences

_ACTORS = {
    ActorKind.TOKEN: "actor.token",
    ActorKind.HOST: "actor.host",
    ActorKind.HOLDER: "actor.holder",
    ActorKind.GUEST: "actor.guest",
    ActorKind.COMMAND_LINE: "actor.command_line",
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
    lang: str = "en"
    own: Mac | None = None
    """In the dossier of this device its lines need not name it."""

    def say(self, id: str, **facts: object) -> str:
        """Return a sentence of the log."""
        return sentences("log", self.lang).say(id, **facts)

    def place(self, access_device: AccessDeviceId | None) -> str:
        device = self.config.access_devices.get(access_device) if access_device is not None else None
        return device.name if device else self.say("removed.access_device")

    def network(self, network: NetworkId) -> str:
        known = self.config.networks.get(network)
        return known.name if known else self.config.removed.networks.get(network, self.say("removed.network"))

    def role(self, role: RoleId | None) -> str:
        known = self.config.roles.get(role) if role is not None else None
        if known is not None:
            return known.name
        removed = self.say("removed.role")
        return self.config.removed.roles.get(role, removed) if role is not None else removed

    def plan(self, plan: PlanId) -> str:
        known = self.config.plans.get(plan)
        return known.name if known else self.say("removed.plan")

    def rule(self, rule: RuleId | None) -> Rule | None:
        return next((known for known in self.config.rules if known.id == rule), None)

    def actor(self, actor: Actor | None) -> str:
        """Return who acted; "somebody" where nobody was noted."""
        if actor is None:
            return self.say("somebody")
        named = self.staff.get(actor.staff) if actor.staff is not None else None
        if actor.kind is ActorKind.PERSON:
            return named or self.say("somebody")
        if actor.kind is ActorKind.TOKEN and named is not None:
            return self.say("actor.program", name=named)
        return self.say(_ACTORS[actor.kind])

    def sign_in_name(self, actor: Actor) -> str:
        """Return the name of a person of the console; for anybody else what no sentence begins with."""
        named = self.staff.get(actor.staff) if actor.staff is not None else None
        return named if named is not None and actor.kind is ActorKind.PERSON else "\n"

    def device(self, mac: Mac | None, at: float | None = None) -> str:
        """Return who it was by name, if that is known; else the device."""
        if mac is None:
            return self.say("device.none")
        if mac == self.own:
            return self.say("own_device")
        return visible(self.holder(mac, self.now if at is None else at)) or self.bare_device(mac)

    def bare_device(self, mac: Mac | None) -> str:
        """Return the device without the name of its guest."""
        return self.say("device.none") if mac is None else self.say("device", mac=short_mac(mac))

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
