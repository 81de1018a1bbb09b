"""What was changed in the house."""

from collections.abc import Callable

from lauschen.api.words.speaker import GONE, Speaker
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.text import visible
from lauschen.store.log import EventRow


def _did(what: str) -> Callable[[Speaker, EventRow], str]:
    return lambda speaker, row: f"{speaker.actor(row.actor)} {what}"


def _named(verb: str, what: str) -> Callable[[Speaker, EventRow], str]:
    def words(speaker: Speaker, row: EventRow) -> str:
        return f"{speaker.actor(row.actor)} {verb} the {what} {visible(str(row.facts.get('name', GONE)))}"

    return words


def _secret(speaker: Speaker, row: EventRow) -> str:
    whose = speaker.place(row.access_device)
    return f"{speaker.actor(row.actor)} gave {whose} a new secret; the old one is heard too"


def _forgotten(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} let the old secret of {speaker.place(row.access_device)} go"


def _rules(speaker: Speaker, row: EventRow) -> str:
    count = row.facts.get("count", 0)
    rules = "one rule" if count == 1 else f"{count} rules"
    return f"{speaker.actor(row.actor)} saved {rules}, in their order"


def _site_text(speaker: Speaker, row: EventRow) -> str:
    what = "the privacy notice" if row.facts.get("name") == "privacy" else "the consent to be written to"
    return f"{speaker.actor(row.actor)} wrote {what} anew, version {row.facts.get('version') or 0}"


def _house_rules(speaker: Speaker, row: EventRow) -> str:
    return f"{speaker.actor(row.actor)} wrote the house rules anew, version {row.facts.get('version', 0)}"


def _passcode(speaker: Speaker, row: EventRow) -> str:
    where = speaker.network(row.network) if row.network is not None else "a network"
    return f"{speaker.actor(row.actor)} set a new passcode for {where}"


def _overlap(speaker: Speaker, row: EventRow) -> str:
    where = speaker.network(row.network) if row.network is not None else "a network"
    return f"{speaker.actor(row.actor)} ended the overlap of passcodes on {where}"


def _trusted(verb: str, what: str) -> Callable[[Speaker, EventRow], str]:
    def words(speaker: Speaker, row: EventRow) -> str:
        return f"{speaker.actor(row.actor)} {verb} {visible(str(row.facts.get('name', GONE)))} {what}"

    return words


def _paused(speaker: Speaker, row: EventRow) -> str:
    where = speaker.network(row.network) if row.network is not None else "a network"
    until = row.facts.get("until")
    end = f" until {speaker.clock(float(until))}" if until is not None else ""
    return f"{speaker.actor(row.actor)} paused {where}{end}"


def _pause_ended(speaker: Speaker, row: EventRow) -> str:
    where = speaker.network(row.network) if row.network is not None else "a network"
    return f"{speaker.actor(row.actor)} ended the pause of {where}"


def _clock_set(_: Speaker, row: EventRow) -> str:
    seconds = float(row.facts.get("seconds") or 0)
    way = "ahead" if seconds > 0 else "back"
    return f"The clock of this machine was set {duration_words(int(abs(seconds)))} {way}, and is followed now"


WORDS: dict[str, Callable[[Speaker, EventRow], str]] = {
    "clock_set": _clock_set,
    "slips_saved": _did("set how slips are printed"),
    "logo_saved": _did("put a picture on the slips"),
    "logo_removed": _did("took the picture off the slips"),
    "device_taken_in": _named("took in", "access device"),
    "device_changed": _named("changed", "access device"),
    "device_removed": _named("removed", "access device"),
    "trusted_added": _trusted("lets", "in always from now on"),
    "trusted_changed": _trusted("changed how", "is let in always"),
    "trusted_removed": _trusted("lets", "in always no more"),
    "network_paused": _paused,
    "network_pause_ended": _pause_ended,
    "secret_changed": _secret,
    "old_secret_forgotten": _forgotten,
    **{f"{what}_saved": _named("saved", what) for what in ("network", "role", "dialect", "plan")},
    **{f"{what}_removed": _named("removed", what) for what in ("network", "role", "dialect", "plan")},
    "plan_restored": _named("took back", "plan"),
    "rules_saved": _rules,
    "house_rules_written": _house_rules,
    "house_text_written": _site_text,
    "passcode_renewed": _passcode,
    "passcode_overlap_ended": _overlap,
}
