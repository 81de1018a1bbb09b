"""*Why can they not get on?* The likely cause behind a refusal, and what somebody at the desk can do about it."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.core.decide.reason import Reason
from lauschen.sentences.catalogue import sentences


@dataclass(frozen=True, slots=True)
class Why:
    """The cause, the mend, and the room where it is mended, if it is another one."""

    cause: str
    mend: str
    link: str | None = None


MENDED_IN: Mapping[Reason, str | None] = {
    Reason.CODE_UNKNOWN: None,
    Reason.LOGIN_WRONG: "/desk",
    Reason.CHAP_ACCOUNT: "/desk",
    Reason.CODE_EXPIRED: "/desk",
    Reason.CODE_WITHDRAWN: "/desk",
    Reason.CODE_PAUSED: "/desk",
    Reason.NOT_HERE: "/desk",
    Reason.NOT_YET: "/desk",
    Reason.DATE_OVER: None,
    Reason.TIME_USED_UP: None,
    Reason.DATA_USED_UP: "/desk",
    Reason.NOT_CONFIRMED: "/desk",
    Reason.DEVICES_FULL: None,
    Reason.DEVICES_USED: "/desk",
    Reason.PLAN_CLOSED: None,
    Reason.WAY_CLOSED: None,
    Reason.PAUSED: "/networks",
    Reason.FORGOTTEN: None,
    Reason.BARRED_BY_STAFF: None,
    Reason.BARRED_BY_TRIES: None,
    Reason.ENDED_BY_STAFF: None,
    Reason.LOGGED_OUT: None,
    Reason.IN_BY_OTHER: None,
    Reason.DETAILS_MISSING: None,
    Reason.NO_RULE: "/rules",
    Reason.NOT_OFFERED: "/networks",
    Reason.NO_NETWORK: "/networks",
    Reason.NOT_SERVED: "/networks",
    Reason.RULES_CHANGED: None,
    Reason.KEY_UNKNOWN: "/passphrases",
    Reason.KEY_ENDED: "/passphrases",
    Reason.KEY_REMOVED: "/passphrases",
    Reason.KEY_TRIED: "/passphrases",
    Reason.KEY_NONE: "/passphrases",
    Reason.KEY_UNSIGNED: "/networks",
    Reason.KEY_NO_HANDSHAKE: "/networks",
    Reason.TOO_MANY_NEW: "/passphrases",
    Reason.TOO_SOON: "/passphrases",
    Reason.EAP: None,
}
"""The room where each cause is mended; None where nothing has to be set up."""
NEVER_OPENED, NOTHING_ENTERED, AS_BELOW = "never_opened", "nothing_entered", "as_below"


def why_words(id: str, lang: str = "en") -> Why:
    """Return cause and mend of a reason, or of one of the three that are no reason."""
    words = sentences("why", lang)
    link = next((room for reason, room in MENDED_IN.items() if reason == id), None)
    return Why(words[f"{id}.cause"], words[f"{id}.mend"], link)


def why_not(reason: str | None, *, has_opened: bool, lang: str = "en") -> Why:
    """Return why somebody is not in: by the reason of the last decision, or by what has not been done yet."""
    if reason is not None and reason in set(MENDED_IN):
        return why_words(reason, lang)
    if reason not in (None, Reason.NEEDS_CODE, Reason.ADMITTED):
        return why_words(AS_BELOW, lang)
    return why_words(NOTHING_ENTERED if has_opened else NEVER_OPENED, lang)
