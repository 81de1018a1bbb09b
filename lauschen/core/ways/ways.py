"""All ways in together: what a network may offer, and what a guest may."""

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.core.limits.hours import read_hours, write_hours
from lauschen.core.ways.account import Account, Login
from lauschen.core.ways.always import Always, Known
from lauschen.core.ways.click_through import Agreement, ClickThrough
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.fields import Field
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.ways.passcode import Passcode, Schedule, Signs
from lauschen.core.ways.passphrase import Key, KeyFile, PrivatePassphrase, Signed
from lauschen.core.ways.self_registration import Delivery, SelfRegistration
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.voucher import Voucher

Way = (
    Voucher
    | GuestPass
    | Passcode
    | Account
    | ClickThrough
    | Always
    | SelfRegistration
    | Sponsor
    | PrivatePassphrase
)
"""One that a network offers, with its settings there."""
Offer = Code | Login | Agreement | Known | Key
"""What may lead to a credential."""
Asked = Offer | NameAndPassword | Signed
"""What an arrival brings along."""

_KINDS: Mapping[WayIn, type[Way]] = {
    kind.way: kind
    for kind in (
        Voucher,
        GuestPass,
        Passcode,
        Account,
        ClickThrough,
        Always,
        SelfRegistration,
        Sponsor,
        PrivatePassphrase,
    )
}


def read_way(kind: str, settings: Mapping[str, Any], zone: ZoneInfo) -> Way:
    """A way from its stored settings; its hours are those of the site's zone."""
    found = _KINDS[WayIn(kind)]
    settings = {**settings, "hours": read_hours(settings.get("hours"), zone)}
    if found is Passcode:
        settings = {
            **settings,
            "schedule": Schedule(settings["schedule"]),
            "signs": Signs(settings["signs"]),
            "tells": tuple(settings.get("tells", ())),
        }
    if found is SelfRegistration:
        settings = {
            **settings,
            "fields": tuple(Field(**one) for one in settings["fields"]),
            "deliveries": tuple(map(Delivery, settings["deliveries"])),
        }
    if found is PrivatePassphrase:
        settings = {**settings, "files": tuple(KeyFile(**one) for one in settings.get("files", ()))}
    if found is Sponsor:
        settings = {
            **settings,
            "fields": tuple(Field(**one) for one in settings["fields"]),
            "naming": Naming(settings["naming"]),
            "domains": tuple(settings["domains"]),
        }
    return found(**settings)


def write_way(way: Way) -> dict[str, Any]:
    """Its settings, to be stored."""
    return {**asdict(replace(way, hours=None)), "hours": write_hours(way.hours)}
