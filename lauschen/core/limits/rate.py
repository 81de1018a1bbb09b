"""Rates: the lower of a plan's and a role's holds, each way; and how templates say them."""

_FORMS = {"bps": 1, "kbit": 1000, "mbit": 1_000_000}
RATE_WORDS = {
    "down_bps": "the rate to the guest, in bits per second",
    "up_bps": "the rate from the guest, in bits per second",
    "down_kbit": "the same in kbit/s, whole ones",
    "up_kbit": "the same in kbit/s, whole ones",
    "down_mbit": "the same in Mbit/s, whole ones and at least 1",
    "up_mbit": "the same in Mbit/s, whole ones and at least 1",
}
"""Words of templates; an attribute that uses one is not sent where there is no such rate."""


def lower(one: int | None, other: int | None) -> int | None:
    """Of two limits, the one that holds; None is none."""
    if one is None or other is None:
        return other if one is None else one
    return min(one, other)


def rate_words(down_bps: int | None, up_bps: int | None) -> dict[str, str]:
    """What the words stand for; those of a rate that there is not are missing."""
    found = {}
    for way, rate in (("down", down_bps), ("up", up_bps)):
        if rate is not None:
            for form, unit in _FORMS.items():
                found[f"{way}_{form}"] = str(max(1, rate // unit))
    return found
