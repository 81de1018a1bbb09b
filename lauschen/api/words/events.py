"""One line of the log as a sentence: found in the catalogue by its kind, and filled with the facts of its row."""

from collections.abc import Iterator, Mapping

from lauschen.api.words.facts import FACTS, VARIANTS, count_of
from lauschen.api.words.reasons import reason_words
from lauschen.api.words.speaker import Speaker
from lauschen.sentences.catalogue import sentences
from lauschen.store.log import DecisionRow, EventRow, LogRow

_STANDS = {
    "time_used_up": "held",
    "data_used_up": "held",
    "date_over": "held",
    "not_confirmed": "held",
    "code_paused": "held",
    "barred_by_staff": "barred",
    "barred_by_tries": "barred",
}


class _Facts(Mapping[str, object]):
    """The facts of one row, each worked out when its sentence asks for it."""

    def __init__(self, speaker: Speaker, row: EventRow, number: int | None) -> None:
        self._speaker, self._row, self._number = speaker, row, number

    def __getitem__(self, name: str) -> object:
        return self._number if name == "n" else FACTS[name](self._speaker, self._row)

    def __iter__(self) -> Iterator[str]:
        return iter(FACTS)

    def __len__(self) -> int:
        return len(FACTS)


def line(speaker: Speaker, row: LogRow) -> str:
    """Return one row without its time. Names that people sign in with stay as they are written."""
    text = _decision(speaker, row) if isinstance(row, DecisionRow) else _event(speaker, row)
    is_name = (
        isinstance(row, EventRow)
        and row.actor is not None
        and text.startswith(speaker.sign_in_name(row.actor))
    )
    return text if is_name else _capital(text)


def own_line(speaker: Speaker, row: LogRow) -> str:
    """Return one row in the dossier of `speaker.own`, which it need not name at its beginning."""
    text = line(speaker, row)
    return _capital(text.removeprefix(_capital(speaker.say("own_device"))).removeprefix(":").strip())


def _event(speaker: Speaker, row: EventRow) -> str:
    words, choose = sentences("log", speaker.lang), VARIANTS.get(row.kind)
    id = f"event.{row.kind}{choose(speaker, row) if choose is not None else ''}"
    number = count_of(row, id)
    try:
        text = words[id] if number is None else words.form(id, number)
    except KeyError:
        return row.kind
    return text.format_map(_Facts(speaker, row, number)).strip()


def _decision(speaker: Speaker, row: DecisionRow) -> str:
    device = speaker.device(row.mac, row.at)
    if row.medium in ("person", "posted"):
        is_own = row.mac is not None and row.mac == speaker.own
        device = speaker.say("somebody") if is_own else speaker.say("decision.person", device=device)
    reason = reason_words(row.reason, speaker.lang)
    if row.medium == "page":
        if row.answer == "admit":
            return speaker.say("decision.page_admit", device=device)
        return speaker.say("decision.page", device=device, reason=reason)
    facts = {"device": device, "place": speaker.place(row.access_device), "reason": reason}
    if row.answer == "admit":
        return speaker.say("decision.admit", role=speaker.role(row.role), **facts, **_ends(speaker, row))
    if row.answer == "door":
        state = speaker.say(f"state.{_STANDS.get(row.reason, 'at_door')}")
        return speaker.say("decision.door", state=state, **facts)
    return speaker.say("decision.refused", **facts)


def _ends(speaker: Speaker, row: DecisionRow) -> dict[str, str]:
    """Return until when it is placed, and by which rule."""
    until = "" if row.until is None else speaker.say("decision.until", time=speaker.clock(row.until))
    rule = speaker.rule(row.rule)
    return {
        "until": until,
        "rule": "" if rule is None else speaker.say("decision.rule", number=rule.position),
    }


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]
