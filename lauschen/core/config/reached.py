"""Which rules can be reached: one that asks nothing that an earlier one does not catch never matches."""

from collections.abc import Sequence

from lauschen.core.config.rule import Rule


def covered_by(rule: Rule, earlier: Sequence[Rule]) -> Rule | None:
    """The first earlier rule that matches whatever this one would."""
    return next((other for other in earlier if _covers(other, rule)), None)


def _covers(other: Rule, rule: Rule) -> bool:
    pairs = ((other.network, rule.network), (other.way_in, rule.way_in), (other.plan, rule.plan))
    return all(wide is None or wide == narrow for wide, narrow in pairs)
