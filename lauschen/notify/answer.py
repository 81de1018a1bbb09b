"""What came of one try to send something."""

import os
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Answer:
    """`text`: the other side's own words, or what kept us from hearing any."""

    is_sent: bool
    text: str
    is_final: bool = False
    """It will say the same for ever: there is no such address. Only of what was not sent."""


LONGEST_ANSWER = 300


def os_words(error: OSError) -> str:
    """`connection refused`: in the system's words, which are the same whatever loop runs."""
    return os.strerror(error.errno).lower() if error.errno else shortened(str(error))


def shortened(text: str) -> str:
    """In one line, as much as is kept."""
    line = " ".join(text.split())
    return line if len(line) <= LONGEST_ANSWER else line[: LONGEST_ANSWER - 1] + "…"
