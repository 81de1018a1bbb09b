"""How the house prints its slips."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum


class Paper(StrEnum):
    """What slips are printed on."""

    A4 = "a4"
    """Ten to a sheet, with cut marks."""
    LETTER = "letter"
    """The same on US Letter."""
    ROLL = "roll"
    """A receipt of 80 mm, each as long as it needs."""
    LABEL = "label"
    """62 mm by 40 mm, one by one."""


@dataclass(frozen=True, slots=True)
class SlipSettings:
    """As they are made, they are plain A4."""

    paper: Paper = Paper.A4
    lang: str = "en"
    words: Mapping[str, str] = field(default_factory=dict)
    """The house's own line at the foot, by language."""
    has_wifi_qr: bool = False
    """A second QR code joins the Wi-Fi, where that is open and known by its whole SSID."""


LONGEST_WORDS = 120
