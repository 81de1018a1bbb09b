"""Why: reasons of decisions, causes of ends, answers of access devices."""

from lauschen.sentences.catalogue import sentences


def reason_words(reason: str, lang: str = "en") -> str:
    """Return why a decision was made; an unknown reason as it is."""
    return sentences("reasons", lang).find(f"reason.{reason}") or reason


def cause_words(cause: str, lang: str = "en") -> str:
    """Return why a stay ended; an unknown cause as it is."""
    return sentences("reasons", lang).find(f"cause.{cause}") or cause


def answer_words(answer: str, lang: str = "en") -> str:
    """Return what an access device answered to a change that we asked for."""
    words = sentences("reasons", lang)
    if answer in ("accepted", "silent", "failed"):
        return words[f"answer.{answer}"]
    return words.say("answer.refused", why=refusal_words(answer, lang))


def refusal_words(answer: str, lang: str = "en") -> str:
    """Return why an access device refused: `http:...` for a call, `nak:503` for an Error-Cause."""
    if answer.startswith("http:"):
        return answer[5:]
    words, cause = sentences("reasons", lang), int(answer.partition(":")[2] or 0)
    why = words.find(f"error_cause.{cause}") or words["error_cause.other"]
    return words.say("answer.error_cause", why=why, number=cause)
