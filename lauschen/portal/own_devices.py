"""The part of the page that shows which devices are in by what the guest typed."""

from dataclasses import dataclass
from sqlite3 import Connection
from typing import ClassVar

from lauschen.acts.page.own_devices import shared_credential
from lauschen.core.config.config import Config
from lauschen.core.decide.judge import seats_of
from lauschen.core.decide.picture import AdmissionFacts
from lauschen.core.decide.standing import Standing, State
from lauschen.core.limits.seats import Seats
from lauschen.core.words.mac import spell_mac
from lauschen.core.words.text import visible
from lauschen.portal.words import catalogue, clock_words
from lauschen.store import devices
from lauschen.store.visits import Visit

SHOWN = 20


@dataclass(frozen=True, slots=True)
class OtherDevice:
    """One that is in by the same code, or would be let in by it without the page."""

    key: str
    """What its button sends."""
    words: str
    is_here: bool


@dataclass(frozen=True, slots=True)
class OwnDevices:
    """How many of how many, and the others."""

    template: ClassVar[str] = "parts/own_devices.html"
    count: str
    others: list[OtherDevice]
    how: str
    """How one more comes in."""


@dataclass(frozen=True, slots=True)
class Shared:
    """What one person's credential is in use by."""

    of: int
    seats: Seats
    """How they are counted."""
    standings: list[Standing]


def load_shared(
    conn: Connection, config: Config, visit: Visit, standing: Standing, admission: AdmissionFacts | None
) -> Shared | None:
    """None where the visit may not see them (rulings 6.1), or there are none but its own."""
    if admission is None or admission.grant.credential is None:
        return None
    if not shared_credential(config, visit, standing, admission.grant):
        return None
    grant = admission.grant
    of = seats_of(config.plan_of(grant), grant) or 0
    found = devices.standings_where_admitted(conn, admission.grant.credential)
    return Shared(of, grant.seats, found) if of > 1 or len(found) > 1 else None


def own_devices(shared: Shared, config: Config, visit: Visit, now: float, lang: str) -> OwnDevices:
    words, others = catalogue(lang), []
    for standing in shared.standings:
        if standing.mac == visit.mac:
            continue
        network = config.networks.get(standing.network)
        where = visible(network.shown_as) if network is not None else ""
        is_here = standing.state is not State.LEFT
        since = clock_words(standing.since, now, config.zone, lang)
        said = words["device_here" if is_here else "device_away"]
        text = said.format(device=f"… {spell_mac(standing.mac)[-8:]}", network=where, since=since)
        others.append(OtherDevice(f"{standing.mac:012x}-{standing.network}", text, is_here))
    count = words[f"devices_{shared.seats}"].format(count=len(others) + 1, of=shared.of)
    return OwnDevices(count, others[:SHOWN], words["devices_how"])
