"""The demo's second network, where guests agree to the house rules."""

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk.passes import issue_pass
from lauschen.acts.page import trying, visiting
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.ids import AccessDeviceId, BatchId, Mac, NetworkId, PlanId
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.ways.click_through import Agreement
from lauschen.core.ways.offers.code import Code, read_typed
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.words.tokens import PortalToken
from lauschen.demo.site import ENSEMBLE_SSID
from lauschen.store import credentials, devices
from lauschen.store.batches import Said
from tests.place import PHONE, Place

ENSEMBLE, HOUSE_POINT = NetworkId(2), AccessDeviceId(3)
INTERMISSION, COURSE_WEEK = PlanId(3), PlanId(4)
HALF_HOUR, DAY = 1800, 86_400


class Ensemble:
    """The demo's second network, in plain calls."""

    def __init__(self, place: Place) -> None:
        self.place = place

    def ask(self, mac: Mac = PHONE, medium: Medium = Medium.ASKED) -> Decision:
        arrival = Arrival(
            medium, mac, HOUSE_POINT, ssid=ENSEMBLE_SSID.encode(), spelled="x", session_id=f"S{mac}"
        )
        return self.place.answer(arrival)[0]

    def open(self, mac: Mac = PHONE, later: int = 0) -> str:
        token = PortalToken(mac, HOUSE_POINT, ENSEMBLE, int(self.place.now) + 2400 + later)
        with self.place.tx() as tx:
            return visiting.open_by_token(tx, token, None, f"127.77.1.{mac & 0xFF}")

    def agree(self, visit: str, mac: Mac = PHONE, rules: int = 1) -> Reason:
        with self.place.tx() as tx:
            offer = Agreement(rules, "en")
            return trying.try_offer(tx, visit, offer, f"127.77.1.{mac & 0xFF}").reason

    def issue_pass(
        self, name: str = "Ines Harwood", terms: Terms = AS_PLAN, code: str | None = None
    ) -> tuple[BatchId, str]:
        """A guest pass of the course week, and its code."""
        with self.place.tx() as tx:
            batch = issue_pass(tx, said=Said(name), plan=COURSE_WEEK, terms=terms, code=code)
        (issued,) = credentials.all_issued_of(self.place.conn, self.place.keys, batch)
        return batch, issued.code

    def type_code(self, text: str, mac: Mac = PHONE) -> Reason:
        """At a page that was opened just now."""
        visit = self.open(mac, later=int(self.place.now) % 1000)
        typed = read_typed(text, takes_words=True)
        assert isinstance(typed, Code)
        with self.place.tx() as tx:
            return trying.try_offer(tx, visit, typed, f"127.77.1.{mac & 0xFF}").reason

    def ask_person(self, name: str, password: str, *, by_chap: bool, mac: Mac = PHONE) -> Reason:
        """As an access device with a form of its own asks."""
        offered = NameAndPassword(
            name, None if by_chap else password, lambda octets: octets == password.encode()
        )
        arrival = Arrival(
            Medium.PERSON, mac, HOUSE_POINT, ssid=ENSEMBLE_SSID.encode(), spelled="x", offer=offered
        )
        with self.place.tx(is_act=False) as tx:
            return answer_arrival(tx, arrival)[0].reason

    def let_in(self, mac: Mac = PHONE) -> Decision:
        self.ask(mac)
        assert self.agree(self.open(mac), mac) is Reason.ADMITTED
        return self.ask(mac, Medium.REAUTHORISED)

    def held(self, mac: Mac = PHONE) -> bool:
        standing = devices.find_standing(self.place.conn, mac, ENSEMBLE)
        assert standing is not None
        return State.HELD in (standing.state, standing.going)
