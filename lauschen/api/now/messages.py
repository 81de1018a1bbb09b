"""What Now says of messages that do not arrive."""

from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.messages.budgets import texts_for_guests
from lauschen.core.words.text import visible
from lauschen.store.messages import outbox

DAY_S = 86_400.0
GRAVE_AFTER_S = 600.0
"""Servers that ask to come again are content by then."""


def messages_failing(conn: Connection, speaker: Speaker) -> list[Attention]:
    """Channels where something waits after a try, and what was given up within a day."""
    found = []
    for channel, count, since, answer in outbox.failing(conn):
        what = _many(count, speaker.say(f"channel.{channel}"))
        found.append(
            Attention(
                kind="messages",
                grave=speaker.now - since > GRAVE_AFTER_S,
                text=f"{what[0].upper()}{what[1:]} cannot be sent since {speaker.clock(since)}: {visible(answer)}",
                mend="It is tried again by itself; *Settings* has the server, and a test of it.",
                link="/settings?part=channels",
            )
        )
    gateway = speaker.config.channels.text
    for_guests = texts_for_guests(gateway.texts_day) if gateway is not None else 0
    if for_guests and outbox.texts_of_guests(conn, speaker.now - DAY_S) >= for_guests:
        text = f"Guests have used up their {for_guests:,} text messages of a day."
        mend = "The others are kept for the desk. If it was one guest, bar them; else raise *At most on one day*."
        found.append(
            Attention(kind="texts", grave=False, text=text, mend=mend, link="/settings?part=channels")
        )
    for channel, count, answer in outbox.given_up_since(conn, speaker.now - DAY_S):
        what = _many(count, speaker.say(f"channel.{channel}"))
        found.append(
            Attention(
                kind="messages",
                grave=False,
                text=f"{what[0].upper()}{what[1:]} of the last day given up: {visible(answer)}",
                mend="Look at the address, and send it again.",
                link="/settings?part=outbox",
            )
        )
    return found


def _many(count: int, what: str) -> str:
    """`one mail`, `3 mails`."""
    return f"one {what}" if count == 1 else f"{count} {what}s"
