"""The made-up site of the demo. Nobody and nothing in it exists."""

from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.config.dialect import Call, Dialect, HandshakeIn, KeysBy, Move
from lauschen.core.config.host import Host
from lauschen.core.config.network import GuestNetwork
from lauschen.core.config.site_text import TextKind
from lauschen.core.ids import AccessDeviceId, DialectId, HostId, NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.messages.channels import MailServer, TextGateway
from lauschen.core.messages.message import Channel
from lauschen.core.ways.account import Account
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.fields import MAIL, NAME, PHONE, Field
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.core.ways.self_registration import Delivery, SelfRegistration
from lauschen.core.ways.sponsor import Naming, Sponsor
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way
from lauschen.proofs.passwords import hasher
from lauschen.serve.first_run import REDIRECT, add_day_visit
from lauschen.store.config import (
    access_devices,
    channels,
    dialects,
    hosts,
    networks,
    plans,
    rules,
    settings,
    texts,
    ways,
)
from lauschen.store.db import DATABASE_NAME, atomic, migrate, open_writer
from lauschen.store.keys import KEY_NAME, KeyRing, make_key_file
from lauschen.store.people import staff

SITE, ZONE = "Hollerau Summer Academy", "Europe/Vienna"
SSID = "Hollerau Garden"
DEFAULT_COA_PORT = 3799
ENSEMBLE_SSID = "Hollerau Ensemble"
CLOISTER_SSID = "Hollerau Cloister"
PRACTICE = "Practice wall ports"
ETHERNET = 15
"""NAS-Port-Type (RFC 2865 section 5.41)."""
PAGE_HOST = "welcome.hollerau.example"
SLIP_HOST = "slip.hollerau.example"
STAFF_NAME, STAFF_PASSWORD = "gatehouse", "plum-and-pine-7700"
HOUSE_RULES = {
    "en": "Welcome to Hollerau. The courses and the concerts come first: please keep sounds to yourself in the"
    " cloister, and large downloads to the night.\n\nWhat is against the law outside is against it here. We keep"
    " which device was online and when for as long as the law asks, and nothing of what you read or write.",
    "de": "Willkommen in Hollerau. Kurse und Konzerte gehen vor: Bitte behalten Sie im Kreuzgang Klänge für sich, und"
    " große Downloads für die Nacht.\n\nWas draußen verboten ist, ist es auch hier. Wir bewahren auf, welches Gerät"
    " wann online war, so lange das Gesetz es verlangt, und nichts von dem, was Sie lesen oder schreiben.",
}
PRIVACY = {
    "en": "We keep what you write here, and when your device was online, for as long as the course lasts and the law"
    " asks. Nobody outside the academy gets it.",
    "de": "Wir bewahren auf, was Sie hier angeben und wann Ihr Gerät online war, so lange der Kurs dauert und das"
    " Gesetz es verlangt. Niemand außerhalb der Akademie bekommt es.",
}
CONSENT = {
    "en": "Hollerau may write to me about its concerts.",
    "de": "Hollerau darf mir zu seinen Konzerten schreiben.",
}
FIRST_NAMES = ("Ines", "Jonas", "Mirela", "Tobias", "Aiko", "Samuel", "Leonie", "Farid", "Greta", "Oskar")
LAST_NAMES = ("Harwood", "Feldmeier", "Quist", "Amberg", "Solveit", "Rosenau", "Tamm", "Winterhall")
TUTORS = (
    ("Ada", "Lindqvist", "Strings"), ("Bruno", "Castell", "Strings"), ("Chiara", "Voss", "Voice"),
    ("Dorian", "Achterberg", "Winds"), ("Edda", "Marchetti", "Winds"), ("Felix", "Onwudiwe", "Brass"),
    ("Gunn", "Halloran", "Percussion"), ("Hana", "Sedlar", "Keys"), ("Ivo", "Branquinho", "Composition"),
)  # fmt: skip
SECRET = b"hollerau-stand-in-secret"
MAIL_PASSWORD = "outgoing-hollerau-mail"
TEXT_TOKEN = "outgoing-hollerau-texts"


@dataclass(frozen=True, slots=True)
class Point:
    """One access point, or a switch."""

    name: str
    address: str
    bssid: str
    ssid: str = SSID
    """Empty: wired ports."""
    serves: str = "Garden"
    """The network that it may ask for."""


POINTS = (
    Point("Garden west", "127.77.0.11", "02-77-00-00-00-11"),
    Point("Concert barn", "127.77.0.12", "02-77-00-00-00-12"),
    Point("Practice house", "127.77.0.13", "02-77-00-00-00-13", ENSEMBLE_SSID, "Ensemble"),
    Point("Practice switch", "127.77.0.14", "02-77-00-00-00-14", "", PRACTICE),
)


