"""What a guest is asked to write into a form: its fields, as the house chose them."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from lauschen.core.errors import Invalid

NAME, MAIL, PHONE = "name", "mail", "phone"
KNOWN_FIELDS = (NAME, MAIL, PHONE, "company", "room", "visiting", "reason")
"""Those that the page has its own words for; a house's own begin with `own_`."""
MOST_FIELDS = 12
LONGEST_ANSWER = 200
LONGEST_LABEL = 60
LONGEST_HELP = 160
_OWN = re.compile(r"own_[1-9]")


@dataclass(frozen=True, slots=True)
class Field:
    """One question of the form; what it is called and explained by language, where the house says it."""

    key: str
    is_required: bool = False
    labels: Mapping[str, str] = field(default_factory=dict, hash=False)
    helps: Mapping[str, str] = field(default_factory=dict, hash=False)


def check_fields(fields: Sequence[Field]) -> None:
    """Invalid says what of them cannot be."""
    keys = [one.key for one in fields]
    if not 1 <= len(keys) <= MOST_FIELDS or len(set(keys)) < len(keys):
        raise Invalid("fields", field="ways", mend=f"1 to {MOST_FIELDS} fields, each of them once.")
    for one in fields:
        if one.key not in KNOWN_FIELDS and not _OWN.fullmatch(one.key):
            raise Invalid("field_key", field="ways", mend=f"There is no field {one.key[:20]}.")
        if one.key not in KNOWN_FIELDS and not any(text.strip() for text in one.labels.values()):
            raise Invalid("field_label", field="ways", mend="A field of your own needs a name.")
        if any(len(text) > LONGEST_LABEL for text in one.labels.values()) or any(
            len(text) > LONGEST_HELP for text in one.helps.values()
        ):
            mend = f"A name of up to {LONGEST_LABEL} signs, a help of up to {LONGEST_HELP}."
            raise Invalid("field_long", field="ways", mend=mend)


def missing_of(fields: Sequence[Field], answers: Mapping[str, str], needed: str | None = None) -> list[str]:
    """The fields that must still be filled in, in the order of the form; `needed` must be, whatever it is set to."""
    return [
        one.key for one in fields if (one.is_required or one.key == needed) and not answers.get(one.key, "")
    ]
