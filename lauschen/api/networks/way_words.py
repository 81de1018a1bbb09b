"""What a network asks guests for, in sentences: each way in, what proves it, and what keeps it from working."""

from lauschen.api.hours import hours_words
from lauschen.api.words.speaker import way_name
from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork
from lauschen.core.ways.account import Account
from lauschen.core.ways.always import Always
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.chosen import chance_words
from lauschen.core.ways.passcode import Passcode, Schedule, chance_within_change
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.core.ways.self_registration import Delivery, SelfRegistration
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way
from lauschen.core.words.amounts import duration_words
from lauschen.core.words.text import visible

LANGUAGES = {"en": "English", "de": "German"}
_WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
PROVES = {
    WayIn.VOUCHER: "by a voucher code, at the page or as a password",
    WayIn.PASSCODE: "by the passcode, at the page or as a password",
    WayIn.GUEST_PASS: "by the code of a guest pass, at the page or as a password",
    WayIn.ALWAYS: "nothing, at the list of who is let in always: a MAC address can be copied",
    WayIn.ACCOUNT: "by the password of an account, at the page or at an access device",
    WayIn.SELF_REGISTRATION: "by the code that they got for writing themselves in; what they wrote nobody confirms",
    WayIn.SPONSOR: "by a host who says yes, and by the code that comes of it",
    WayIn.PASSPHRASE: "by a private passphrase of the Wi-Fi: the access point lets nobody join without one",
    WayIn.CLICK_THROUGH: "nothing: whoever agrees to the house rules is in",
}
FIELDS = {
    "name": "name",
    "mail": "mail address",
    "phone": "phone number",
    "company": "company",
    "room": "room",
    "visiting": "whom they visit",
    "reason": "reason",
}
_DELIVERIES = {
    Delivery.AT_ONCE: "in at once",
    Delivery.PAGE: "the code on the page",
    Delivery.MAIL: "the code by mail",
    Delivery.TEXT: "the code by text message",
    Delivery.CONFIRM_MAIL: "in at once, and to stay once the mail address is confirmed",
    Delivery.CONFIRM_TEXT: "in at once, and to stay once the phone number is confirmed",
}
_IDLE = {
    "no_rules": "no house rules are written yet, so nobody can agree to them",
    "nobody_trusted": "nobody is let in always yet: the list is empty",
    "no_delivery": "nobody can write themselves in: no mail server or text gateway is set to send the code",
    "no_mail": "no host can be asked: no mail server is set",
    "no_host": "no host can be asked: nobody on the list may vouch here",
    "no_passcode": "no passcode is set yet, so nobody can type it",
}


def why_idle(config: Config, network: GuestNetwork, way: Way) -> str | None:
    """Why a way in cannot work, if it cannot."""
    why = config.why_idle(network.id, way)
    if why == "off":
        return f"{way_name(way.way)} is switched off for now"
    if why == "no_rule":
        return f"no rule places whoever gets in by {way_name(way.way)}"
    return None if why is None else _IDLE[why]


def ways_words(network: GuestNetwork, config: Config) -> list[str]:
    """What the page offers, and what of it cannot work."""
    lines = []
    for way in network.ways:
        idle = why_idle(config, network, way)
        if idle is not None:
            lines.append(idle)
        if way.is_off:
            continue
        lines.append("; ".join([_way_words(way, config), *_when_words(way)]))
        lacks = lacks_words(config, way)
        if lacks is not None:
            lines.append(lacks)
    return lines or ["for nothing: no way in is offered"]


