"""The sentences on a slip, and in a mail that takes its place: where, how, and within which limits."""

from datetime import datetime
from zoneinfo import ZoneInfo

from lauschen.core.config.config import Config
from lauschen.core.decide.grant import Grant
from lauschen.core.ids import NetworkId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.amounts import data_words, duration_words
from lauschen.core.words.slip import taking_networks
from lauschen.sentences.catalogue import Sentences, sentences

MOST_NETWORKS = 2


def slip_networks(config: Config, way: WayIn, lang: str = "en", only: NetworkId | None = None) -> str:
    """Return where the slip's code is valid, by the names that guests see. `only`: valid there alone."""
    names = (network.shown_as for network in taking_networks(config, way, only)[:MOST_NETWORKS])
    return _words(lang)["or"].join(names)


def slip_label(name: str, lang: str = "en") -> str:
    """Return the line with the guest's name, or "" when the slip has no name."""
    return _words(lang).say("for", name=name) if name else ""


def slip_steps(config: Config, way: WayIn, lang: str = "en", only: NetworkId | None = None) -> list[str]:
    """Return what the guest does, in order."""
    words = _words(lang)
    names = slip_networks(config, way, lang, only) or words["some_wifi"]
    if way is WayIn.PASSPHRASE:
        return [words.say("scan", names=names), words["passphrase"], words["only_yours"]]
    return [words.say("join", names=names), words["opens"], words["enter"]]


def slip_limits(plan: Plan, terms: Terms = AS_PLAN, zone: ZoneInfo | None = None, lang: str = "en") -> str:
    """Return the plan in the few words that fit on a slip; `terms` and their `zone` where they differ from it."""
    words, parts = _words(lang), []
    if plan.seconds is not None:
        parts.append(words.say("first_use", time=_time(plan.seconds, lang)))
    for id, moment in (("from", terms.valid_from), ("until", terms.valid_until)):
        if moment is not None:
            parts.append(words.say(id, day=day_words(datetime.fromtimestamp(moment, zone), lang)))
    parts.append(_devices(terms.devices or plan.devices, terms.seats, words))
    if plan.octets is not None:
        parts.append(data_words(plan.octets))
    return " · ".join(parts)


def limits_of(config: Config, plan: Plan, grant: Grant, lang: str = "en") -> str:
    """Return the limits of a credential, which has terms of its own."""
    use = grant.use
    terms = Terms(grant.devices, grant.seats, use.valid_from, use.valid_until)
    return slip_limits(plan, terms, config.zone, lang)


def day_words(then: datetime, lang: str) -> str:
    """Return `Sat 5 Dec, 18:00`, by the clock that `then` was read from."""
    if lang == "de":
        return f"{then.day}.{then.month}., {then:%H:%M}"
    return f"{then:%a} {then.day} {then:%b}, {then:%H:%M}"


def _words(lang: str) -> Sentences:
    return sentences("slip", lang)


def _time(seconds: int, lang: str) -> str:
    text = duration_words(seconds)
    return text.replace(" d", " Tage") if lang == "de" else text


def _devices(count: int, seats: Seats, words: Sentences) -> str:
    if seats is Seats.ANY:
        return words["devices_any"]
    devices = words.count("devices", count)
    return devices if seats is Seats.AT_ONCE else words.say("devices_ever", devices=devices)
