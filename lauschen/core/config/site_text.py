"""Texts of the house that somebody agrees to or reads, per language, with a version."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum


class TextKind(StrEnum):
    """Which of them."""

    RULES = "rules"
    """The house rules that guests agree to."""
    PRIVACY = "privacy"
    """What becomes of what guests say: the page leads to it."""
    CONSENT = "consent"
    """What a guest says by ticking that they may be written to."""


@dataclass(frozen=True, slots=True)
class SiteText:
    """As in force now. Version 0: none was written yet."""

    version: int = 0
    texts: Mapping[str, str] = field(default_factory=dict)
    """By language."""

    def language(self, wanted: str) -> str | None:
        """The wanted one, else one that there is; None when nothing is written."""
        return wanted if wanted in self.texts else next(iter(self.texts), None)
