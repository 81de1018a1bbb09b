"""Templates of dialects: text with words in braces, from one documented list."""

import json
import re
from collections.abc import Collection, Mapping
from urllib.parse import quote

from lauschen.core.errors import Invalid
from lauschen.core.ids import Mac
from lauschen.core.limits.rate import RATE_WORDS
from lauschen.core.words.mac import spell_mac

WORDS = {
    "portal_url": "the signed address of the guest page for this device",
    "mac": "the device, as 02-00-00-AA-BB-01",
    "mac_bare": "the device, as 020000aabb01",
    "mac_colons": "the device, as 02:00:00:aa:bb:01",
    "session_id": "Acct-Session-Id of its session at the access device, or nothing",
    "address": "the address it has, if known",
    "network": "the name of the guest network",
    "role": "the name of the role it gets",
    "vlan": "the VLAN of its private group, else the role's, or nothing",
    "filter": "the role's filter name, or nothing",
    "seconds": "how long it may stay now, in seconds; 0 without a limit",
    "octets_left": "what is left of its data; 0 without a limit",
    "pseudonym": "random, the same as Class and Chargeable-User-Identity",
    "going": "where the guest was going; in a posted login",
    "secret": "the secret of the dialect's calls",
    **RATE_WORDS,
}
"""All words that a template may use; the help of the screen and docs/devices.md are made from this."""
POSTED_WORDS = ("mac", "mac_bare", "mac_colons", "portal_url", "going")
"""Those that a posted login knows; there `portal_url` is the address of the visit."""
_WORD = re.compile(r"\{([a-z_]+)\}")


def check_template(text: str, field: str, known: Collection[str] = WORDS) -> None:
    """Invalid when a word in braces is none of the list, or none that is known where it is used."""
    for word in _WORD.findall(text):
        if word not in known:
            raise Invalid("template_word", field=field, mend=f"{{{word}}} is no word of the list.")


def uses_rate(template: str) -> bool:
    return any(word in RATE_WORDS for word in _WORD.findall(template))


def can_fill(template: str, words: Mapping[str, str]) -> bool:
    """False when it speaks of a rate that there is not."""
    return all(word in words for word in _WORD.findall(template) if word in RATE_WORDS)


def mac_words(mac: Mac) -> dict[str, str]:
    """A device in the spellings of the list."""
    dashed = spell_mac(mac)
    return {
        "mac": dashed,
        "mac_bare": dashed.replace("-", "").lower(),
        "mac_colons": dashed.replace("-", ":").lower(),
    }


def fill(template: str, words: Mapping[str, str]) -> str:
    """The text with each word in its place; a word that is not known here is left empty."""
    return _WORD.sub(lambda found: words.get(found[1], ""), template)


def fill_url(template: str, words: Mapping[str, str]) -> str:
    """Words are escaped for an address, so that none can change where it leads."""
    return fill(template, {name: quote(value, safe="") for name, value in words.items()})


def fill_body(template: str, words: Mapping[str, str]) -> str:
    """Words are escaped for JSON when the template is JSON, else for a form."""
    if template.lstrip()[:1] in ("{", "[") and not _WORD.match(template.lstrip()):
        return fill(template, {name: json.dumps(value)[1:-1] for name, value in words.items()})
    return fill_url(template, words)
