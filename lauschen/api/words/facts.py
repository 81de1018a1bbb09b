"""What the sentences of the log may name: each fact has one meaning in all of them."""

from collections.abc import Callable, Mapping

from lauschen.api.words.reasons import cause_words, reason_words, refusal_words
from lauschen.api.words.speaker import Speaker
from lauschen.core.actor import ActorKind
from lauschen.core.ids import AccessDeviceId, PlanId
from lauschen.core.people.duties import DUTY_WORDS
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow

Fact = Callable[[Speaker, EventRow], object]
_HOWS = ("reauthorise", "disconnect", "attributes", "called")


def _text(row: EventRow, key: str) -> str:
    return visible(str(row.facts.get(key) or ""))


def _number(row: EventRow, key: str) -> int:
    return int(row.facts.get(key) or 0)


def _name(speaker: Speaker, row: EventRow) -> str:
    return _text(row, "name") or speaker.say("removed")


def _device(speaker: Speaker, row: EventRow) -> str:
    """Somebody who registers is named by the sentence itself."""
    return speaker.bare_device(row.mac) if row.kind == "registered" else speaker.device(row.mac, row.at)


def _network(speaker: Speaker, row: EventRow) -> str:
    return speaker.say("removed.network") if row.network is None else speaker.network(row.network)


def _other(speaker: Speaker, row: EventRow) -> str:
    """The other place of a device, or its other address."""
    said = row.facts.get("other")
    if row.kind == "two_addresses":
        return str(said)
    return speaker.say("elsewhere") if said is None else speaker.place(AccessDeviceId(int(said)))


def _change(speaker: Speaker, row: EventRow) -> str:
    how = str(row.facts.get("how"))
    return speaker.say(f"change.{how if how in _HOWS else 'called'}", device=speaker.device(row.mac, row.at))


def _guest(speaker: Speaker, row: EventRow) -> str:
    return _text(row, "name") or (
        speaker.say("somebody") if row.mac is None else speaker.bare_device(row.mac)
    )


def _one_of(group: str, key: str) -> Fact:
    """One of the names that the catalogue has for a group of things, or what it calls any other."""

    def words(speaker: Speaker, row: EventRow) -> str:
        try:
            return speaker.say(f"{group}.{row.facts.get(key)}")
        except KeyError:
            return speaker.say(f"{group}.other")

    return words


def _about(speaker: Speaker, row: EventRow) -> object:
    about, name = _one_of("about", "about")(speaker, row), _text(row, "name")
    return speaker.say("about.for", about=about, name=name) if name else about


def _duty(key: str) -> Fact:
    def words(speaker: Speaker, row: EventRow) -> str:
        known = DUTY_WORDS[speaker.lang]
        return next(
            (said for duty, said in known.items() if duty == row.facts.get(key)), speaker.say("removed")
        )

    return words


FACTS: Mapping[str, Fact] = {
    "who": lambda speaker, row: speaker.actor(row.actor),
    "device": _device,
    "place": lambda speaker, row: speaker.place(row.access_device),
    "other": _other,
    "one": lambda _, row: row.facts.get("one"),
    "network": _network,
    "plan": lambda speaker, row: speaker.plan(PlanId(_number(row, "plan"))),
    "name": lambda speaker, row: (
        _text(row, "name") if row.kind in ("channel_saved", "channel_removed") else _name(speaker, row)
    ),
    "guest": _guest,
    "host": lambda speaker, row: _text(row, "host") or speaker.say("host.nobody"),
    "cause": lambda speaker, row: cause_words(str(row.facts.get("cause")), speaker.lang),
    "reason": lambda speaker, row: reason_words(str(row.facts.get("reason")), speaker.lang),
    "data": lambda _, row: data_words(_number(row, "octets")),
    "duration": lambda _, row: duration_words(abs(int(float(row.facts.get("seconds") or 0)))),
    "until": lambda speaker, row: speaker.clock(float(row.facts.get("until") or 0)),
    "version": lambda _, row: _number(row, "version"),
    "source": lambda speaker, row: _text(row, "from") or speaker.say("somebody"),
    "change": _change,
    "why": lambda speaker, row: refusal_words(str(row.facts.get("answer")), speaker.lang),
    "limits": lambda _, row: _text(row, "limits").removesuffix("."),
    "to": lambda _, row: _text(row, "to"),
    "duty": _duty("duty"),
    "before": _duty("before"),
    "channel": _one_of("channel", "channel"),
    "server": _one_of("server", "channel"),
    "about": _about,
    "answer": lambda _, row: _text(row, "answer"),
}


def _decided(speaker: Speaker, row: EventRow) -> str:
    """A host's answer that somebody else gave."""
    return ".desk" if row.actor is not None and row.actor.kind is not ActorKind.HOST else ""


def _sign_in(speaker: Speaker, row: EventRow) -> str:
    if row.actor is None:
        return ".unknown"
    return ".code" if row.facts.get("code") else ""


def _revealed(speaker: Speaker, row: EventRow) -> str:
    if int(row.facts.get("count") or 1) > 1:
        return ".many"
    return ".printed" if row.facts.get("how") == "printed" else ""


def _answered(speaker: Speaker, row: EventRow) -> str:
    answer = str(row.facts.get("answer"))
    return f".{answer}" if answer in ("accepted", "silent", "failed") else ".refused"


def _with(key: str, variant: str) -> Callable[[Speaker, EventRow], str]:
    return lambda _, row: variant if row.facts.get(key) else ""


VARIANTS: Mapping[str, Callable[[Speaker, EventRow], str]] = {
    "registered": _with("name", ".named"),
    "passphrase_issued": _with("name", ".named"),
    "passphrase_renewed": _with("seconds", ".overlap"),
    "passphrase_revealed": _revealed,
    "network_paused": _with("until", ".until"),
    "clock_set": lambda _, row: ".ahead" if float(row.facts.get("seconds") or 0) > 0 else ".back",
    "sign_in_refused": _sign_in,
    "account_password_set": lambda _, row: "" if row.mac is None else ".guest",
    "house_text_written": lambda _, row: ".privacy" if row.facts.get("name") == "privacy" else ".consent",
    "person_limits": lambda _, row: "" if row.facts.get("limits") else ".none",
    "second_factor_off": lambda speaker, row: (
        "" if speaker.actor(row.actor) == _name(speaker, row) else ".other"
    ),
    "host_asked": lambda _, row: {"stand_in": ".stand_in", "by_desk": ".by_desk"}.get(
        str(row.facts.get("role")), ""
    ),
    "host_said_yes": _decided,
    "host_said_no": _decided,
    "device_answered": _answered,
    "given_up": lambda _, row: ".in" if row.facts.get("what") == "in" else ".out",
}
"""Which of the sentences of a kind is meant: what is added to its id."""

_COUNTS = {
    "device_on": "closed",
    "device_off": "closed",
    "issued": "count",
    "list_issued": "count",
    "forgotten": "count",
    "passphrase_issued": "count",
    "passphrase_revealed.many": "count",
    "rules_saved": "count",
    "recovery_code_used": "count",
}


def count_of(row: EventRow, id: str) -> int | None:
    """Return the number by which a sentence takes its form, or None for one that has no forms."""
    key = _COUNTS.get(id.removeprefix("event."))
    return None if key is None else _number(row, key)
