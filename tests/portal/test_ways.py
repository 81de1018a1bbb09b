"""What each way shows of itself on the page."""

from dataclasses import replace
from typing import Any

import pytest

from lauschen.acts.config.ways import offer_ways
from lauschen.acts.page.visiting import find_visit
from lauschen.core.config.rule import Rule
from lauschen.core.ids import PlanId, RoleId, RuleId
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way
from lauschen.portal.facts import load_facts
from lauschen.portal.page import render
from lauschen.portal.views import visit_page
from lauschen.portal.ways.click_through import ClickThroughOnPage, RulesPart
from lauschen.portal.ways.ways import choices_of
from tests.ensemble import DAY, ENSEMBLE, HALF_HOUR, INTERMISSION, Ensemble
from tests.place import PHONE, Place


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    return Ensemble(place)


def shown(ensemble: Ensemble, way: ClickThrough, lang: str = "en") -> RulesPart:
    place = ensemble.place
    ensemble.ask()
    visit_id = ensemble.open(later=int(place.now) % 1000)
    with place.tx() as tx:
        visit = find_visit(tx, visit_id, f"127.77.1.{PHONE & 0xFF}")
    facts = load_facts(place.conn, place.keys, place.config, visit, visit_id, place.now)
    assert facts is not None
    part = ClickThroughOnPage().show(facts, way, lang)
    assert isinstance(part, RulesPart)
    return part


def test_a_device_that_had_its_share_is_told_from_when_it_may_agree_again(ensemble: Ensemble) -> None:
    way = ClickThrough(INTERMISSION, again_after_hours=24)
    assert shown(ensemble, way).over is None
    ensemble.let_in()
    began = ensemble.place.now
    assert shown(ensemble, way).over is None  # there is time left of it
    ensemble.place.now = began + HALF_HOUR
    said = shown(ensemble, way).over or ""
    assert said.endswith("You can get online again from tomorrow 22:27.")
    assert (
        shown(ensemble, way, "de").over
        == "Der freie Zugang für dieses Gerät ist aufgebraucht. Ab morgen 22:27 ist er wieder möglich."
    )
    ensemble.place.now = began + DAY
    assert shown(ensemble, way).over is None


def test_a_way_that_is_switched_off_is_not_shown_and_the_next_one_is_open(ensemble: Ensemble) -> None:
    place = ensemble.place
    ensemble.ask()
    visit_id = ensemble.open()
    with place.tx() as tx:
        visit = find_visit(tx, visit_id, f"127.77.1.{PHONE & 0xFF}")
    network = place.config.networks[ENSEMBLE]

    placing: dict[str, Any] = {"last_role": RoleId(2)}

    def shown_forms(ways: tuple[Way, ...]) -> list[tuple[str, bool]]:
        networks = {**place.config.networks, ENSEMBLE: replace(network, ways=ways)}
        house = replace(place.config, networks=networks, **placing)
        facts = load_facts(place.conn, place.keys, house, visit, visit_id, place.now)
        assert facts is not None
        return [(choice.form, choice.is_open) for choice in choices_of(facts, "en")]

    agree = ClickThrough(INTERMISSION)
    assert shown_forms((GuestPass(), Voucher(), agree)) == [("code", True), ("click_through", False)]
    assert shown_forms((agree, GuestPass())) == [("click_through", True), ("code", False)]
    assert shown_forms((GuestPass(is_off=True), agree)) == [("click_through", True)]
    assert shown_forms((GuestPass(is_off=True), agree, Voucher())) == [
        ("click_through", True),
        ("code", False),
    ]
    assert shown_forms((GuestPass(is_off=True),)) == []
    # Where no rule places whoever gets in by one, it leads nowhere.
    placing = {"last_role": None, "rules": ()}
    assert shown_forms((GuestPass(), agree)) == []
    to_pass = Rule(RuleId(1), 1, ENSEMBLE, WayIn.GUEST_PASS, RoleId(2))
    placing["rules"] = (to_pass,)
    assert shown_forms((agree, GuestPass())) == [("code", True)]
    assert shown_forms((agree, Voucher())) == []
    placing["rules"] = (replace(to_pass, way_in=None, plan=INTERMISSION),)
    assert shown_forms((agree, GuestPass())) == [("click_through", True), ("code", False)]
    placing["rules"] = (replace(to_pass, way_in=None, plan=PlanId(1)),)
    assert shown_forms((agree, GuestPass())) == [("code", True)]


def test_who_may_not_type_for_a_while_is_told_so_where_agreeing_is_still_open(ensemble: Ensemble) -> None:
    place = ensemble.place
    ensemble.ask()
    visit_id = ensemble.open()
    with place.tx() as tx:
        visit = find_visit(tx, visit_id, f"127.77.1.{PHONE & 0xFF}")
    network = replace(place.config.networks[ENSEMBLE], ways=(ClickThrough(INTERMISSION), Voucher()))
    house = replace(place.config, networks={**place.config.networks, ENSEMBLE: network})
    for barred_until in (None, place.now + 600):
        visit.barred_until = barred_until
        facts = load_facts(place.conn, place.keys, house, visit, visit_id, place.now)
        assert facts is not None
        page = visit_page(facts, "en", "csrf")
        assert page.is_common is (barred_until is None)
        assert ("You can try again from" in render(page)) is (barred_until is not None)


def test_without_another_time_it_is_told_no_time(ensemble: Ensemble) -> None:
    way = ClickThrough(INTERMISSION)
    with ensemble.place.tx() as tx:
        offer_ways(tx, ENSEMBLE, [way])
        tx.reconfigure()
    ensemble.place.config = tx.config
    ensemble.let_in()
    ensemble.place.now += 9 * DAY
    assert shown(ensemble, way).over == "This device has used its free access."
