"""Messages: written, taken by the other side, given up; and where they leave the house."""

from collections.abc import Callable

from lauschen.api.words.speaker import GONE, Speaker
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow

CHANNELS = {
    "mail": "mail",
    "text": "text message",
    "syslog": "syslog line",
    "webhook": "webhook call",
}
PLACES = {"mail": "mail server", "text": "text gateway", "syslog": "syslog server", "webhook": "webhook"}
KINDS = {
    "pass": "a code",
    "account": "an account",
    "test": "a test",
    "confirm": "a question to confirm",
    "registered": "a registration",
    "passcode": "a new passcode",
    "asked": "a question to a host",
    "reminder": "a reminder to a host",
    "own_page": "the link to a host's page",
    "not_vouched": "a host's no",
    "host_asked": "a host who is asked",
    "host_said_yes": "a host's yes",
    "host_said_no": "a host's no",
    "host_silent": "a host who did not answer",
}


def _what(row: EventRow) -> str:
    name = visible(str(row.facts.get("name") or ""))
    about = KINDS.get(str(row.facts.get("about")), "something")
    return f"{about}{f' for {name}' if name else ''}"


def _written(speaker: Speaker, row: EventRow) -> str:
    how = CHANNELS.get(str(row.facts.get("channel")), "message")
    return f"{speaker.actor(row.actor)} sends {_what(row)} by {how}"


def _sent(speaker: Speaker, row: EventRow) -> str:
    how = CHANNELS.get(str(row.facts.get("channel")), "message")
    return f"The {how} with {_what(row)} was taken by the other side"


def _given_up(speaker: Speaker, row: EventRow) -> str:
    how = CHANNELS.get(str(row.facts.get("channel")), "message")
    return f"The {how} with {_what(row)} was given up: {visible(str(row.facts.get('answer', '')))}"


def _channel(verb: str) -> Callable[[Speaker, EventRow], str]:
    def words(speaker: Speaker, row: EventRow) -> str:
        what = PLACES.get(str(row.facts.get("channel")), "channel")
        name = visible(str(row.facts.get("name") or ""))
        return f"{speaker.actor(row.actor)} {verb} the {what}{f' {name}' if name else ''}"

    return words


def _words(speaker: Speaker, row: EventRow) -> str:
    about = KINDS.get(str(row.facts.get("about")), GONE)
    how = CHANNELS.get(str(row.facts.get("channel")), "message")
    return f"{speaker.actor(row.actor)} changed what a {how} with {about} says"


def _not_written(speaker: Speaker, row: EventRow) -> str:
    return f"Nobody could be written to about {_what(row)}: {visible(str(row.facts.get('answer', '')))}"


WORDS = {
    "message_not_written": _not_written,
    "message_written": _written,
    "message_sent": _sent,
    "message_given_up": _given_up,
    "channel_saved": _channel("set"),
    "channel_removed": _channel("took away"),
    "template_saved": _words,
}