CLOISTER_POINTS = (
    Point("Cloister east", "127.77.0.21", "02-77-00-00-00-21", CLOISTER_SSID, "Cloister"),
    Point("Cloister attic", "127.77.0.22", "02-77-00-00-00-22", CLOISTER_SSID, "Cloister"),
)
"""The first passes handshakes on; the second asks for each device by its address, and tries what it is told."""
HANDSHAKES = HandshakeIn(32473, 11, 12)
"""Attributes of the enterprise number that is for documentation (RFC 5612)."""


@dataclass(frozen=True, slots=True)
class Outside:
    """The stand-ins that messages go to."""

    mail_port: int
    authority: str
    text_port: int
    text_token: str


def make_site(data: Path, coa_ports: dict[str, int], outside: Outside | None = None) -> None:
    """Fills an empty data folder. `coa_ports`: where each access point (by name) hears changes, if not as usual."""
    keys = make_key_file(data / KEY_NAME)
    conn = open_writer(data / DATABASE_NAME)
    try:
        migrate(conn)
        with atomic(conn):
            _add_garden(conn, keys, asks_hosts=outside is not None)
            if outside is not None:
                _add_channels(conn, keys, outside)
            for point in POINTS:
                _add_point(conn, keys, point, "Garden controller", coa_ports)
            for point, dialect in zip(CLOISTER_POINTS, ("Cloister points", "Attic points"), strict=True):
                _add_point(conn, keys, point, dialect, coa_ports)
            hashed = hasher().hash(STAFF_PASSWORD)
            staff.add_staff(conn, STAFF_NAME, hashed, must_change=False, password_until=None)
    finally:
        conn.close()


def _add_channels(conn: Connection, keys: KeyRing, outside: Outside) -> None:
    server = MailServer(
        host="127.0.0.1",
        port=outside.mail_port,
        user="lauschen",
        password=MAIL_PASSWORD,
        sender="gatehouse@hollerau.example",
        sender_name=SITE,
        authority=outside.authority,
    )
    channels.save_only(conn, keys, Channel.MAIL, server)
    call = Call(
        url=f"http://127.0.0.1:{outside.text_port}/send",
        headers=(("Authorization", "Bearer {secret}"), ("Content-Type", "application/json")),
        body='{"to": "{to}", "text": "{text}", "id": "{id}"}',
        good_status=(200,),
        good_text="taken",
    )
    gateway = TextGateway(call, secret=outside.text_token, price=70, countries=("AT", "DE", "CH", "GB"))
    channels.save_only(conn, keys, Channel.TEXT, gateway)


def _add_garden(conn: Connection, keys: KeyRing, *, asks_hosts: bool) -> None:
    settings.add_site(
        conn, keys, site_name=SITE, zone=ZONE, page_url=f"http://{PAGE_HOST}", slip_host=SLIP_HOST
    )
    # A login should not change the address that a device already has: one VLAN, and only the filter is swapped.
    door = networks.add_role(conn, "Before login", vlan=310, filter_name="doorstep", is_door=True)
    visitor = networks.add_role(conn, "Visitor", vlan=310, filter_name="visitor")
    garden = networks.add_network(conn, "Garden", ssid=SSID.encode(), door_role=door)
    ways.save_ways(conn, garden, [Voucher()])
    rules.add_rule(conn, network=garden, way_in=WayIn.VOUCHER, role=visitor)
    day_visit = add_day_visit(conn)
    plans.add_plan(
        conn,
        Plan(
            id=PlanId(0),
            name="Postcard",
            seconds=3600,
            octets=5 * 10**6,
            devices=1,
            idle_seconds=1800,
            use_within_days=30,
        ),
    )
    _add_ensemble(conn, day_visit, asks_hosts=asks_hosts)
    _add_hosts(conn)
    _add_practice(conn, day_visit)
    controller = Dialect(
        DialectId(0), "Garden controller", attributes=REDIRECT, login_move=Move.REAUTHORISE, pause_ms=0
    )
    dialects.add_dialect(conn, keys, controller)
    _add_cloister(conn, keys)


def _add_ensemble(conn: Connection, day_visit: PlanId, *, asks_hosts: bool) -> None:
    """For the courses: whoever agrees to the house rules is in for half an hour, once a day."""
    door = networks.add_role(conn, "Rehearsal door", vlan=320, filter_name="doorstep", is_door=True)
    student = networks.add_role(conn, "Student", vlan=320, filter_name="student")
    intermission = Plan(
        id=PlanId(0),
        name="Intermission",
        seconds=1800,
        idle_seconds=900,
        octets=None,
        devices=1,
        use_within_days=None,
    )
    plan = plans.add_plan(conn, intermission)
    ensemble = networks.add_network(conn, "Ensemble", ssid=ENSEMBLE_SSID.encode(), door_role=door)
    offered: list[Way] = [
        GuestPass(),
        Account(),
        ClickThrough(plan, again_after_hours=24),
        _registration(day_visit),
        *([_sponsor(day_visit)] if asks_hosts else []),
    ]
    ways.save_ways(conn, ensemble, offered)
    texts.save_text(conn, TextKind.RULES, HOUSE_RULES, 0.0)
    texts.save_text(conn, TextKind.PRIVACY, PRIVACY, 0.0)
    texts.save_text(conn, TextKind.CONSENT, CONSENT, 0.0)
    rules.add_rule(conn, network=ensemble, way_in=WayIn.CLICK_THROUGH, role=student)
    rules.add_rule(conn, network=ensemble, way_in=WayIn.GUEST_PASS, role=student)
    rules.add_rule(conn, network=ensemble, way_in=WayIn.ACCOUNT, role=student)
    rules.add_rule(conn, network=ensemble, way_in=WayIn.SELF_REGISTRATION, role=student)
    rules.add_rule(conn, network=ensemble, way_in=WayIn.SPONSOR, role=student)
    plans.add_plan(
        conn,
        Plan(
            id=PlanId(0),
            name="Course week",
            seconds=7 * 86_400,
            idle_seconds=None,
            octets=21 * 10**9,
            devices=3,
            use_within_days=60,
        ),
    )


