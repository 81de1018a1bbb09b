"""What a guest types as a code: by which way in it leads somewhere is the network's affair."""

from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason


@dataclass(frozen=True, slots=True)
class Code:
    """Words or signs that only somebody who was given them can type."""

    words: str
    """Without case, blanks and dashes, with plain digits (`plain_words`)."""
    signs: str | None = None
    """The ten signs of an issued code whose check holds."""
    kind: ClassVar[str] = "code"
    missing: ClassVar[Reason] = Reason.CODE_UNKNOWN
    says_who: ClassVar[bool] = True

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}
