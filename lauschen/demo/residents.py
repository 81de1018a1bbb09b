"""Who lives in the demo's Cloister, and what stands in its rooms: each has a passphrase; one was tried wrong."""

from dataclasses import dataclass

from lauschen.acts.passphrases.changing import renew
from lauschen.acts.passphrases.issuing import KeyMakers, Kind, Wish, issue_passphrases, make_key
from lauschen.core.actor import person
from lauschen.core.ids import CredentialId, NetworkId, StaffId
from lauschen.core.limits.terms import Terms
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.ways.kinds import WayIn
from lauschen.serve.service import Service
from lauschen.standins.access_device.device import Phone
from lauschen.standins.access_device.keyed import KeyedAccessPoint
from lauschen.store import credentials
from lauschen.store.batches import Said
from lauschen.store.passphrases import keys

DAY_S = 86_400.0
WRONG_TRIES = 14
ASKED_BY_ADDRESS = "Page-turner 5"
"""It joins where handshakes are not passed on: after some minutes it is known which passphrase it has."""


@dataclass(frozen=True, slots=True)
class Resident:
    """Somebody or something with a passphrase."""

    kind: HolderKind
    name: str
    devices: int = 1
    """That have joined by it."""
    has_group: bool = False
    days: int | None = None
    """Until it ends; None: with the season."""


RESIDENTS = (
    Resident(HolderKind.PERSON, "Aiko Rosenau", 3, has_group=True),
    Resident(HolderKind.PERSON, "Farid Winterhall", 2, has_group=True),
    Resident(HolderKind.PERSON, "Leonie Tamm", 1, days=3),
    Resident(HolderKind.PERSON, "Oskar Amberg", 0),
    Resident(HolderKind.PERSON, "Samuel Solveit", 2),
    Resident(HolderKind.ROOM, "Room 3, Lutes", 1),
    Resident(HolderKind.ROOM, "Room 7, Harpsichords", 2, has_group=True),
    Resident(HolderKind.ROOM, "Room 9, Viols", 0),
    Resident(HolderKind.THING, "Page-turner 2", 1),
    Resident(HolderKind.THING, "Page-turner 5", 1, days=5),
    Resident(HolderKind.THING, "Speaker, refectory", 1),
    Resident(HolderKind.THING, "Tuner of the positive organ", 0),
)


async def settle(service: Service, points: list[KeyedAccessPoint]) -> list[tuple[KeyedAccessPoint, Phone]]:
    """Issues to all of them and lets their devices join; who came in, in that order."""
    makers, came = KeyMakers(), []
    east, attic = points
    try:
        numbers = iter(range(1, 100))
        for resident in RESIDENTS:
            credential, text = await _issue(service, makers, resident)
            point = attic if resident.name == ASKED_BY_ADDRESS else east
            for _ in range(resident.devices):
                phone = _bring(point, next(numbers), text)
                await point.join(phone)
                came.append((point, phone))
            if resident.name == "Samuel Solveit":
                await _replace(service, makers, credential, resident)
        await _try_wrong(east, next(numbers))
    finally:
        makers.close()
    return came


async def _issue(service: Service, makers: KeyMakers, resident: Resident) -> tuple[CredentialId, str]:
    config = service.road.config
    plan = next(one for one in config.plans.values() if one.name == "Season")
    until = None if resident.days is None else service.clock.now() + resident.days * DAY_S
    kind = Kind(
        _cloister(service),
        plan.id,
        resident.kind,
        Terms(valid_until=until, network=_cloister(service)),
        is_group=resident.has_group,
    )
    batch = await issue_passphrases(
        service.road,
        makers,
        [Wish(resident.name)],
        kind,
        said=Said(resident.name),
        by=person(StaffId(1)),
    )
    credential = credentials.only_of(service.reader, batch)
    made = keys.newest_key(service.reader, service.road.keys, credential, service.clock.now())
    assert made is not None
    return credential, made.text


def _cloister(service: Service) -> NetworkId:
    found = service.road.config.networks.values()
    return next(one.id for one in found if one.way(WayIn.PASSPHRASE) is not None)


def _bring(point: KeyedAccessPoint, number: int, text: str) -> Phone:
    first = "06" if number % 2 else "00"
    phone = point.add_phone(
        f"{first}-77-C1-{(number * 59) % 256:02X}-{(number * 83 + 7) % 256:02X}-{number:02X}",
        f"127.77.2.{number}",
    )
    point.passphrases[phone.mac] = text
    return phone


async def _replace(service: Service, makers: KeyMakers, credential: CredentialId, resident: Resident) -> None:
    """One whose passphrase went round the house: a new one, and two days in which both hold."""
    wish = Wish(resident.name, "willow-octave-harbour-thimble-rosin-2")
    new = await make_key(makers, service.road.config, _cloister(service), wish, "")
    await service.road.act(lambda tx: renew(tx, credential, new, 2 * DAY_S), by=person(StaffId(1)))


async def _try_wrong(point: KeyedAccessPoint, number: int) -> None:
    """Somebody's phone that was told the passphrase of another house."""
    phone = _bring(point, number, "a-passphrase-of-another-house")
    for _ in range(WRONG_TRIES):
        await point.join(phone)
    phone.wants_in = False
