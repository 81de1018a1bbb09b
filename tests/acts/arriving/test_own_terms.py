"""What is issued with limits of its own, and for one network alone, is decided by them everywhere."""

import pytest

from lauschen.acts.desk.issuing import begin_batch, draw_vouchers, finish_batch
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import NetworkId
from lauschen.core.limits.left import left
from lauschen.core.limits.terms import Own, Terms, plan_with
from lauschen.store import credentials
from lauschen.store.batches import Said
from tests.ensemble import ENSEMBLE, Ensemble
from tests.place import DAY_VISIT, GARDEN, Place

HOUR = 3600


@pytest.fixture
def ensemble(place: Place) -> Ensemble:
    return Ensemble(place)


def issue(place: Place, terms: Terms) -> str:
    with place.tx() as tx:
        batch = begin_batch(tx, plan=DAY_VISIT, size=1, said=Said(), terms=terms)
        draw_vouchers(tx, batch=batch, plan=DAY_VISIT, count=1, terms=terms)
        finish_batch(tx, batch=batch, plan=DAY_VISIT, size=1)
        (made,) = credentials.all_issued_of(tx.conn, tx.keys, batch)
    return made.code


def test_its_own_limits_stand_in_place_of_its_plans(place: Place) -> None:
    own = Own(seconds=2 * HOUR, octets=5 * 10**6, down_bps=10**6)
    grant = place.grant(issue(place, Terms(own=own)))
    assert grant is not None
    plan = place.config.plan_of(grant)
    before = place.config.plans[DAY_VISIT]
    assert (plan.seconds, plan.octets, plan.down_bps, plan.up_bps) == (
        2 * HOUR, 5 * 10**6, 10**6, before.up_bps,
    )  # fmt: skip
    assert (plan.devices, plan.name) == (before.devices, before.name)
    remains = left(plan, grant.use, place.now)
    assert (remains.seconds, remains.octets) == (2 * HOUR, 5 * 10**6)
    plain = place.grant(issue(place, Terms()))
    assert plain is not None
    assert place.config.plan_of(plain) is before


def test_the_answer_on_the_wire_ends_by_them(place: Place) -> None:
    code = issue(place, Terms(own=Own(seconds=2 * HOUR)))
    place.ask()
    place.open_page()
    place.try_code(code)
    decision, _ = place.ask()
    assert decision.left is not None
    assert decision.left.seconds == 2 * HOUR


@pytest.mark.parametrize(
    ("network", "reason"), [(GARDEN, Reason.NOT_HERE), (ENSEMBLE, Reason.ADMITTED), (None, Reason.ADMITTED)]
)
def test_it_is_good_on_its_network_alone(
    ensemble: Ensemble, network: NetworkId | None, reason: Reason
) -> None:
    _, code = ensemble.issue_pass(terms=Terms(network=network))
    ensemble.ask()
    assert ensemble.type_code(code) is reason


def test_no_network_that_is_not_there(place: Place) -> None:
    with pytest.raises(Invalid) as raised:
        issue(place, Terms(network=NetworkId(99)))
    assert raised.value.field == "network"


def test_a_plan_without_a_limit_has_that_of_the_credential(place: Place) -> None:
    plan = place.config.plans[DAY_VISIT]
    assert plan_with(plan, Own(up_bps=8000)).up_bps == 8000
    assert plan_with(plan, Own(up_bps=8000)).seconds == plan.seconds
