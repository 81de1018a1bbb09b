"""The text that guests agree to, per language, with a version."""

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class HouseRules:
    """As in force now. Version 0: none were written yet."""

    version: int = 0
    texts: Mapping[str, str] = field(default_factory=dict)
    """By language."""
