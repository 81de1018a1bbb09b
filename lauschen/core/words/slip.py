"""What a slip says, and a mail that takes its place: where, how, and with which limits."""

from collections.abc import Mapping
from datetime import datetime
from zoneinfo import ZoneInfo

from lauschen.core.decide.grant import Grant
from lauschen.core.house.house import House
from lauschen.core.house.network import GuestNetwork, Match
from lauschen.core.ids import NetworkId
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.seats import Seats
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.amounts import data_words, duration_words

MOST_NETWORKS = 2
_WIFI_SPECIAL = '\\;,:"'
_WORDS: Mapping[str, Mapping[str, str]] = {
    "en": {
        "first_use": "{time} from first use",
        "from": "from {day}",
        "until": "until {day}",
        "any": "any number of devices",
        "one": "one device",
        "many": "{count} devices",
        "ever": "{devices} in all",
        "or": " or ",
        "for": "for {name}",
        "some_wifi": "the guest Wi-Fi",
        "join": "Join {names}.",
        "opens": "A page opens. If not: scan.",
        "type": "Type the code.",
        "scan": "Scan with each device, or choose {names} there.",
        "passphrase": "Type this passphrase.",
        "yours": "It is yours alone: others get their own.",
    },
    "de": {
        "first_use": "{time} ab der ersten Nutzung",
        "from": "ab {day}",
        "until": "bis {day}",
        "any": "beliebig viele Geräte",
        "one": "ein Gerät",
        "many": "{count} Geräte",
        "ever": "{devices} insgesamt",
        "or": " oder ",
        "for": "für {name}",
        "some_wifi": "dem Gäste-WLAN",
        "join": "Verbinden mit {names}.",
        "opens": "Seite öffnet sich; sonst: scannen.",
        "type": "Den Code eintippen.",
        "scan": "Mit jedem Gerät scannen, oder dort {names} wählen.",
        "passphrase": "Dieses Passwort eintippen.",
        "yours": "Es gehört Ihnen allein: Andere bekommen ein eigenes.",
    },
}


def slip_address(house: House, code: str) -> str:
    """What the QR code says: a plain host outside the walled garden, so that it is intercepted at the door."""
    return f"http://{house.slip_host}/{code}"


def slip_networks(house: House, way: WayIn, lang: str = "en", only: NetworkId | None = None) -> str:
    """Where the slip's code is good, as guests know it. `only`: good there alone."""
    return _words(lang)["or"].join(n.shown_as for n in _taking(house, way, only)[:MOST_NETWORKS])


def _taking(house: House, way: WayIn, only: NetworkId | None) -> list[GuestNetwork]:
    networks = house.networks.values()
    return [n for n in networks if n.way(way) is not None and only in (None, n.id)]


def wifi_join(house: House, way: WayIn, only: NetworkId | None = None) -> str | None:
    """What a QR code says that joins the Wi-Fi, the first that takes the code; None where no SSID is whole."""
    whole = [n for n in _taking(house, way, only) if n.ssid.match is Match.EXACT]
    if not whole:
        return None
    return f"WIFI:T:nopass;S:{_escaped(whole[0].shown_as)};;"


def wifi_by_key(network: GuestNetwork, passphrase: str) -> str:
    """What a QR code says that joins by a passphrase."""
    return f"WIFI:T:WPA;S:{_escaped(network.shown_as)};P:{_escaped(passphrase)};;"


def _escaped(text: str) -> str:
    return "".join(f"\\{sign}" if sign in _WIFI_SPECIAL else sign for sign in text)


def slip_label(name: str, lang: str = "en") -> str:
    """For whom it is; empty for nobody by name."""
    return _words(lang)["for"].format(name=name) if name else ""


def page_words(house: House) -> str:
    """The page's address as people type it."""
    return house.page_url.partition("://")[2]


def slip_steps(house: House, way: WayIn, lang: str = "en", only: NetworkId | None = None) -> list[str]:
    """What the guest does, in the order of doing it."""
    words = _words(lang)
    names = slip_networks(house, way, lang, only) or words["some_wifi"]
    if way is WayIn.PASSPHRASE:
        return [words["scan"].format(names=names), words["passphrase"], words["yours"]]
    return [words["join"].format(names=names), words["opens"], words["type"]]


def slip_limits(plan: Plan, terms: Terms = AS_PLAN, zone: ZoneInfo | None = None, lang: str = "en") -> str:
    """The plan in the few words that fit on a slip; `terms` and their `zone` where they are not as it says."""
    words, parts = _words(lang), []
    if plan.seconds is not None:
        parts.append(words["first_use"].format(time=_time(plan.seconds, lang)))
    for word, moment in (("from", terms.valid_from), ("until", terms.valid_until)):
        if moment is not None:
            parts.append(words[word].format(day=day_words(datetime.fromtimestamp(moment, zone), lang)))
    parts.append(_devices(terms.devices or plan.devices, terms.seats, words))
    if plan.octets is not None:
        parts.append(data_words(plan.octets))
    return " · ".join(parts)


def limits_of(house: House, plan: Plan, grant: Grant, lang: str = "en") -> str:
    """Of one that was issued, with its own terms."""
    use = grant.use
    terms = Terms(grant.devices, grant.seats, use.valid_from, use.valid_until)
    return slip_limits(plan, terms, house.zone, lang)


def _words(lang: str) -> Mapping[str, str]:
    return _WORDS.get(lang, _WORDS["en"])


def _time(seconds: int, lang: str) -> str:
    text = duration_words(seconds)
    return text.replace(" d", " Tage") if lang == "de" else text


def day_words(then: datetime, lang: str) -> str:
    """`Sat 5 Dec, 18:00`, by the clock that it was read from."""
    if lang == "de":
        return f"{then.day}.{then.month}., {then:%H:%M}"
    return f"{then:%a} {then.day} {then:%b}, {then:%H:%M}"


def _devices(count: int, seats: Seats, words: Mapping[str, str]) -> str:
    if seats is Seats.ANY:
        return words["any"]
    devices = words["one"] if count == 1 else words["many"].format(count=count)
    return devices if seats is Seats.AT_ONCE else words["ever"].format(devices=devices)
