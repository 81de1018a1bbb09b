"""Facts kept in memory for the packet path: write-through, and part of the road's transaction (rulings 1.3 and 9.1).

A picture is kept with its standing, which arrivals change in place and write; grants are shared between the
pictures of all their devices, so that what one device uses counts for the others at once.
"""

from collections import OrderedDict
from dataclasses import dataclass
from typing import Any, Final
from zoneinfo import ZoneInfo

from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import Picture
from lauschen.core.ids import AccessDeviceId, AllowanceId, CredentialId, Mac, NetworkId, StayId
from lauschen.core.limits.day import Day, day_of
from lauschen.store.addresses import SEEN_AGAIN_S
from lauschen.store.guests.touched import What
from lauschen.store.log import DecisionRow
from lauschen.store.placements import Charged
from lauschen.store.stays import Stay

MOST_PICTURES = 20_000
MOST_GRANTS = 40_000
MOST_STAYS = 20_000
TIDIED_AT_ONCE = 100
MOST_HINTS = 20_000
_MISSING: Final = object()


@dataclass(frozen=True, slots=True)
class Elsewhere:
    """A stay was open at one place when another began elsewhere, and nothing ties the two."""

    stay: StayId
    """The older one."""
    access_device: AccessDeviceId
    """Where the newer one is."""
    noted_at: float


StayKey = tuple[Mac, str, AccessDeviceId, str]


def stay_key(stay: Stay) -> StayKey:
    """Return what tells open stays apart (rulings 4.1)."""
    return stay.mac, stay.session_id, stay.access_device, stay.nas_identifier


