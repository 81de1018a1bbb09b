"""When a device that was away is asked again: minutes after its login, or when the house rules changed."""

import pytest

from lauschen.core.ids import Mac, NetworkId, PlanId
from lauschen.core.ways.click_through import LONGEST_MAIL, ClickThrough, read_mail
from lauschen.core.ways.lead import AtDoor
from lauschen.core.ways.voucher import Voucher

BEGUN = 1_780_000_000.0


def at(seconds: float, rules: int = 3) -> AtDoor:
    return AtDoor(NetworkId(1), Mac(0x0677A0000001), BEGUN + seconds, rules)


def test_remembered_until_the_minute_is_full() -> None:
    way = Voucher(remember_minutes=2)
    assert not way.is_forgotten(BEGUN, None, at(119.9))
    assert way.is_forgotten(BEGUN, None, at(120.0))
    assert not Voucher().is_forgotten(BEGUN, None, at(10**9))
    assert Voucher(remember_minutes=0).is_forgotten(BEGUN, None, at(0.0))


@pytest.mark.parametrize(
    ("asks", "agreed_to", "minutes", "is_forgotten"),
    [
        (True, 3, None, False),
        (True, 2, None, True),
        (True, None, None, False),
        (False, 2, None, False),
        (False, 3, 1, True),
        (True, 3, 1, True),
        (True, 2, 99, True),
    ],
)
def test_new_house_rules_are_asked_for_where_the_house_wants(
    asks: bool, agreed_to: int | None, minutes: int | None, is_forgotten: bool
) -> None:
    way = ClickThrough(PlanId(1), asks_when_changed=asks, remember_minutes=minutes)
    assert way.is_forgotten(BEGUN, agreed_to, at(60.0)) is is_forgotten


def test_the_longest_mail_address() -> None:
    longest = "a" * (LONGEST_MAIL - len("@house.example")) + "@house.example"
    assert read_mail(longest) == longest
    assert read_mail("a" + longest) == ""
