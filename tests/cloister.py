"""The demo's network of private passphrases, where each device has a key of its own."""

from dataclasses import replace

from lauschen.acts.passphrases import issuing
from lauschen.acts.passphrases.issuing import Kind, Wish
from lauschen.acts.staying.reports import Event, Report
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.ids import AccessDeviceId, CredentialId, KeyId, Mac, NetworkId, PlanId
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.passphrases.eapol import KeyFrame
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.ways.passphrase import Signed
from lauschen.demo.site import CLOISTER_SSID
from lauschen.store import batches, devices
from lauschen.store.batches import Said
from lauschen.store.passphrases import keys
from lauschen.store.passphrases.keys import HolderKey, NewKey
from tests.place import PHONE, Place

CLOISTER, EAST, ATTIC = NetworkId(4), AccessDeviceId(5), AccessDeviceId(6)
SEASON = PlanId(5)
RESIDENT, HALL = 8, 7
BSSID = Mac(0x027700000021)


class Cloister:
    """The demo's network of keys, in plain calls. PMKs are made up: no handshake is looked at here."""

    def __init__(self, place: Place) -> None:
        self.place = place

    def issue(
        self,
        name: str = "Ines Harwood",
        text: str = "vase-trumpet-elbow-9",
        *,
        terms: Terms = AS_PLAN,
        is_group: bool = False,
        holder: HolderKind = HolderKind.PERSON,
        network: NetworkId = CLOISTER,
    ) -> CredentialId:
        """A passphrase of the season."""
        kind = Kind(network, SEASON, holder, replace(terms, network=network), is_group=is_group)
        wish = Wish(name, text)
        with self.place.tx() as tx:
            batch = issuing.begin_batch(tx, plan=SEASON, size=1, said=Said(name), terms=kind.terms)
            new = NewKey(text, bytes(32), CLOISTER_SSID.encode())
            issuing.store_pieces(tx, batch=batch, kind=kind, piece=[(wish, new)])
            batches.make_valid(tx.conn, batch)
            return CredentialId(
                tx.conn.execute("SELECT id FROM credential WHERE batch = ?", (batch,)).fetchone()[0]
            )

    def key(self, credential: CredentialId) -> HolderKey:
        """The newest."""
        found = keys.get_key(
            self.place.conn, self.place.keys, keys.times_of(self.place.conn, credential)[0].id
        )
        assert found is not None
        return found

    def ask(
        self,
        mac: Mac = PHONE,
        at: AccessDeviceId = ATTIC,
        signed: KeyId | bool | None = False,
        session: str = "S1",
        *,
        is_signed: bool = True,
        fault: Reason | None = None,
    ) -> tuple[Decision, Picture]:
        """By its address; with `signed`, by a handshake that was found to be of this key, or of nobody's (None)."""
        arrival = Arrival(
            Medium.ASKED, mac, at, ssid=CLOISTER_SSID.encode(), spelled=f"{mac:012X}", session_id=session
        )
        arrival.is_signed = is_signed
        if signed is not False:
            frame = KeyFrame(2, 1, bytes(32), bytes(16), b"")
            shake = Handshake(BSSID, mac, CLOISTER_SSID.encode(), bytes(32), frame)
            arrival.offer = Signed(shake, at, None if signed is None else KeyId(signed), fault)
        return self.place.answer(arrival)

    def report(
        self,
        event: Event = Event.START,
        mac: Mac = PHONE,
        session: str = "S1",
        at: AccessDeviceId = ATTIC,
    ) -> None:
        heard = Report(event, at, "attic", 0, mac, CLOISTER_SSID.encode(), session)
        self.place.take(heard)

    def standing(self, mac: Mac = PHONE) -> Standing:
        found = devices.find_standing(self.place.conn, mac, CLOISTER)
        assert found is not None
        return found
