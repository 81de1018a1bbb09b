"""Who was given which duty, and who is gone."""

from collections.abc import Callable

from lauschen.api.words.speaker import GONE, Speaker
from lauschen.core.people.duties import DUTY_WORDS
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow


def _name(row: EventRow) -> str:
    return visible(str(row.facts.get("name", GONE)))


def _duty(row: EventRow, key: str = "duty") -> str:
    return next((words for duty, words in DUTY_WORDS["en"].items() if duty == row.facts.get(key)), GONE)


def _added(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} added {_name(row)} as {_duty(row)}"


def _changed(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} made {_name(row)} {_duty(row)}, who was {_duty(row, 'before')} before"


def _removed(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} removed {_name(row)}, who is signed out everywhere"


def _signed_out(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} signed {_name(row)} out everywhere"


def _limits(speaker: Speaker, row: EventRow) -> str:
    after = visible(str(row.facts.get("limits") or ""))
    said = f"may give: {after}" if after else "is not limited any more"
    return f"{speaker.actor(row.actor)} changed the limits of {_name(row)}, who {said}".removesuffix(".")


def _program(verb: str) -> Callable[[Speaker, EventRow], str]:
    def words(speaker: Speaker, row: EventRow) -> str:
        return f"{speaker.actor(row.actor)} {verb} the program {_name(row)}"

    return words


def _invited(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} invited {_name(row)} by a mail to {visible(str(row.facts.get('to', '')))}"


def _second_off(speaker: Speaker, row: EventRow) -> str:
    who, whose = speaker.actor(row.actor), _name(row)
    return f"{who} turned the second factor off" + ("" if who == whose else f" for {whose}")


def _recovery(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} signed in by a recovery code; {row.facts.get('count')} are left"


WORDS: dict[str, Callable[[Speaker, EventRow], str]] = {
    "person_limits": _limits,
    "person_invited": _invited,
    "invitation_accepted": lambda speaker, row: (
        f"{speaker.actor(row.actor)} chose a password by the invitation"
    ),
    "session_ended": lambda speaker, row: (
        f"{speaker.actor(row.actor)} signed {_name(row)} out at one browser"
    ),
    "second_factor_on": lambda speaker, row: f"{speaker.actor(row.actor)} turned a second factor on",
    "second_factor_off": _second_off,
    "recovery_code_used": _recovery,
    "program_added": _program("added"),
    "program_changed": _program("changed"),
    "program_token": _program("gave a new token to"),
    "program_removed": _program("removed"),
    "person_added": _added,
    "person_duty": _changed,
    "person_removed": _removed,
    "person_signed_out": _signed_out,
}
