"""Who was given which duty, and who is gone."""

from lauschen.api.words.speaker import GONE, Speaker
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow

DUTIES = {"administrator": "an administrator", "desk": "one of the desk", "auditor": "an auditor"}


def _name(row: EventRow) -> str:
    return visible(str(row.facts.get("name", GONE)))


def _duty(row: EventRow, key: str = "duty") -> str:
    return DUTIES.get(str(row.facts.get(key)), GONE)


def _added(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} added {_name(row)} as {_duty(row)}"


def _changed(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} made {_name(row)} {_duty(row)}, who was {_duty(row, 'before')} before"


def _removed(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} removed {_name(row)}, who is signed out everywhere"


def _signed_out(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} signed {_name(row)} out everywhere"


WORDS = {
    "person_added": _added,
    "person_duty": _changed,
    "person_removed": _removed,
    "person_signed_out": _signed_out,
}
