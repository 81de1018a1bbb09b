"""Lines for syslog (RFC 5424)."""

from collections.abc import Mapping
from datetime import UTC, datetime

from lauschen.core.words.text import visible

NOTICE = 5
"""Severity: normal but significant (RFC 5424 table 2)."""
SD_ID = "lauschen@32473"
"""With the enterprise number that is kept for examples (RFC 5612): we have none of our own."""
LONGEST_VALUE = 200


def syslog_line(
    *, facility: int, at: float, host: str, kind: str, mark: str, words: Mapping[str, str], text: str
) -> bytes:
    """One message in UTF-8, marked as such, without framing. `host`: our name, of printable ASCII."""
    moment = datetime.fromtimestamp(at, UTC).isoformat(timespec="milliseconds").replace("+00:00", "Z")
    facts = {"id": mark, **words}
    shown = " ".join(f'{name}="{_value(value)}"' for name, value in facts.items())
    head = f"<{facility * 8 + NOTICE}>1 {moment} {_printable(host)} lauschen - {_printable(kind.upper())}"
    return f"{head} [{SD_ID} {shown}] ".encode() + b"\xef\xbb\xbf" + visible(text).encode()


def framed(line: bytes) -> bytes:
    """For TCP and TLS: with its length before it (RFC 5425 section 4.3, RFC 6587 section 3.4.1)."""
    return f"{len(line)} ".encode() + line


def _value(text: str) -> str:
    """RFC 5424 section 6.3.3: a quotation mark, a backslash and a bracket are escaped."""
    short = visible(text)[:LONGEST_VALUE]
    return short.replace("\\", "\\\\").replace('"', '\\"').replace("]", "\\]")


def _printable(text: str) -> str:
    return "".join(sign for sign in text if "!" <= sign <= "~")[:48] or "-"
