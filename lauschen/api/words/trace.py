"""Each step of a decision in words."""

from lauschen.api.words.networks import recognised_words
from lauschen.api.words.speaker import Speaker, rule_words
from lauschen.core.decide.trace import (
    BarsLine,
    CredentialLine,
    DeviceLine,
    DoorLine,
    GivenRoleLine,
    GroupLine,
    KeysLine,
    LastRuleLine,
    LimitsLine,
    NetworkLine,
    NoRuleLine,
    PauseLine,
    RuleLine,
    SeatsLine,
    TraceLine,
    read_trace,
)
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.text import visible
from lauschen.store.log import DecisionRow

_MEDIA = {
    "asked": "the access device asked about it",
    "reauthorised": "the access device asked again because we told it to",
    "page": "its guest offered a way in at the page",
    "person": "the access device passed on a name and a password",
    "posted": "the access device passed on the one-time login of a visit",
    "changed": "nobody asked: what it should have now was looked at",
}
_OVER = {
    "time": "the time",
    "data": "the data",
    "validity": "the time to begin",
    "date": "the time until its last day",
}
_WAYS = {
    "voucher": "a voucher of ours",
    "click_through": "agreement to the house rules",
    "guest_pass": "a guest pass",
    "passcode": "the passcode",
    "account": "an account",
    "sponsor": "a code that a host gave",
    "always": "being let in always",
    "passphrase": "a private passphrase",
}
_CREDENTIAL = {
    "code_unknown": "the code was never issued",
    "details_missing": "it was asked for a name or a mail address, and said none",
    "login_wrong": "name and password do not go together",
    "chap_account": "its password is not kept for CHAP",
    "not_here": "it is good on another network alone",
    "needs_code": "it was not let in yet",
    "key_unknown": "its passphrase is none that was ever issued here",
    "key_ended": "it has a passphrase that was replaced",
    "key_removed": "it was taken off the passphrase that it has",
    "key_none": "there is no passphrase that it could have",
    "too_many_new": "its access device asked about too many new devices",
    "too_soon": "it tried wrong passphrases again and again, and is not looked at for a moment",
    "not_offered": "this network does not offer this way in",
    "rules_changed": "the house rules changed meanwhile",
    "time_used_up": "it is held: the time that it was given is used up",
    "not_confirmed": "it is held: its first stay is over, and the address that it wrote was not confirmed",
    "date_over": "it is held: the last moment of its pass is over",
    "data_used_up": "it is held: the data that it was given is used up",
    "in_by_other": "the device is in by another code",
    "way_closed": "what was offered is good, but that way in is closed at this hour",
    "forgotten": "it was away, and logged in longer ago than that is remembered",
    "paused": "what it was let in by, or what was offered, is paused",
    "code_paused": "it is held: what it was let in by is paused",
    "withdrawn": "what it was let in by was withdrawn",
}


def trace_words(speaker: Speaker, row: DecisionRow) -> list[tuple[str, str]]:
    """The name of each step, and what it concluded."""
    return [(line.step, _words(speaker, line)) for line in read_trace(row.trace)]


