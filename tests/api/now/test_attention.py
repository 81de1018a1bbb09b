"""What needs attention is said with what mends it, the gravest first."""

from collections.abc import Iterator
from dataclasses import replace

import pytest

from lauschen.acts.desk import helping as staff_acts
from lauschen.api.now.attention import attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.config.dialect import Call
from lauschen.core.config.site_text import SiteText
from lauschen.core.ids import Mac
from lauschen.core.limits.tries import NETWORK_TRIES, SOURCE_TRIES
from lauschen.core.messages.channels import TextGateway
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.words.codes import make_code
from lauschen.http.certificate import CertificateFacts
from lauschen.radius.listen.registry import Registry
from lauschen.road.road import Road
from lauschen.road.trouble import Trouble
from lauschen.road.tx import Tx
from lauschen.store import visits
from lauschen.store.config.channels import save_only
from lauschen.store.messages import outbox
from lauschen.store.moving import places
from lauschen.store.passphrases.strangers import Limit, note_reached
from tests.place import GARDEN, PHONE, T0, WEST, CountedChance, Place
from tests.still_clock import StillClock

DAY = 86_400.0


class Desk:
    def __init__(self, place: Place) -> None:
        self.place = place
        self.registry = Registry(place.config, place.keys.token_key)
        self.road = Road(
            place.conn, place.keys, place.config, StillClock(place.now), CountedChance(), fsync_s=0.0
        )

    def kinds(self) -> list[str]:
        return [item.kind for item in self.said()]

    def said(self) -> list:  # type: ignore[type-arg]
        speaker = Speaker(self.place.config, {}, self.place.now)
        return attention(self.place.conn, self.road, self.registry, speaker)


@pytest.fixture
def desk(place: Place) -> Iterator[Desk]:
    return Desk(place)


def test_that_guests_have_used_up_their_text_messages_is_said(desk: Desk) -> None:
    call = Call("POST", "https://texts.example/")

    def write(tx: Tx) -> None:
        gateway = TextGateway(call, countries=("AT",), texts_day=5)
        save_only(tx.conn, tx.keys, Channel.TEXT, gateway)
        for number in range(4):
            about = About(None, Mac(PHONE + number), GARDEN)
            draft = Draft(Channel.TEXT, Kind.PASS, "en", f"+43664123{number}", {"name": ""}, about)
            outbox.add_message(tx.conn, tx.keys, draft, mark=f"m{number}", now=tx.now)

    desk.place.run(write)
    desk.place.reload()
    (said,) = [one.text for one in desk.said() if one.kind == "texts"]
    assert said == "Guests have used up their 4 text messages of a day."
    desk.place.now += DAY
    assert "texts" not in desk.kinds()


def test_when_all_is_well_nothing_is_said(desk: Desk) -> None:
    assert desk.said() == []


def test_an_unknown_access_device_leads_to_where_it_is_added(desk: Desk) -> None:
    desk.registry.note_unknown("10.77.0.99", b"", "authentication", 1.0)
    (item,) = desk.said()
    assert item.text.startswith("10.77.0.99 sent one packet")
    assert item.link == "/networks?unknown=10.77.0.99"
    desk.registry.note_unknown("10.77.0.99", b"", "authentication", 2.0)
    assert "2 packets" in desk.said()[0].text


@pytest.mark.parametrize(("reason", "kind"), [("wrong_secret", "secret"), ("unsigned", "unsigned")])
def test_a_secret_that_differs_is_said_after_three_packets(desk: Desk, reason: str, kind: str) -> None:
    desk.registry.drops["127.77.0.11", reason] = 2
    assert desk.said() == []
    desk.registry.drops["127.77.0.11", reason] = 3
    (item,) = desk.said()
    assert item.kind == kind
    assert item.text.startswith("Garden west: 3 ")


def test_strangers_who_send_answers_are_said_once_they_are_too_many_to_be_late(desk: Desk) -> None:
    desk.registry.change_drops["stranger"] = 999
    assert desk.said() == []
    desk.registry.change_drops["stranger"] = 1000
    (strangers,) = desk.said()
    assert strangers.text.startswith("1,000 packets ")


def test_an_unconfirmed_change_has_its_action(desk: Desk) -> None:
    place = desk.place
    place.let_in(place.issue()[0])
    with place.tx() as tx:
        staff_acts.end_device_stay(tx, PHONE, GARDEN)
    assert desk.said() == []  # wanted, but nobody has refused it yet
    wish = place.wish()
    assert wish is not None
    with place.tx() as tx:
        places.note_answer(tx.conn, wish.at, answer="silent", at=tx.now, tries=1, next_at=tx.now + 60)
    (item,) = desk.said()
    assert item.grave
    assert item.action == "/api/guests/02-00-00-AA-BB-01/1/send-again"
    assert "no answer" in item.text


def test_a_device_that_may_be_two_is_shown_once_for_an_hour(desk: Desk) -> None:
    for kind, facts in (
        ("two_addresses", {"one": "10.0.0.1", "other": "10.0.0.2"}),
        ("two_places", {"other": 2}),
    ):
        with desk.place.tx() as tx:
            tx.log(kind, mac=PHONE, network=GARDEN, access_device=WEST, facts=facts)  # type: ignore[arg-type]
    (item,) = desk.said()
    assert (
        item.text
        == "Device ..:bb:01 is at Garden west and at Concert barn at the same time. Two devices with one address?"
    )
    assert item.link == "/guests?guest=02-00-00-AA-BB-01/1"
    desk.place.now += 3601
    assert desk.said() == []


