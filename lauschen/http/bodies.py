"""Large bodies, read in the worker process: megabytes of JSON would hold the loop."""

import json
from typing import Any

from lauschen.core.errors import Invalid

MOST_VALUES = 1000
"""In one body. What is large is a text that somebody pasted, and no tree of values."""


def read_object(octets: bytes) -> dict[str, Any]:
    """The object that a body holds. Invalid for what is none, or has more values than any form."""
    try:
        read = json.loads(octets)
    except (ValueError, RecursionError) as exc:
        raise Invalid("json", field="body", mend="The body of the request cannot be read.") from exc
    if not isinstance(read, dict) or _count(read) > MOST_VALUES:
        raise Invalid("json", field="body", mend="The body of the request holds more than any form of ours.")
    return read


def _count(read: object) -> int:
    """How many values there are, as far as that is not too many already."""
    seen, left = 0, [read]
    while left and seen <= MOST_VALUES:
        one = left.pop()
        seen += 1
        if isinstance(one, dict):
            left += one.values()
        elif isinstance(one, list):
            left += one
    return seen
