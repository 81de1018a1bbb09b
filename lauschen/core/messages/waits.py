"""How long to wait before a message is tried again, and when it is given up."""

from lauschen.core.messages.message import Channel

WAITS_S = (10.0, 30.0, 60.0, 120.0, 300.0, 600.0, 1800.0, 3600.0)
"""After the first try, the second, and so on; the last one again and again. Mail servers that ask strangers to come
again are content after five minutes."""
DAY_S = 86_400.0
GIVEN_UP_S = {
    Channel.MAIL: DAY_S,
    Channel.TEXT: 3600.0,
    Channel.SYSLOG: DAY_S,
    Channel.WEBHOOK: DAY_S,
}
"""Since it was written. A text message that comes hours late is of no use, and costs money."""


def next_try(channel: Channel, tries: int, written_at: float, now: float) -> float | None:
    """When to try again after so many `tries`; None: it is given up. Seconds since the epoch."""
    at = now + WAITS_S[min(max(tries, 1), len(WAITS_S)) - 1]
    return at if at <= written_at + GIVEN_UP_S[channel] else None