class Memory:
    """Belongs to the road. Each change is noted until COMMIT, so that `roll_back` can undo it.

    A rollback forgets facts, which are read again from the database, and restores hints, which are here alone.
    """

    def __init__(self) -> None:
        self.is_act = False
        """While an act writes: what its statements touch is forgotten (`touched`). Arrivals and accounting keep
        their facts true by themselves."""
        self._undo: list[tuple[Any, Any, Any]] = []
        """Each a dictionary, a key and its value before; or an object, an attribute and its value before."""
        self._pictures: OrderedDict[tuple[Mac, NetworkId], Picture] = OrderedDict()
        self._networks: set[NetworkId] = set()
        """Networks that pictures were ever kept of."""
        self._grants: OrderedDict[AllowanceId, Grant] = OrderedDict()
        """A picture, or what is charged, counts only while its grant is the one in here."""
        self._of_credential: dict[CredentialId, set[AllowanceId]] = {}
        self._stays: OrderedDict[StayKey, Stay] = OrderedDict()
        self._charged: OrderedDict[tuple[Mac, NetworkId], Charged | None] = OrderedDict()
        self._proofs: OrderedDict[bytes, Grant] = OrderedDict()
        """Digests of what persons typed, with what it opened."""
        self._refused: dict[tuple[Mac, AccessDeviceId], tuple[str, DecisionRow]] = {}
        """The last refusal of each device at each place, and what tells it from another one: repeats are joined."""
        self._rates: dict[Mac, float] = {}
        """Octets per second of the current stay, for the interval of interim updates; a hint only."""
        self.elsewhere: dict[Mac, Elsewhere] = {}
        """Devices that may be two with one address (rulings 6.12); a hint only."""
        self._seen: dict[Mac, tuple[tuple[str, ...], float]] = {}
        """The addresses that accounting gave last, and when they were written down."""
        self.restarting: frozenset[AccessDeviceId] = frozenset()
        """Access devices whose stays are being closed in slices; whoever opens the database tells of those."""
        self._waste: list[dict[Any, Any]] = []
        self.account_names: set[str] | None = None
        """As they are compared; a name too many does no harm. None: to be read again."""
        self._day: tuple[ZoneInfo, Day] | None = None

    def mark(self) -> int:
        """Return where a savepoint begins, for `roll_back`."""
        return len(self._undo)

    def commit(self) -> None:
        """Keep what was changed since the last commit."""
        if self._undo:
            self._undo.clear()

    def roll_back(self, mark: int = 0) -> None:
        """Undo what was changed since `mark`. Facts that were handed out go, as jobs change them in place."""
        while len(self._undo) > mark:
            where, key, before = self._undo.pop()
            if not isinstance(where, dict):
                setattr(where, key, before)
            elif before is _MISSING:
                where.pop(key, None)
            else:
                where[key] = before

    def find(self, mac: Mac, network: NetworkId) -> Picture | None:
        key = mac, network
        picture = self._pictures.get(key)
        if picture is None:
            return None
        admission = picture.admission
        if admission is not None and not self._is_shared(admission.grant):
            del self._pictures[key]
            return None
        self._undo.append((self._pictures, key, _MISSING))
        return picture

    def keep(self, mac: Mac, network: NetworkId, picture: Picture) -> None:
        if picture.admission is not None:
            picture.admission.grant = self._share(picture.admission.grant)
        self._networks.add(network)
        self._remember(self._pictures, (mac, network), picture, MOST_PICTURES)

    def find_charged(self, mac: Mac, network: NetworkId) -> tuple[bool, Charged | None]:
        """Return whether it is known what a device's octets are charged to, and what that is."""
        charged = self._charged.get((mac, network))
        if charged is None:
            return (mac, network) in self._charged, None
        grant = charged.grant
        if grant.allowance is not None and self._grants.get(grant.allowance) is not grant:
            del self._charged[mac, network]
            return False, None
        return True, charged

    def keep_charged(self, mac: Mac, network: NetworkId, charged: Charged | None) -> None:
        """Keep what a device's octets are charged to, until it is moved or an act writes."""
        if charged is not None:
            self.share_grant(charged)
        self._remember(self._charged, (mac, network), charged, MOST_PICTURES)

    def forget_charged(self, mac: Mac, network: NetworkId) -> None:
        self._charged.pop((mac, network), None)

    def share_grant(self, charged: Charged) -> Charged:
        """Return it with the facts of its allowance that the others have, so that all see what is used."""
        charged.grant = self._share(charged.grant)
        return charged

    def forget_allowance(self, allowance: AllowanceId | None) -> None:
        """What was begun of it, or who may use it, has changed: everything that hangs on it is read again."""
        gone = None if allowance is None else self._grants.pop(allowance, None)
        if gone is not None and gone.credential is not None:
            others = self._of_credential.get(gone.credential, set())
            others.discard(gone.allowance or AllowanceId(0))
            if not others:
                self._of_credential.pop(gone.credential, None)

    def _is_shared(self, grant: Grant) -> bool:
        return grant.allowance is None or self._grants.get(grant.allowance) is grant

    def _share(self, grant: Grant) -> Grant:
        if grant.allowance is None:
            return grant
        known = self._grants.get(grant.allowance)
        if known is not None:
            return known
        if len(self._grants) >= MOST_GRANTS:
            self.forget_allowance(next(iter(self._grants)))
        self._undo.append((self._grants, grant.allowance, _MISSING))
        self._grants[grant.allowance] = grant
        if grant.credential is not None:
            self._of_credential.setdefault(grant.credential, set()).add(grant.allowance)
        return grant

    def charge(self, allowance: AllowanceId, octets: int) -> None:
        """Add to what was used; the database is told with the group."""
        known = self._grants.get(allowance)
        if known is not None:
            use = known.use
            self._undo.append((use, "octets", use.octets))
            use.octets += octets

    def note_data_out(self, grant: Grant, at: float) -> None:
        """The last octet of its allowance was used; the caller writes it."""
        self._undo.append((grant.use, "data_out_at", grant.use.data_out_at))
        grant.use.data_out_at = at

    def is_proven(self, digest: bytes, grant: Grant) -> bool:
        """Return whether what a person typed has opened this grant before."""
        return self._proofs.get(digest) is grant

    def keep_proof(self, digest: bytes, grant: Grant) -> None:
        """A person proved to know the code of a grant that is kept."""
        self._remember(self._proofs, digest, grant, MOST_GRANTS)

    def find_refused(self, mac: Mac, access_device: AccessDeviceId) -> tuple[str, DecisionRow] | None:
        return self._refused.get((mac, access_device))

    def note_refused(self, mac: Mac, access_device: AccessDeviceId, mark: str, row: DecisionRow) -> None:
        self._note(self._refused, (mac, access_device), (mark, row))

    def repeat(self, row: DecisionRow) -> None:
        """The same refusal again."""
        self._undo.append((row, "repeats", row.repeats))
        row.repeats += 1

    def find_stay(self, key: StayKey) -> Stay | None:
        """Return an open stay. Accounting alone changes stays, and writes each change."""
        stay = self._stays.get(key)
        if stay is not None:
            self._undo.append((self._stays, key, _MISSING))
        return stay

    def keep_stay(self, stay: Stay) -> None:
        self._remember(self._stays, stay_key(stay), stay, MOST_STAYS)

    def forget_stay(self, stay: Stay) -> None:
        self._stays.pop(stay_key(stay), None)

    def find_rate(self, mac: Mac) -> float | None:
        return self._rates.get(mac)

    def note_rate(self, mac: Mac, octets: int, seconds: int) -> None:
        rates = self._rates  # by itself, as this is called for each report
        self._undo.append((rates, mac, rates.get(mac, _MISSING)))
        rates[mac] = octets / seconds if seconds > 0 else 0.0
        if len(rates) > MOST_HINTS:
            rates.clear()

    def day_of(self, at: float, zone: ZoneInfo) -> Day:
        """Return the day of the site's calendar: most reports are of the same one."""
        if self._day is None or self._day[0] is not zone or not self._day[1].holds(at):
            self._day = zone, day_of(at, zone)
        return self._day[1]

    def note_elsewhere(self, mac: Mac, elsewhere: Elsewhere) -> None:
        self._note(self.elsewhere, mac, elsewhere)

    def forget_elsewhere(self, mac: Mac) -> None:
        if (known := self.elsewhere.pop(mac, None)) is not None:
            self._undo.append((self.elsewhere, mac, known))

    def note_restarting(self, access_devices: frozenset[AccessDeviceId]) -> None:
        self._undo.append((self, "restarting", self.restarting))
        self.restarting = access_devices

    def is_news(self, mac: Mac, addresses: tuple[str, ...], now: float) -> bool:
        """Return False when accounting said the same a moment ago."""
        known = self._seen.get(mac)
        if known is not None and known[0] == addresses and now - known[1] < SEEN_AGAIN_S:
            return False
        self._note(self._seen, mac, (addresses, now))
        return True

    def forget(self, mac: Mac, network: NetworkId) -> None:
        self._pictures.pop((mac, network), None)
        self._charged.pop((mac, network), None)

    def touched(self, what: str, number: int, network: int | None) -> None:
        """A statement wrote something that facts hang on; an act's are forgotten at once."""
        if not self.is_act:
            return
        if what == What.STANDING:
            self.forget(Mac(number), NetworkId(network or 0))
        elif what == What.ALLOWANCE:
            self.forget_allowance(AllowanceId(number))
        elif what == What.CREDENTIAL:
            for allowance in self._of_credential.pop(CredentialId(number), ()):
                self.forget_allowance(allowance)
        else:
            for one in self._networks:
                self.forget(Mac(number), one)

    def forget_all(self) -> None:
        """Another process wrote: nothing that was known may stay."""
        self._waste += (
            self._pictures,
            self._grants,
            self._of_credential,
            self._charged,
            self._proofs,
            self._stays,
        )
        self._pictures, self._charged, self._stays = OrderedDict(), OrderedDict(), OrderedDict()
        self._grants, self._proofs, self._of_credential = OrderedDict(), OrderedDict(), {}

    def forget_hints(self) -> None:
        """The clock was set: moments that were noted by the old one say nothing."""
        self._refused, self.elsewhere, self._seen = {}, {}, {}

    def tidy(self) -> None:
        """Let go of a little that was forgotten: thousands of objects at once would hold the loop."""
        for _ in range(TIDIED_AT_ONCE):
            if not self._waste:
                return
            if self._waste[-1]:
                self._waste[-1].popitem()
            else:
                self._waste.pop()

    def _remember(self, where: "OrderedDict[Any, Any]", key: Any, value: Any, most: int) -> None:
        """A fact: a rollback forgets it, as jobs change it in place."""
        self._undo.append((where, key, _MISSING))
        where[key] = value
        if len(where) > most:
            where.popitem(last=False)

    def _note(self, where: dict[Any, Any], key: Any, hint: object) -> None:
        """A hint, which is here alone: a rollback restores the one before."""
        if len(where) >= MOST_HINTS:
            where.clear()
        self._undo.append((where, key, where.get(key, _MISSING)))
        where[key] = hint
