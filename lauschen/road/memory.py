"""Facts kept in memory for the packet path: write-through, and forgotten whenever another hand wrote (rulings 1.3).

A picture is kept with its standing, which arrivals change in place and write; grants are shared between the
pictures of all their devices, so that what one device uses counts for the others at once.
"""

from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import Picture
from lauschen.core.ids import AccessDeviceId, AllowanceId, CredentialId, Mac, NetworkId, StayId
from lauschen.core.limits.day import Day, day_of
from lauschen.store.addresses import SEEN_AGAIN_S
from lauschen.store.log import DecisionRow
from lauschen.store.placements import Charged
from lauschen.store.stays import Stay

MOST_PICTURES = 20_000
MOST_GRANTS = 40_000
MOST_STAYS = 20_000
TIDIED_AT_ONCE = 100
MOST_RATES = 20_000


@dataclass(slots=True)
class Elsewhere:
    """A stay was open at one place when another began elsewhere, and nothing ties the two."""

    stay: StayId
    """The older one."""
    access_device: AccessDeviceId
    """Where the newer one is."""
    noted_at: float


StayKey = tuple[Mac, str, AccessDeviceId, str]


def stay_key(stay: Stay) -> StayKey:
    """What tells open stays apart (rulings 4.1)."""
    return stay.mac, stay.session_id, stay.access_device, stay.nas_identifier


class Memory:
    """Belongs to the road; nothing in it outlives a rolled-back transaction."""

    def __init__(self) -> None:
        self._pictures: dict[tuple[Mac, NetworkId], Picture] = {}
        self._grants: dict[AllowanceId, Grant] = {}
        self._stays: dict[StayKey, Stay] = {}
        self.charged: dict[tuple[Mac, NetworkId], Charged | None] = {}
        self.proofs: dict[bytes, CredentialId] = {}
        """Digests of what persons typed, with what it opened."""
        self.refused: dict[tuple[Mac, AccessDeviceId], tuple[str, DecisionRow]] = {}
        """The last refusal of each device at each place, and what tells it from another one: repeats are joined."""
        self._waste: list[dict[Any, Any]] = []
        self.rates: dict[Mac, float] = {}
        """Octets per second of the current stay, for the interval of interim updates; a hint only."""
        self.account_names: set[str] | None = None
        """As they are compared; a name too many does no harm. None: to be read again."""
        self.elsewhere: dict[Mac, Elsewhere] = {}
        """Devices that may be two with one address (rulings 6.12); a hint only."""
        self.seen: dict[Mac, tuple[tuple[str, ...], float]] = {}
        """The addresses that accounting gave last, and when they were written down."""
        self._day: tuple[ZoneInfo, Day] | None = None

    def find(self, mac: Mac, network: NetworkId) -> Picture | None:
        return self._pictures.get((mac, network))

    def keep(self, mac: Mac, network: NetworkId, picture: Picture) -> None:
        if len(self._pictures) >= MOST_PICTURES:
            del self._pictures[next(iter(self._pictures))]
        if len(self._grants) >= MOST_GRANTS:
            self.forget_all()
        if picture.admission is not None:
            picture.admission.grant = self._share(picture.admission.grant)
        self._pictures[mac, network] = picture

    def keep_charged(self, mac: Mac, network: NetworkId, charged: Charged | None) -> None:
        """What a device's octets are charged to, until it is moved or another hand writes."""
        if len(self.charged) >= MOST_PICTURES:
            del self.charged[next(iter(self.charged))]
        self.charged[mac, network] = None if charged is None else self.share_grant(charged)

    def share_grant(self, charged: Charged) -> Charged:
        """With the facts of its allowance that the others have, so that all see what is used."""
        charged.grant = self._share(charged.grant)
        return charged

    def _share(self, grant: Grant) -> Grant:
        return grant if grant.allowance is None else self._grants.setdefault(grant.allowance, grant)

    def keep_proof(self, digest: bytes, credential: CredentialId) -> None:
        """A person proved to know its code."""
        if len(self.proofs) < MOST_GRANTS:
            self.proofs[digest] = credential

    def note_refused(self, mac: Mac, access_device: AccessDeviceId, mark: str, row: DecisionRow) -> None:
        if len(self.refused) >= MOST_RATES:
            self.refused = {}
        self.refused[mac, access_device] = mark, row

    def charge(self, allowance: AllowanceId, octets: int) -> None:
        """The database is told with the group."""
        known = self._grants.get(allowance)
        if known is not None:
            known.use.octets += octets

    def find_stay(self, key: StayKey) -> Stay | None:
        """An open stay. Accounting alone changes stays, and writes each change."""
        return self._stays.get(key)

    def keep_stay(self, stay: Stay) -> None:
        if len(self._stays) >= MOST_STAYS:
            del self._stays[next(iter(self._stays))]
        self._stays[stay_key(stay)] = stay

    def forget_stay(self, stay: Stay) -> None:
        self._stays.pop(stay_key(stay), None)

    def note_rate(self, mac: Mac, octets: int, seconds: int) -> None:
        if len(self.rates) >= MOST_RATES:
            self.rates = {}
        self.rates[mac] = octets / seconds if seconds > 0 else 0.0

    def day_of(self, at: float, zone: ZoneInfo) -> Day:
        """The day of the site's calendar: most reports are of the same one."""
        if self._day is None or self._day[0] is not zone or not self._day[1].holds(at):
            self._day = zone, day_of(at, zone)
        return self._day[1]

    def note_elsewhere(self, mac: Mac, elsewhere: Elsewhere) -> None:
        if len(self.elsewhere) >= MOST_RATES:
            self.elsewhere = {}
        self.elsewhere[mac] = elsewhere

    def is_news(self, mac: Mac, addresses: tuple[str, ...], now: float) -> bool:
        """False when accounting said the same a moment ago."""
        known = self.seen.get(mac)
        if known is not None and known[0] == addresses and now - known[1] < SEEN_AGAIN_S:
            return False
        if len(self.seen) >= MOST_RATES:
            self.seen = {}
        self.seen[mac] = addresses, now
        return True

    def forget(self, mac: Mac, network: NetworkId) -> None:
        self._pictures.pop((mac, network), None)
        self.charged.pop((mac, network), None)

    def roll_back(self) -> None:
        """A transaction was undone, and with it what was changed in place."""
        self.forget_all()
        self.seen, self.refused = {}, {}
        self._waste.append(self._stays)
        self._stays = {}

    def forget_all(self) -> None:
        """Another hand than arrivals and accounting wrote."""
        if self._pictures or self._grants or self.charged:
            self._waste += (self._pictures, self._grants, self.charged, self.proofs)
            self._pictures, self._grants, self.charged, self.proofs = {}, {}, {}, {}

    def tidy(self) -> None:
        """Lets go of a little that was forgotten: thousands of objects at once would hold the loop."""
        for _ in range(TIDIED_AT_ONCE):
            if not self._waste:
                return
            if self._waste[-1]:
                self._waste[-1].popitem()
            else:
                self._waste.pop()
