"""What a page may know: of the device and the house, never of a credential beyond until when and how much."""

from dataclasses import dataclass, field
from sqlite3 import Connection

from lauschen.acts.page.visiting import APPENDED, is_in, may_only_look
from lauschen.core.config.config import Config
from lauschen.core.config.network import GuestNetwork
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.judge import judge
from lauschen.core.decide.picture import AdmissionFacts
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing
from lauschen.core.limits.left import CredentialState, Left, credential_state, left
from lauschen.core.ways.lead import Finder
from lauschen.core.ways.self_registration import SENT, Delivery
from lauschen.portal.asked import Asked, load_asked
from lauschen.portal.own_devices import Shared, load_shared
from lauschen.portal.words import catalogue, clock_words
from lauschen.store import accounts, credentials, devices
from lauschen.store.keys import KeyRing
from lauschen.store.messages import registrations
from lauschen.store.moving import places
from lauschen.store.visits import Visit, visit_hash


@dataclass(slots=True)
class Typed:
    """What was just offered, and what is wrong with it."""

    text: str = ""
    fault: str | None = None
    form: str | None = None
    """Where it was typed."""
    answers: dict[str, str] = field(default_factory=dict)
    """By field, where a form has several."""
    wrong_field: str = ""

    @property
    def is_nothing(self) -> bool:
        return not (self.text or self.fault or self.form or self.answers)


@dataclass(frozen=True, slots=True)
class Given:
    """What this visit was given for writing itself in."""

    delivery: Delivery
    code: str
    answers: dict[str, str]
    confirm_by: float | None
    """Until when the address must be confirmed; None: it need not be, or it was."""

    @property
    def was_sent(self) -> bool:
        """The page does not show it."""
        return self.delivery in SENT


@dataclass(slots=True)
class Facts:
    """One visit, at one instant."""

    conn: Connection
    keys: KeyRing
    config: Config
    visit: Visit
    visit_id: str
    standing: Standing
    remains: Left | None
    may_log_out: bool
    may_only_look: bool
    now: float
    shared: Shared | None
    """The devices that are in by what this very visit typed."""
    account: str | None
    """The name of the account by which this very visit let the device in."""
    over: Reason | None
    """The limit that is over, while the access device does not know it yet. None: nothing is over."""
    plan_opens: float | None
    """When the plan that let the device in opens again, while it is closed."""
    desk_words: str
    """*Words to the guest*, for the very visit that let the device in."""
    wait_s: float
    """Until the access device can be told of a change; 0 when it has been."""
    registered: Given | None = None
    asked: Asked | None = None
    typed: Typed = field(default_factory=Typed)

    @property
    def is_in(self) -> bool:
        """Inside, or on the way in."""
        return is_in(self.standing)

    @property
    def here(self) -> str:
        """The address of this visit."""
        return f"{self.config.page_url}/visit/{self.visit_id}"

    @property
    def network(self) -> GuestNetwork:
        return self.config.networks[self.visit.network]

    @property
    def is_typing_barred(self) -> bool:
        return self.visit.barred_until is not None and self.visit.barred_until > self.now

    def clock(self, at: float, lang: str) -> str:
        """A time of day in the house, as the guest says it."""
        return clock_words(at, self.now, self.config.zone, lang)

    def found(self, finder: Finder) -> Grant | None:
        """What this device has by a finder that leads to something of its own."""
        return credentials.find(self.conn, self.keys, finder, self.visit.mac)


def load_facts(
    conn: Connection, keys: KeyRing, config: Config, visit: Visit, visit_id: str, now: float
) -> Facts | None:
    """None when the device is not known on that network any more."""
    standing = devices.find_standing(conn, visit.mac, visit.network)
    if standing is None or visit.network not in config.networks:
        return None
    # Most pages are of devices at the door, which have none.
    has_one = standing.admission is not None
    admission = devices.open_admission_of(conn, visit.mac, visit.network) if has_one else None
    remains = None
    is_own = admission is not None and admission.id == visit.admission
    # An appended address proves nothing about who asks: such a visit sees only what it did itself (rulings 6.2).
    if admission is not None and (is_own or visit.proof != APPENDED):
        remains = left(config.plan_of(admission.grant), admission.grant.use, now)
    return Facts(
        conn=conn,
        keys=keys,
        config=config,
        visit=visit,
        visit_id=visit_id,
        standing=standing,
        remains=remains,
        may_log_out=is_own,
        may_only_look=may_only_look(visit, standing),
        now=now,
        shared=load_shared(conn, config, visit, standing, admission),
        account=_account(conn, admission) if is_own else None,
        desk_words=_desk_words(conn, admission) if is_own else "",
        over=_over(config, admission, now),
        plan_opens=_opens(config, admission, now),
        wait_s=_wait(conn, standing, now),
        registered=_registered(conn, keys, config, visit_id, now) if visit.has_written else None,
        asked=load_asked(conn, keys, config, visit_id, now) if visit.has_written else None,
    )


def barred_fault(facts: Facts, lang: str, until: float) -> str:
    """The sentence that says until when typing is barred."""
    shown = -(-until // 60) * 60  # shown as a minute, a time must not be too early
    return catalogue(lang)["barred_by_tries"].format(until=facts.clock(shown, lang))


def _registered(conn: Connection, keys: KeyRing, config: Config, visit_id: str, now: float) -> Given | None:
    """As long as the code is good."""
    found = registrations.newest_of_visit(conn, keys, visit_hash(visit_id))
    if found is None:
        return None
    issued = credentials.get_issued(conn, keys, found.credential)
    state = credential_state(config.plan_of(issued.grant), issued.grant.use, now)
    if state not in (CredentialState.FRESH, CredentialState.RUNNING, CredentialState.WAITING):
        return None
    return Given(found.delivery, issued.code, found.answers, issued.grant.use.confirm_by)


def _account(conn: Connection, admission: AdmissionFacts | None) -> str | None:
    credential = admission.grant.credential if admission is not None else None
    return None if credential is None else accounts.name_of(conn, credential)


def _desk_words(conn: Connection, admission: AdmissionFacts | None) -> str:
    credential = admission.grant.credential if admission is not None else None
    return "" if credential is None else credentials.words_of(conn, credential)


def _over(config: Config, admission: AdmissionFacts | None, now: float) -> Reason | None:
    reason = (
        None if admission is None else judge(config.plan_of(admission.grant), admission.grant, now).reason
    )
    return reason if reason in LIMIT_REASONS else None


def _opens(config: Config, admission: AdmissionFacts | None, now: float) -> float | None:
    hours = config.plan_of(admission.grant).hours if admission is not None else None
    is_open, changes = hours.span(now) if hours is not None else (True, None)
    return None if is_open else changes


def _wait(conn: Connection, standing: Standing, now: float) -> float:
    if standing.going is None:
        return 0.0
    place = places.find_place(conn, standing.mac, standing.network, *standing.at)
    # Once it is being told, `next_at` says when it would be told again.
    if place is None or place.next_at is None or place.tries or place.under_way is not None:
        return 0.0
    return max(0.0, place.next_at - now)
