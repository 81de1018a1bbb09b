"""What a guest types as a code: by which way in it leads somewhere is the network's affair."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.words.codes import USUAL, Typo, read_code
from lauschen.core.words.plain import plain_words


@dataclass(frozen=True, slots=True)
class Code:
    """Words or signs that only somebody who was given them can type."""

    words: str
    """Without case, blanks and dashes, with plain digits; empty where only drawn signs are a code."""
    signs: str | None = None
    """The signs of a drawn code whose check holds."""
    kind: ClassVar[str] = "code"
    missing: ClassVar[Reason] = Reason.CODE_UNKNOWN
    says_who: ClassVar[bool] = True
    is_typed: ClassVar[bool] = True

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}


def read_typed(text: str, *, takes_words: bool, lengths: Sequence[int] = USUAL) -> Code | Typo:
    """What was typed, at the page or as a password. `takes_words`: codes of this network may be chosen words."""
    typed = read_code(text, lengths)
    words = plain_words(text) if takes_words else ""
    if not isinstance(typed, Typo):
        return Code(words, typed.signs)
    return Code(words) if words else typed