def test_guessing_and_a_full_disk_come_first(desk: Desk) -> None:
    desk.registry.note_unknown("10.77.0.99", b"", "authentication", 1.0)
    with desk.place.tx() as tx:
        for number in range(NETWORK_TRIES + 1):
            visits.add_wrong_try(tx.conn, mac=PHONE, network=GARDEN, source=str(number), now=tx.now)
    desk.road.trouble = Trouble(desk.place.now, "database or disk is full")
    assert desk.kinds() == ["trouble", "guessing", "unknown_access_device"]


def test_a_guessing_source_is_said_with_its_address(desk: Desk) -> None:
    with desk.place.tx() as tx:
        for _ in range(SOURCE_TRIES + 1):
            visits.add_wrong_try(tx.conn, visit=b"v", network=GARDEN, source="10.0.0.66", now=tx.now)
        visits.add_wrong_try(tx.conn, visit=b"w", network=GARDEN, source="10.0.0.7", now=tx.now)
        visits.add_wrong_try(tx.conn, mac=PHONE, network=GARDEN, now=tx.now)
    assert desk.kinds() == ["guessing"]
    (found,) = desk.said()
    assert found.text.startswith(f"10.0.0.66: {SOURCE_TRIES + 1} wrong codes in ten minutes")
    desk.place.now += 601
    assert desk.kinds() == []


def test_a_guessing_network_is_answered_slowly(place: Place) -> None:
    place.ask()
    place.open_page()
    with place.tx() as tx:
        for number in range(NETWORK_TRIES + 5):
            visits.add_wrong_try(tx.conn, mac=PHONE + 1, network=GARDEN, source=str(number), now=tx.now)  # type: ignore[arg-type]
    assert place.try_code(make_code(5)).wait_s > 0
    assert place.try_code(place.issue()[0]).wait_s == 0  # right codes still pass, at once


class Shown:
    """A certificate as far as Now looks at it."""

    def __init__(self, names: tuple[str, ...], ends: float, fault: str | None = None) -> None:
        self.facts, self.fault = CertificateFacts(names, ends), fault


@pytest.mark.parametrize(
    ("page", "certificate", "said"),
    [
        ("https://welcome.example", Shown(("welcome.example",), T0 + 15 * DAY), []),
        ("https://welcome.example", Shown(("*.example",), T0 + 13 * DAY), ["The certificate ends"]),
        ("https://welcome.example", Shown(("welcome.example",), T0 - 1), ["The certificate ended"]),
        ("https://other.test", Shown(("welcome.example",), T0 + 15 * DAY), ["The certificate does not fit"]),
        ("http://other.test", Shown(("welcome.example",), T0 + 15 * DAY), []),  # no page by it yet
        (
            "https://a.example",
            Shown((), T0 + 15 * DAY, "no key"),
            ["The files of", "The certificate does not"],
        ),
    ],
)
def test_what_of_a_certificate_guests_would_be_warned_of(
    desk: Desk, page: str, certificate: Shown, said: list[str]
) -> None:
    house = replace(desk.place.config, page_url=page)
    found = attention(
        desk.place.conn,
        desk.road,
        desk.registry,
        Speaker(house, {}, T0),
        certificate,  # type: ignore[arg-type]
    )
    assert [item.kind for item in found] == ["certificate"] * len(said)
    assert all(item.text.startswith(begins) for item, begins in zip(found, said, strict=True))


def test_a_network_that_can_let_nobody_in_is_said(desk: Desk) -> None:
    house = desk.place.config
    networks = {key: replace(network, ways=()) for key, network in house.networks.items() if key == GARDEN}
    desk.place.config = replace(house, networks=networks)
    (item,) = desk.said()
    assert (item.text, item.grave) == ("Garden offers nothing to let guests in.", True)
    desk.place.config = replace(house, house_rules=SiteText())
    (item,) = desk.said()
    assert item.text == "Ensemble: no house rules are written yet, so nobody can agree to them."
    assert item.link == "/networks?network=2&edit=ways"


@pytest.mark.parametrize(
    ("what", "said"),
    [
        (Limit.NEW_DEVICES, "Garden west asked about more than 40 new devices in ten minutes on Garden."),
        (Limit.SHOWN, "Garden west was given 300 passphrases to try within an hour on Garden."),
        (Limit.HANDSHAKES, "Garden west sends more wrong handshakes than can be looked for on Garden."),
    ],
)
def test_an_access_device_that_asks_for_too_many_is_grave_for_a_while(
    desk: Desk, what: Limit, said: str
) -> None:
    with desk.place.tx() as tx:
        note_reached(tx.conn, WEST, GARDEN, what, tx.now)
    (item,) = desk.said()
    assert (item.text, item.grave, item.link) == (said, True, "/networks?device=1")
    desk.place.now += 601
    assert desk.said() == []
