"""*Why can they not get on?* The likely cause behind a refusal, and what whoever is at the desk can do about it."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.core.decide.reason import Reason


@dataclass(frozen=True, slots=True)
class Why:
    """The cause, the mend, and the room where it is mended, if it is another one."""

    cause: str
    mend: str
    link: str | None = None


_AGAIN = "Give it time here, or issue another one."
_SET_UP = "/networks"
NEVER_OPENED = Why(
    "It is at the door, and has not opened the page.",
    "Ask them to open the short address on the slip in a browser. A page that never comes is often a private DNS or a"
    " VPN on the phone: off until they are in.",
)
NOTHING_TYPED = Why(
    "It has the page open, and nothing was typed there yet.",
    "Ask what they see. The foot of their page has the device and the time, to compare.",
)
AS_BELOW = Why(
    "It was refused on technical grounds.", "The newest decision below says each step of it, behind *why*."
)
WHY: Mapping[Reason, Why] = {
    Reason.CODE_UNKNOWN: Why(
        "What was typed is no code of this house.",
        "Compare it with the slip, sign by sign. *New code* on what they have makes another one.",
    ),
    Reason.LOGIN_WRONG: Why(
        "Name and password do not go together.", "*New password* at the desk makes another one.", "/desk"
    ),
    Reason.CHAP_ACCOUNT: Why(
        "The access device asks by CHAP, and the password of this account is not kept for that.",
        "Set a new password that is also for CHAP, at the desk.",
        "/desk",
    ),
    Reason.CODE_EXPIRED: Why("Nobody used it within its days.", "Issue another one.", "/desk"),
    Reason.CODE_WITHDRAWN: Why(
        "What they had was withdrawn.", "*Restore* it at the desk, if that was a mistake.", "/desk"
    ),
    Reason.CODE_PAUSED: Why("What they have is paused.", "*Resume* it at the desk.", "/desk"),
    Reason.NOT_HERE: Why(
        "What they have is good on another network alone.", "Issue one for this network.", "/desk"
    ),
    Reason.NOT_YET: Why(
        "What they have is good from a later moment on.", "Wait, or issue another one.", "/desk"
    ),
    Reason.DATE_OVER: Why("The last moment of what they have is over.", _AGAIN),
    Reason.TIME_USED_UP: Why("Their time is used up.", _AGAIN),
    Reason.DATA_USED_UP: Why("Their data is used up.", "Issue another one.", "/desk"),
    Reason.NOT_CONFIRMED: Why(
        "Their first stay is over, and the address that they wrote was not confirmed.",
        "They confirm it by the link or the digits in the message. *Send again* at the desk writes it once more.",
        "/desk",
    ),
    Reason.DEVICES_FULL: Why(
        "As many of their devices as may be are in already.",
        "End the stay of one of them, below, or issue one for more devices.",
    ),
    Reason.DEVICES_USED: Why(
        "As many different devices as may ever be were in by it.", "Issue one for this device.", "/desk"
    ),
    Reason.PLAN_CLOSED: Why("Its plan is closed at this hour.", "It is in by itself when the plan opens."),
    Reason.WAY_CLOSED: Why("That way in is closed at this hour.", "Another way in, or wait until it opens."),
    Reason.PAUSED: Why("The network is paused.", "It ends by itself, or in *Paths*.", _SET_UP),
    Reason.FORGOTTEN: Why("It was away for longer than it is remembered.", "They type their code again."),
    Reason.BARRED_BY_STAFF: Why("Somebody here barred it.", "*Let try again*."),
    Reason.BARRED_BY_TRIES: Why("Too many wrong codes were typed.", "*Let try again*, or wait ten minutes."),
    Reason.ENDED_BY_STAFF: Why("Somebody here ended its stay.", "They type their code again."),
    Reason.LOGGED_OUT: Why("They logged out themselves.", "They type their code again."),
    Reason.IN_BY_OTHER: Why("The device is in by another code already.", "Nothing needs to be done."),
    Reason.DETAILS_MISSING: Why(
        "A field that must be filled was left empty, on the page.", "They fill it in, and connect again."
    ),
    Reason.NO_RULE: Why(
        "They are let in, and no rule says where to place them.",
        "A rule for this way in is missing.",
        "/rules",
    ),
    Reason.NOT_OFFERED: Why(
        "This network does not offer that way in.", "*is asked* in *Paths* offers it.", _SET_UP
    ),
    Reason.NO_NETWORK: Why(
        "The request names no network that is set up.",
        "Compare the SSID in *Paths* with the access device.",
        _SET_UP,
    ),
    Reason.NOT_SERVED: Why(
        "Its access device is not listed for this network.",
        "If it serves this network, list it: *Paths*, the access device, *Networks that it serves*.",
        _SET_UP,
    ),
    Reason.RULES_CHANGED: Why("The house rules changed meanwhile.", "They agree again, on the page."),
    Reason.KEY_UNKNOWN: Why(
        "The passphrase in it is none of this house.",
        "Let them forget the Wi-Fi and scan the QR code, or type the passphrase anew.",
        "/passphrases",
    ),
    Reason.KEY_ENDED: Why(
        "It still has a passphrase that was replaced.", "Give them the new one.", "/passphrases"
    ),
    Reason.KEY_REMOVED: Why(
        "It was taken off the passphrase that it has.",
        "Take it back in *Passphrases*, or give it another passphrase.",
        "/passphrases",
    ),
    Reason.KEY_TRIED: Why(
        "Its access point has the passphrases that it may have, and it joined with none of them.",
        "Let them forget the Wi-Fi and type the passphrase anew.",
        "/passphrases",
    ),
    Reason.KEY_NONE: Why(
        "There is no passphrase that it could have: each is in use on as many devices as it is for.",
        "Issue one, or remove a device from the one that they have.",
        "/passphrases",
    ),
    Reason.KEY_UNSIGNED: Why(
        "Its access device does not sign its requests, so no passphrase is sent there.",
        "Let the access device send Message-Authenticator.",
        _SET_UP,
    ),
    Reason.KEY_NO_HANDSHAKE: Why(
        "Its access device passes handshakes on, and this request had none.",
        "Compare the attribute numbers in its dialect. If it cannot pass them on, choose a dialect that asks by"
        " address.",
        _SET_UP,
    ),
    Reason.TOO_MANY_NEW: Why(
        "Its access device asked about too many new devices, so it is sent no passphrases for a while.",
        "If many people are moving in, wait ten minutes. Otherwise look at that access device.",
        "/passphrases",
    ),
    Reason.TOO_SOON: Why(
        "It tried wrong passphrases again and again.",
        "Let them forget the Wi-Fi, wait a moment, and type the passphrase anew.",
        "/passphrases",
    ),
    Reason.EAP: Why(
        "The device tries 802.1X, which this network does not speak.",
        "On the phone: forget the Wi-Fi and join it anew, without name and password.",
    ),
}


def why_not(reason: str | None, *, has_opened: bool) -> Why:
    """Of whoever is not in: by the reason of the last decision, or by what was not done yet."""
    known = next((why for one, why in WHY.items() if one == reason), None)
    if known is not None:
        return known
    if reason not in (None, Reason.NEEDS_CODE, Reason.ADMITTED):
        return AS_BELOW
    return NOTHING_TYPED if has_opened else NEVER_OPENED