def _registration(plan: PlanId) -> SelfRegistration:
    """For whoever comes to a lesson unannounced."""
    instrument = Field("own_1", labels={"en": "Your instrument", "de": "Ihr Instrument"})
    return SelfRegistration(
        plan,
        fields=(Field(NAME, is_required=True), Field(MAIL), Field(PHONE), Field("visiting"), instrument),
        deliveries=(Delivery.CONFIRM_MAIL, Delivery.PAGE, Delivery.TEXT),
        asks_consent=True,
    )


def _sponsor(plan: PlanId) -> Sponsor:
    """For guests of tutors; the first of them is asked when nobody answers."""
    fields = Field(NAME, is_required=True), Field(MAIL), Field("reason")
    return Sponsor(plan, fields=fields, naming=Naming.LIST, wait_minutes=20, remind_minutes=5)


def _add_hosts(conn: Connection) -> None:
    """The tutors."""
    course = settings.find_id(conn, "plan", "Course week")
    day = settings.find_id(conn, "plan", "Day visit")
    assert course is not None
    assert day is not None
    for first, last, department in TUTORS:
        mail = f"{first}.{last}@hollerau.example".lower()
        given = (PlanId(day), PlanId(course))
        hosts.add_host(conn, Host(HostId(0), f"{first} {last}", mail, department, plans=given, at_once=12))


def _add_practice(conn: Connection, plan: PlanId) -> None:
    """The wall ports of the practice rooms: whoever was told today's passcode, and tutors by their account."""
    door = networks.add_role(conn, "Practice door", vlan=350, filter_name="doorstep", is_door=True)
    inside = networks.add_role(conn, "Practice room", vlan=350, filter_name="student")
    added = networks.add_network(conn, PRACTICE, door_role=door)
    networks.save_network(conn, GuestNetwork(added, PRACTICE, door, port_type=ETHERNET))
    ways.save_ways(conn, added, [Passcode(plan), Account()])
    rules.add_rule(conn, network=added, way_in=WayIn.PASSCODE, role=inside)
    rules.add_rule(conn, network=added, way_in=WayIn.ACCOUNT, role=inside)


def _add_cloister(conn: Connection, keys: KeyRing) -> None:
    """For who lives here all summer, and for what stands in the rooms: each has a passphrase of its own."""
    door = networks.add_role(conn, "Cloister hall", vlan=349, filter_name="doorstep", is_door=True)
    resident = networks.add_role(conn, "Resident", vlan=340, filter_name="resident")
    cloister = networks.add_network(conn, "Cloister", ssid=CLOISTER_SSID.encode(), door_role=door)
    ways.save_ways(conn, cloister, [PrivatePassphrase(first_vlan=401, last_vlan=448)])
    rules.add_rule(conn, network=cloister, way_in=WayIn.PASSPHRASE, role=resident)
    plans.add_plan(
        conn,
        Plan(
            id=PlanId(0),
            name="Season",
            seconds=None,
            idle_seconds=None,
            octets=None,
            devices=5,
            use_within_days=None,
        ),
    )
    east = Dialect(
        DialectId(0), "Cloister points", keys_by=KeysBy.HANDSHAKE, handshake=HANDSHAKES, pause_ms=0
    )
    dialects.add_dialect(conn, keys, east)
    dialects.add_dialect(conn, keys, Dialect(DialectId(0), "Attic points", pause_ms=0))


def _add_point(
    conn: Connection, keys: KeyRing, point: Point, speaks: str, coa_ports: dict[str, int]
) -> AccessDeviceId:
    dialect = settings.find_id(conn, "dialect", speaks)
    network = settings.find_id(conn, "network", point.serves)
    assert dialect is not None
    assert network is not None
    return access_devices.add_access_device(
        conn,
        keys,
        point.name,
        address=point.address,
        secret=SECRET,
        dialect=DialectId(dialect),
        coa_port=coa_ports.get(point.name, DEFAULT_COA_PORT),
        serves=[NetworkId(network)],
    )