def _words(speaker: Speaker, line: TraceLine) -> str:
    match line:
        case NetworkLine():
            return _network(speaker, line)
        case DeviceLine():
            known = "heard before" if line.finding == "known" else "never heard before"
            private = "private" if line.private else "built-in"
            return f"{known}, {private} MAC address; {_MEDIA[line.medium]}"
        case BarsLine():
            return _bars(speaker, line)
        case PauseLine():
            until = f", until {speaker.clock(line.until)}" if line.until is not None else ""
            stays = "; whoever is inside stays in" if line.finding == "stays" else ""
            return f"the network is paused since {speaker.clock(line.since)}{until}{stays}"
        case CredentialLine():
            return _credential(speaker, line)
        case KeysLine():
            keys = "the one passphrase" if line.keys == 1 else f"the {line.keys} passphrases"
            return f"its access point was given {keys} that it may have; when it joins, it is known which one it has"
        case LimitsLine():
            return _limits(speaker, line)
        case SeatsLine():
            how = "in use on" if line.finding == "devices" else "was used on"
            when = "at once" if line.finding == "devices" else "in all"
            return f"{speaker.plan(line.plan)}: {how} {line.taken} of {line.of} devices {when}"
        case DoorLine():
            return f"{speaker.role(line.role)}, where the page asks"
        case NoRuleLine():
            return f"none of {line.passed} rules matches"
        case GivenRoleLine():
            return f"{speaker.role(line.role)}, which it brings along"
        case GroupLine():
            return f"VLAN {line.vlan}, which its private group has for itself"
        case LastRuleLine():
            return f"none of {line.passed} rules matches; the last one places everybody as {speaker.role(line.role)}"
        case RuleLine():
            return _rule(speaker, line)


def _network(speaker: Speaker, line: NetworkLine) -> str:
    if line.network is None or line.finding == "gone":
        if line.finding == "foreign_ssid":
            return f"no guest network has the SSID {visible(line.said or '')}"
        return "the request names no SSID" if line.finding == "no_ssid" else "the network was removed"
    name, known = speaker.network(line.network), speaker.config.networks.get(line.network)
    match line.finding:
        case "ssid":
            ssid = visible(known.shown_as) if known else "its own"
            return f"recognised as {name}, because the SSID is {ssid}"
        case "hints" if known is not None:
            return f"recognised as {name}, because {recognised_words(known, speaker.config)}"
        case "hints":
            return f"recognised as {name}, by what the request said of where it came from"
        case "not_served":
            return f"its access device is not listed for {name}"
        case "token":
            return f"{name}, by the visit at the page"
    return f"{name}, where it is"


def _bars(speaker: Speaker, line: BarsLine) -> str:
    if line.finding == "staff" and line.at is not None:
        return f"barred by staff since {speaker.clock(line.at)}"
    if line.finding == "tries" and line.at is not None:
        return f"too many wrong codes: typing is barred until {speaker.clock(line.at)}"
    return "nobody and nothing bars it"


def _credential(speaker: Speaker, line: CredentialLine) -> str:
    said = _credential_words(line)
    vouched = (
        speaker.vouched(line.credential) if line.credential is not None and line.way == "sponsor" else ""
    )
    return f"{said}; {vouched}" if vouched else said


def _credential_words(line: CredentialLine) -> str:
    way = _WAYS.get(line.way or "voucher", "a credential")
    if line.finding == "offered":
        return f"what was offered is {way}" if line.way != "click_through" else f"{way} was offered"
    if line.finding == "admitted":
        return f"it was let in before, by {way}"
    return _CREDENTIAL.get(line.finding, line.finding)


def _limits(speaker: Speaker, line: LimitsLine) -> str:
    name = speaker.plan(line.plan)
    if line.state == "early":
        return f"{name}: it is not good before {speaker.clock(line.until or 0)}"
    if line.state == "closed":
        opens = f", it opens {speaker.clock(line.until)}" if line.until is not None else ""
        return f"{name}: closed at this hour{opens}"
    if line.state == "over":
        return f"{name}: {_OVER.get(line.finding or '', 'it')} is used up"
    parts = []
    if line.seconds is not None and line.until is not None:
        parts.append(f"{duration_words(line.seconds)} left, until {speaker.clock(line.until)}")
    if line.octets is not None:
        parts.append(f"{data_words(line.octets)} left")
    return f"{name}: {' and '.join(parts) or 'no limit'}"


def _rule(speaker: Speaker, line: RuleLine) -> str:
    rule = speaker.rule(line.rule)
    passed = f"; rules passed over: {line.passed}" if line.passed else ""
    when = rule_words(speaker, rule) if rule else "a rule that is gone"
    return f"rule {line.position}, {when}, places it as {speaker.role(line.role)}{passed}"