def _way_words(way: Way, config: Config) -> str:
    match way:
        case Voucher():
            return "for a voucher code"
        case GuestPass():
            return "for the code of a guest pass"
        case Always():
            return f"for nothing, who is let in always: {config.plans[way.plan].name}"
        case Account():
            return "for the name and password of an account"
        case Passcode():
            return f"for the passcode: {config.plans[way.plan].name}, {changes_words(way)}"
        case ClickThrough():
            again = f", again after {way.again_after_hours} h" if way.again_after_hours else ""
            said = [word for word, asks in (("name", way.asks_name), ("mail address", way.asks_mail)) if asks]
            tells = f", saying {' and '.join(said)}, which nobody confirms" if said else ""
            return f"to agree to the house rules: {config.plans[way.plan].name}{again}{tells}"
        case SelfRegistration():
            return _registration_words(way, config)
        case Sponsor():
            return _sponsor_words(way, config)
        case PrivatePassphrase():
            return f"for a private passphrase, when the device joins{_groups_words(way)}"


def _groups_words(way: PrivatePassphrase) -> str:
    if not way.groups:
        return ""
    return f"; {len(way.groups)} private groups, on VLAN {way.first_vlan} to {way.last_vlan}"


def _sponsor_words(way: Sponsor, config: Config) -> str:
    """Who vouches, and what happens when nobody answers."""
    who = {
        Naming.LIST: "chosen from the list of hosts",
        Naming.NAME: "whose name they type",
        Naming.DOMAIN: f"with a mail address at {' or '.join(way.domains)}",
    }[way.naming]
    reminds = f" (reminded after {way.remind_minutes})" if way.remind_s is not None else ""
    stand_in = config.hosts.get(way.stand_in) if way.stand_in is not None else None
    then = f"; then {visible(stand_in.name)} is asked" if stand_in is not None else ""
    plan = config.plans[way.plan].name
    return f"for a host {who}: {way.wait_minutes} min to answer{reminds}{then}; a yes gives {plan}"


def _registration_words(way: SelfRegistration, config: Config) -> str:
    """What is asked, and how the code comes."""
    asked = [
        f"{FIELDS.get(one.key, 'own field')}{'' if one.is_required else ' (if they like)'}"
        for one in way.fields
    ]
    comes = " or ".join(_DELIVERIES[one] for one in way.deliveries)
    return f"to write themselves in, with {', '.join(asked)}; {comes}: {config.plans[way.plan].name}"


def _when_words(way: Way) -> list[str]:
    """When it is open, and for how long it is remembered."""
    parts = [f"open {hours_words(way.hours)}"] if way.hours is not None else []
    if way.remember_minutes == 0:
        parts.append("asked again whenever it was away")
    elif way.remember_minutes is not None:
        parts.append(f"remembered for {duration_words(way.remember_minutes * 60)}")
    return parts


def lacks_words(config: Config, way: Way) -> str | None:
    """What some guests miss of a way in that works."""
    written = config.house_rules.texts
    missing = [name for lang, name in LANGUAGES.items() if lang not in written]
    if way.way is not WayIn.CLICK_THROUGH or way.is_off or not written or not missing:
        return None
    return f"the house rules are not written in {' and '.join(missing)}: those guests read another language"


def changes_words(way: Passcode) -> str:
    """When it changes."""
    clock = f"{way.at_minute // 60:02}:{way.at_minute % 60:02}"
    match way.schedule:
        case Schedule.NEVER:
            return "fixed"
        case Schedule.HOURLY:
            return "a new one every hour" if way.every_hours == 1 else f"a new one every {way.every_hours} h"
        case Schedule.DAILY:
            return f"a new one each day at {clock}"
    return f"a new one each {_WEEKDAYS[way.weekday]} at {clock}"


def guess_words(way: Passcode, *, is_signed: bool = True) -> str:
    """A guesser's chance within one change, exactly from the limits of wrong tries.

    `is_signed` False: somewhere in the house the page cannot tell devices apart.
    """
    one, ten = [chance_within_change(way, devices, is_signed=is_signed) for devices in (1, 10)]
    if one is None or ten is None:
        return "A fixed one has no end: whoever goes on trying finds it at last. Take a long one, or let it change."
    return (
        f"One device that tries all the time hits it within one change with a chance of {chance_words(one)};"
        f" ten devices with {chance_words(ten)}."
    )
