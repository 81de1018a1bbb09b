"""What came of one try to send something."""

from dataclasses import dataclass

from lauschen.core.words.text import visible


@dataclass(frozen=True, slots=True)
class Answer:
    """`text`: the other side's own words, or what kept us from hearing any."""

    is_sent: bool
    text: str
    is_final: bool = False
    """It will say the same for ever: there is no such address. Only of what was not sent."""


LONGEST_ANSWER = 300


def shortened(text: str) -> str:
    """In one line, as much as is kept, and nothing in it that hides or turns text (rulings 6.7)."""
    line = visible(" ".join(text.split()))
    return line if len(line) <= LONGEST_ANSWER else line[: LONGEST_ANSWER - 1] + "…"
