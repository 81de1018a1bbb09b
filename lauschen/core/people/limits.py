"""What one of the desk, or a program, may give: within these it decides by itself."""

from dataclasses import dataclass

from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Terms
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.text import visible


@dataclass(frozen=True, slots=True)
class Limits:
    """As it is made, it bounds nothing."""

    networks: tuple[NetworkId, ...] = ()
    """What they give is good there alone, and there they help; none: everywhere."""
    plans: tuple[PlanId, ...] = ()
    """None: all that are offered."""
    longest_minutes: int | None = None
    """What they give ends after so long at the latest, from first use or by a moment."""
    most_at_once: int | None = None
    """Codes with one gesture."""
    most_devices: int | None = None
    """On one code."""
    own_only: bool = False
    """They see codes of, and help with, what they issued themselves alone."""

    @property
    def longest_s(self) -> int | None:
        return None if self.longest_minutes is None else self.longest_minutes * 60


NO_LIMITS = Limits()


def limits_words(limits: Limits, config: Config) -> str:
    """In a sentence; empty when there are none."""
    names = config.removed.networks
    where = [config.networks[n].name if n in config.networks else names.get(n, "?") for n in limits.networks]
    plans = [config.plans[plan].name for plan in limits.plans if plan in config.plans]
    parts = [f"on {_or(where)} only"] if where else []
    parts += [f"{_or(plans)} only"] if plans else []
    if limits.longest_s is not None:
        parts.append(f"for {duration_words(limits.longest_s)} at most")
    if limits.most_at_once is not None:
        parts.append(f"{limits.most_at_once} at once" if limits.most_at_once > 1 else "one at a time")
    if limits.most_devices is not None:
        parts.append(
            "on one device" if limits.most_devices == 1 else f"on {limits.most_devices} devices at most"
        )
    if limits.own_only:
        parts.append("seeing only what they issued")
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}." if text else ""


def _or(names: list[str]) -> str:
    return " or ".join(visible(name) for name in names)


def check_given(limits: Limits, plan: Plan, terms: Terms, count: int, now: float) -> None:
    """Invalid for what somebody within `limits` may not issue. `plan`: with the terms' own limits in it."""
    if limits is NO_LIMITS:
        return
    if limits.plans and plan.id not in limits.plans:
        raise Invalid("plan_not_theirs", field="plan", mend="This plan is not yours to give.")
    if limits.networks and terms.network not in limits.networks:
        mend = (
            "Choose one of the networks that are yours."
            if terms.network is None
            else "It is not yours to give."
        )
        raise Invalid("network_not_theirs", field="network", mend=mend)
    if limits.most_at_once is not None and count > limits.most_at_once:
        raise Invalid("count_not_theirs", field="count", mend=f"You may issue {limits.most_at_once} at once.")
    _check_devices(limits, plan, terms)
    check_longest(limits, _length(plan, terms, now), field="until")


def check_longest(limits: Limits, seconds: float | None, *, field: str) -> None:
    """Invalid when what lasts so long (None: for ever) is more than somebody may give."""
    longest = limits.longest_s
    if longest is not None and (seconds is None or seconds > longest):
        mend = f"You may give {duration_words(longest)} at most."
        raise Invalid("length_not_theirs", field=field, mend=mend)


def _check_devices(limits: Limits, plan: Plan, terms: Terms) -> None:
    most = limits.most_devices
    if most is None:
        return
    if terms.seats is Seats.ANY or (terms.devices or plan.devices) > most:
        devices = "one device" if most == 1 else f"{most} devices"
        raise Invalid("devices_not_theirs", field="devices", mend=f"You may give {devices} on one code.")


def _length(plan: Plan, terms: Terms, now: float) -> float | None:
    """How long it is good at most once somebody is in; None: for ever."""
    lengths: list[float] = [] if plan.seconds is None else [float(plan.seconds)]
    if terms.valid_until is not None:
        lengths.append(terms.valid_until - max(now, terms.valid_from or now))
    return min(lengths, default=None)
