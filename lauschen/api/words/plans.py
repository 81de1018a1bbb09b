"""A plan in a sentence."""

from lauschen.api.hours import hours_words
from lauschen.core.limits.plan import Plan
from lauschen.core.words.amounts import data_words, duration_words


def rate_amount(bps: int) -> str:
    """Bits per second as people say them."""
    for unit, name in ((10**9, "Gbit/s"), (10**6, "Mbit/s"), (1000, "kbit/s")):
        if bps >= unit:
            return f"{bps / unit:.3g} {name}"
    return f"{bps} bit/s"


def plan_words(plan: Plan) -> str:
    """A plan in a sentence, as the desk reads it."""
    parts = []
    if plan.octets is not None:
        parts.append(f"up to {data_words(plan.octets)} in all")
    parts.append("on one device" if plan.devices == 1 else f"on {plan.devices} devices")
    if plan.seconds is not None:
        parts.append(f"for {duration_words(plan.seconds)} from first use")
    rates = [
        f"{rate_amount(rate)} {way}" for rate, way in ((plan.down_bps, "down"), (plan.up_bps, "up")) if rate
    ]
    if rates:
        parts.append("at up to " + " and ".join(rates))
    text = " ".join(parts[:-1]) + (", " if len(parts) > 1 else "") + parts[-1]
    tail = f"; to be used within {plan.use_within_days} days" if plan.use_within_days else ""
    if plan.hours is not None:
        tail += f"; open {hours_words(plan.hours)}"
    return text[0].upper() + text[1:] + tail + "."
