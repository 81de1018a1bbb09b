"""Click-through: agreed to in the version in force, an allowance for each device, and nobody else's rights by it."""

import json

import pytest

from lauschen.acts.config.texts import write_text
from lauschen.acts.config.ways import offer_ways
from lauschen.acts.page import trying
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.config.site_text import TextKind
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.reason import Reason
from lauschen.core.ways.click_through import ClickThrough
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.voucher import Voucher
from tests.ensemble import DAY, ENSEMBLE, HALF_HOUR, INTERMISSION, Ensemble
from tests.place import OTHER, Place


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    return Ensemble(place)


def test_whoever_agrees_is_in_and_what_was_agreed_to_is_kept(ensemble: Ensemble) -> None:
    decision = ensemble.let_in()
    assert (decision.answer, decision.role) == (Answer.ADMIT, 4)
    assert decision.good_until == ensemble.place.now + HALF_HOUR
    (offered,) = ensemble.place.conn.execute("SELECT offered FROM admission").fetchone()
    assert json.loads(offered) == {"rules": 1, "lang": "en"}


def test_each_device_has_an_allowance_of_its_own(ensemble: Ensemble) -> None:
    ensemble.let_in()
    ensemble.place.now += 1200
    assert ensemble.let_in(OTHER).good_until == ensemble.place.now + HALF_HOUR
    ensemble.place.now += 700  # only the first one's is over
    with ensemble.place.tx() as tx:
        Sweeper().sweep(tx)
    assert (ensemble.held(), ensemble.held(OTHER)) == (True, False)


def test_what_is_used_up_stays_so_until_a_day_is_over(ensemble: Ensemble) -> None:
    ensemble.let_in()
    began = ensemble.place.now
    for passed, reason in ((HALF_HOUR, Reason.TIME_USED_UP), (DAY - 1, Reason.TIME_USED_UP)):
        ensemble.place.now = began + passed
        ensemble.ask()
        assert ensemble.agree(ensemble.open(later=passed)) is reason
    ensemble.place.now = began + DAY
    assert ensemble.agree(ensemble.open(later=DAY)) is Reason.ADMITTED
    used = ensemble.place.conn.execute(
        "SELECT count(*), count(DISTINCT credential) FROM allowance"
    ).fetchone()
    assert used == (2, 2)  # a new one; the old one is kept with what it had


def test_without_again_it_stays_used_up_for_ever(ensemble: Ensemble) -> None:
    with ensemble.place.tx() as tx:
        offer_ways(tx, ENSEMBLE, [ClickThrough(INTERMISSION)])
        tx.reconfigure()
    ensemble.place.config = tx.config
    ensemble.let_in()
    ensemble.place.now += 50 * DAY
    ensemble.ask()
    assert ensemble.agree(ensemble.open(later=5)) is Reason.TIME_USED_UP


@pytest.mark.parametrize("rules", [0, 2, 99])
def test_only_the_rules_in_force_can_be_agreed_to(ensemble: Ensemble, rules: int) -> None:
    ensemble.ask()
    assert ensemble.agree(ensemble.open(), rules=rules) is Reason.RULES_CHANGED
    assert ensemble.place.conn.execute("SELECT count(*) FROM credential").fetchone() == (0,)


def test_a_changed_text_is_a_new_version_and_the_same_one_is_none(ensemble: Ensemble) -> None:
    before = dict(ensemble.place.config.house_rules.texts)
    with ensemble.place.tx() as tx:
        assert write_text(tx, TextKind.RULES, {"en": before["en"] + " \n", "de": before["de"]}) == 1
        assert write_text(tx, TextKind.RULES, {"en": "Be kind.", "de": ""}) == 2
        tx.reconfigure()
    ensemble.place.config = tx.config
    assert dict(tx.config.house_rules.texts) == {"en": "Be kind."}
    ensemble.ask()
    visit = ensemble.open()
    assert ensemble.agree(visit, rules=1) is Reason.RULES_CHANGED
    assert ensemble.agree(visit, rules=2) is Reason.ADMITTED
    kept = ensemble.place.conn.execute(
        "SELECT version, lang FROM house_text WHERE kind = 'rules' ORDER BY 1, 2"
    ).fetchall()
    assert kept == [(1, "de"), (1, "en"), (2, "en")]


def test_agreeing_in_another_visit_gives_no_rights_over_who_is_in(ensemble: Ensemble) -> None:
    """Anybody can agree: an overheard page address must not log the guest out (rulings 8.3)."""
    ensemble.let_in()
    ensemble.ask()
    overheard = ensemble.open(later=7)
    assert ensemble.agree(overheard) is Reason.IN_BY_OTHER
    with ensemble.place.tx() as tx, pytest.raises(Exception, match="stay"):
        trying.log_out(tx, overheard, "127.77.1.1")


def test_a_network_takes_only_what_it_offers(ensemble: Ensemble) -> None:
    place = ensemble.place
    (code,) = place.issue()
    ensemble.ask()
    visit = ensemble.open()
    with place.tx() as tx:
        tried = trying.try_offer(tx, visit, Code(code.lower(), code), "127.77.1.1")
    assert tried.reason is Reason.NOT_OFFERED
    assert place.conn.execute("SELECT count(*) FROM wrong_try").fetchone() == (0,)  # no guess
    with place.tx() as tx:
        offer_ways(tx, ENSEMBLE, [Voucher(), ClickThrough(INTERMISSION, 24)])
        tx.reconfigure()
    place.config = tx.config
    with place.tx() as tx:
        assert trying.try_offer(tx, visit, Code(code.lower(), code), "127.77.1.1").reason is Reason.NO_RULE


def test_a_way_that_is_taken_away_leaves_who_is_inside(ensemble: Ensemble) -> None:
    ensemble.let_in()
    with ensemble.place.tx() as tx:
        offer_ways(tx, ENSEMBLE, [])
        tx.reconfigure()
    ensemble.place.config = tx.config
    ensemble.place.memory.forget_all()
    assert ensemble.ask().answer is Answer.ADMIT
    ensemble.ask(OTHER)
    assert ensemble.agree(ensemble.open(OTHER), OTHER) is Reason.NOT_OFFERED
