"""A plan in a sentence."""

from lauschen.core.limits.plan import Plan
from lauschen.core.words.amounts import data_words, duration_words


def plan_words(plan: Plan) -> str:
    """A plan in a sentence, as the desk reads it."""
    parts = []
    if plan.octets is not None:
        parts.append(f"up to {data_words(plan.octets)} in all")
    parts.append("on one device" if plan.devices == 1 else f"on {plan.devices} devices")
    if plan.seconds is not None:
        parts.append(f"for {duration_words(plan.seconds)} from first use")
    text = " ".join(parts[:-1]) + (", " if len(parts) > 1 else "") + parts[-1]
    tail = f"; to be used within {plan.use_within_days} days" if plan.use_within_days else ""
    return text[0].upper() + text[1:] + tail + "."
