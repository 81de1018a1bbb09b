"""A plan in a sentence."""

from datetime import datetime

from lauschen.api.hours import hours_words
from lauschen.core.config.config import Config
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import Terms
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.text import visible
from lauschen.sentences.slips import day_words


def rate_amount(bps: int) -> str:
    """Bits per second as people say them."""
    for unit, name in ((10**9, "Gbit/s"), (10**6, "Mbit/s"), (1000, "kbit/s")):
        if bps >= unit:
            return f"{bps / unit:.3g} {name}"
    return f"{bps} bit/s"


def given_words(config: Config, plan: Plan, terms: Terms) -> str:
    """What is about to be issued, in a sentence: the plan with its own limits in it, and its terms."""
    devices = {
        Seats.AT_ONCE: _on(terms.devices or plan.devices),
        Seats.EVER: f"{_on(terms.devices or plan.devices)} in all, and never another",
        Seats.ANY: "on any number of devices",
    }[terms.seats]
    tail = ""
    for word, moment in (("good from", terms.valid_from), ("good until", terms.valid_until)):
        if moment is not None:
            tail += f"; {word} {day_words(datetime.fromtimestamp(moment, config.zone), 'en')}"
    if terms.network is not None:
        tail += f"; on {visible(config.networks[terms.network].name)} alone"
    return _sentence(plan, devices, tail)


def plan_words(plan: Plan) -> str:
    """A plan in a sentence, as the desk reads it."""
    return _sentence(plan, _on(plan.devices), "")


def _on(devices: int) -> str:
    return "on one device" if devices == 1 else f"on {devices} devices"


def _sentence(plan: Plan, devices: str, tail: str) -> str:
    parts = []
    if plan.octets is not None:
        parts.append(f"up to {data_words(plan.octets)} in all")
    parts.append(devices)
    if plan.seconds is not None:
        parts.append(f"for {duration_words(plan.seconds)} from first use")
    rates = [
        f"{rate_amount(rate)} {way}" for rate, way in ((plan.down_bps, "down"), (plan.up_bps, "up")) if rate
    ]
    if rates:
        parts.append("at up to " + " and ".join(rates))
    text = " ".join(parts[:-1]) + (", " if len(parts) > 1 else "") + parts[-1]
    if plan.use_within_days:
        tail = f"; to be used within {plan.use_within_days} days{tail}"
    if plan.hours is not None:
        tail += f"; open {hours_words(plan.hours)}"
    return text[0].upper() + text[1:] + tail + "."
