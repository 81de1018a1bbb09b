"""What a sponsor way may be set to, and the lengths that a host is offered."""

from dataclasses import replace
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.ids import HostId, Mac, NetworkId, PlanId
from lauschen.core.limits.plan import Plan
from lauschen.core.ways.account import Login
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offers.code import Code
from lauschen.core.ways.offers.fields import Field
from lauschen.core.ways.sponsor import Naming, Sponsor, check_sponsor
from lauschen.core.ways.vouching import DAY_S, HOUR_S, lengths
from lauschen.core.ways.ways import read_way, write_way

GOOD = Sponsor(PlanId(1))
WEEK = Plan(PlanId(1), "Week", 7 * DAY_S, None, None, 3, None)
OPEN = Plan(PlanId(2), "Open", None, None, None, 1, None)


@pytest.mark.parametrize(
    ("change", "code"),
    [
        ({"wait_minutes": 1}, "wait_minutes"),
        ({"wait_minutes": 1441}, "wait_minutes"),
        ({"remind_minutes": 30}, "remind_minutes"),
        ({"remind_minutes": -1}, "remind_minutes"),
        ({"fields": ()}, "fields"),
        ({"fields": (Field("shoe"),)}, "field_key"),
        ({"naming": Naming.DOMAIN}, "domains"),
        ({"naming": Naming.DOMAIN, "domains": ("hollerau",)}, "domain"),
        ({"naming": Naming.DOMAIN, "domains": ("@hollerau.example",)}, "domain"),
        ({"naming": Naming.DOMAIN, "domains": ("a..b",)}, "domain"),
    ],
)
def test_what_cannot_be(change: dict[str, Any], code: str) -> None:
    with pytest.raises(Invalid) as found:
        check_sponsor(replace(GOOD, **change))
    assert found.value.code == code


def test_it_is_stored_and_read_again() -> None:
    way = replace(
        GOOD, naming=Naming.DOMAIN, domains=("hollerau.example",), stand_in=HostId(3), remind_minutes=0
    )
    check_sponsor(way)
    assert read_way("sponsor", write_way(way), ZoneInfo("Europe/Vienna")) == way


def test_times_are_seconds_and_a_reminder_comes_in_time() -> None:
    way = replace(GOOD, wait_minutes=2, remind_minutes=1)
    check_sponsor(way)
    assert (way.wait_s, way.remind_s) == (120.0, 60.0)
    assert replace(GOOD, remind_minutes=0).remind_s is None


def test_the_code_that_a_host_gave_leads_in() -> None:
    at = AtDoor(NetworkId(1), Mac(2), 0.0, 0)
    assert list(GOOD.leads(Code("", "K7TRQ9WMP4"), at)) == [Lead(Finder("code", "K7TRQ9WMP4"))]
    assert list(GOOD.leads(Code("words alone"), at)) == []
    assert list(GOOD.leads(Login("ines", "x"), at)) == []


def test_domains_are_whole_ones() -> None:
    way = replace(GOOD, naming=Naming.DOMAIN, domains=("hollerau.example",))
    assert way.takes("ada@HOLLERAU.example")
    assert not way.takes("ada@notHollerau.example")
    assert not way.takes("ada@hollerau.example.elsewhere.example")
    assert not way.takes("hollerau.example")
    assert not way.takes("@hollerau.example")


@pytest.mark.parametrize(
    ("longest_s", "expected"),
    [
        (None, [None, 3 * DAY_S, DAY_S, 4 * HOUR_S, HOUR_S]),
        (7 * DAY_S, [None, 3 * DAY_S, DAY_S, 4 * HOUR_S, HOUR_S]),
        (2 * DAY_S, [2 * DAY_S, DAY_S, 4 * HOUR_S, HOUR_S]),
        (30 * 60, [30 * 60]),
    ],
)
def test_lengths_are_within_plan_and_bound(longest_s: int | None, expected: list[int | None]) -> None:
    assert [one.seconds for one in lengths([WEEK], longest_s)] == expected


def test_a_plan_without_end_is_bound_by_the_host_alone() -> None:
    assert lengths([OPEN], None)[0].seconds is None
    assert max(one.seconds or 0 for one in lengths([OPEN], DAY_S)) == DAY_S


def test_further_plans_are_offered_whole() -> None:
    found = [one.key for one in lengths([WEEK, OPEN], 2 * DAY_S)]
    assert found[-1] == f"2-{2 * DAY_S}"
    assert len(set(found)) == len(found)
