"""What access devices were told to change, and what they answered."""

from lauschen.api.words.reasons import answer_words
from lauschen.api.words.speaker import Speaker
from lauschen.store.log import EventRow

_TOLD = {
    "reauthorise": "ask again about {who}",
    "disconnect": "send {who} away",
    "attributes": "place {who} anew",
    "called": "change {who}",
}


def _answered(speaker: Speaker, row: EventRow) -> str:
    told = _TOLD.get(str(row.facts.get("how")), "move {who}").format(who=speaker.device(row.mac, row.at))
    answer = answer_words(str(row.facts.get("answer")))
    return f"{speaker.place(row.access_device)}, told to {told}, {answer}"


def _given_up(speaker: Speaker, row: EventRow) -> str:
    tried = "letting in" if row.facts.get("what") == "in" else "sending away"
    where = speaker.place(row.access_device)
    return f"{where} never confirmed {tried} {speaker.device(row.mac, row.at)}; that is over by now anyway"


WORDS = {"device_answered": _answered, "given_up": _given_up}
