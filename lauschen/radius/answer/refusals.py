"""What a person who is refused may be shown by the access device: Reply-Message (RFC 2865 section 5.18)."""

from lauschen.core.decide.reason import Reason
from lauschen.core.limits.tries import BARRED_S
from lauschen.radius.wire import attributes
from lauschen.radius.wire.numbers import Kind

_WORDS = {
    Reason.NOT_OFFERED: "Codes are not taken on this network. Please ask the desk.",
    Reason.CODE_UNKNOWN: "We do not know this code. Please compare it with your slip.",
    Reason.LOGIN_WRONG: "Name and password do not go together.",
    Reason.CHAP_ACCOUNT: "This account cannot be used here.",
    Reason.PLAN_CLOSED: "This is not good at this hour.",
    Reason.WAY_CLOSED: "This is not taken at this hour.",
    Reason.PAUSED: "Nobody is let in at the moment.",
    Reason.CODE_EXPIRED: "This code was not used in time.",
    Reason.NOT_YET: "This code is not good yet.",
    Reason.NOT_CONFIRMED: "The address was not confirmed in time.",
    Reason.DATE_OVER: "This code is not good any more.",
    Reason.CODE_WITHDRAWN: "This code was withdrawn.",
    Reason.TIME_USED_UP: "The time of this code is used up.",
    Reason.DATA_USED_UP: "The data of this code is used up.",
    Reason.DEVICES_FULL: "This code is in use on as many devices as it is for.",
    Reason.DEVICES_USED: "This code was used on as many devices as it is for.",
    Reason.BARRED_BY_STAFF: "This device is barred by the house.",
    Reason.BARRED_BY_TRIES: f"Too many wrong codes. Please wait {BARRED_S // 60:.0f} minutes.",
    Reason.NOT_A_CODE: "This is no code of ours: a code has ten signs. Please compare it with your slip.",
    Reason.CHAP_NAME: "Please type your code as the user name, and once more as the password.",
    Reason.CHAP_PASSWORD: "Please type the same code as user name and as password.",
    Reason.SECRET_FOREIGN: "This login belongs to another device. Please open the guest page again.",
    Reason.SECRET_OLD: "This login came too late. Please open the guest page again.",
    Reason.SECRET_USED: "This login was used already. Please open the guest page again.",
}


def refusal(reason: Reason) -> bytes:
    """The attribute, or nothing for what a guest can do nothing about."""
    words = _WORDS.get(reason)
    return attributes.text(Kind.REPLY_MESSAGE, words) if words is not None else b""
