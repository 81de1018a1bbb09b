"""MAC addresses in the spellings that access devices use."""

import re
from functools import lru_cache

from lauschen.core.ids import Mac

# One separator throughout (or none), in groups of two or four hex digits.
_SPELLINGS = re.compile(
    r"(?:[0-9a-f]{12}|[0-9a-f]{2}(?:([-:. ])[0-9a-f]{2})(?:\1[0-9a-f]{2}){4}"
    r"|[0-9a-f]{4}([-:.])[0-9a-f]{4}\2[0-9a-f]{4}|[0-9a-f]{6}[-:][0-9a-f]{6})\Z",
    re.IGNORECASE,
)
_LOCALLY_ADMINISTERED = 0x02 << 40  # IEEE 802: second-lowest bit of the first octet
_SEPARATORS = str.maketrans("", "", "-:. ")


@lru_cache(8192)
def read_mac(text: str) -> Mac | None:
    """The MAC address in `text`, or None when it is anything else."""
    if not _SPELLINGS.match(text):
        return None
    return Mac(int(text.translate(_SEPARATORS), 16))


def spell_mac(mac: Mac) -> str:
    """Upper-case hex with dashes, as RFC 3580 section 3.20 writes station ids."""
    digits = f"{mac:012X}"
    return "-".join(digits[i : i + 2] for i in range(0, 12, 2))


def short_mac(mac: Mac) -> str:
    """The last two octets, enough to tell devices apart in one house: `..:7c:41`."""
    digits = f"{mac:012x}"
    return f"..:{digits[8:10]}:{digits[10:]}"


def is_private(mac: Mac) -> bool:
    """True for a locally administered address, which phones make up per network."""
    return bool(mac & _LOCALLY_ADMINISTERED)
