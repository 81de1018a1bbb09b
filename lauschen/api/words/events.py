"""One line of the log as a sentence: each kind of event finds its words here, family by family."""

from collections.abc import Callable

from lauschen.api.words import config, desk, hosts, messages, moving, people, staying
from lauschen.api.words import page as page_words
from lauschen.api.words.reasons import REASONS
from lauschen.api.words.speaker import Speaker
from lauschen.core.ids import Mac
from lauschen.store.log import DecisionRow, EventRow, LogRow

EVENTS: dict[str, Callable[[Speaker, EventRow], str]] = {
    **staying.WORDS, **page_words.WORDS, **desk.WORDS, **moving.WORDS, **config.WORDS, **messages.WORDS,
    **hosts.WORDS, **people.WORDS,
}  # fmt: skip
_STANDS = {
    "time_used_up": "held",
    "data_used_up": "held",
    "date_over": "held",
    "not_confirmed": "held",
    "code_paused": "held",
    "barred_by_staff": "barred",
    "barred_by_tries": "barred",
}


def line(speaker: Speaker, row: LogRow) -> str:
    """One row without its time."""
    if isinstance(row, DecisionRow):
        return _decision(speaker, row)
    words = EVENTS.get(row.kind)
    return words(speaker, row) if words is not None else row.kind


def own_line(speaker: Speaker, row: LogRow, mac: Mac) -> str:
    """In the dossier of a device, which its lines need not name."""
    name = speaker.device(mac, row.at)
    text = line(speaker, row).removeprefix(speaker.who(mac, row.at)).removeprefix(":").strip()
    text = text.replace(f"Somebody with {name}", "Somebody").replace(f" {name}", " it")
    return text[0].upper() + text[1:] if text else text


def _decision(speaker: Speaker, row: DecisionRow) -> str:
    who = speaker.who(row.mac, row.at) if row.mac else "A device without an address"
    if row.medium in ("person", "posted"):
        who = f"Somebody with {speaker.device(row.mac, row.at)}" if row.mac else "Somebody"
    reason = REASONS.get(row.reason, row.reason)
    if row.medium == "page":
        return f"{who} at the page: {'let in' if row.answer == 'admit' else reason}"
    where = f"{who} at {speaker.place(row.access_device)}"
    match row.answer:
        case "admit":
            until = f" until {speaker.clock(row.until)}" if row.until is not None else ""
            rule = speaker.rule(row.rule)
            named = f", rule {rule.position}" if rule else ""
            return f"{where}: placed as {speaker.role(row.role)}{until}{named}"
        case "door":
            return f"{where}: {_STANDS.get(row.reason, 'at the door')}, {reason}"
    return f"{where}: refused, {reason}"
