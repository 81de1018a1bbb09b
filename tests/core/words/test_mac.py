"""MAC addresses in the spellings of access devices."""

import pytest

from lauschen.core.ids import Mac
from lauschen.core.words.mac import is_private, read_mac, short_mac, spell_mac

SPELLINGS = [
    "02-00-00-AA-BB-01",
    "02:00:00:aa:bb:01",
    "02.00.00.aa.bb.01",
    "02 00 00 aa bb 01",
    "0200.00aa.bb01",
    "0200-00aa-bb01",
    "0200:00AA:BB01",
    "020000-aabb01",
    "020000aabb01",
]


@pytest.mark.parametrize("text", SPELLINGS)
def test_usual_spellings_are_one_address(text: str) -> None:
    assert read_mac(text) == 0x020000AABB01


@pytest.mark.parametrize(
    "text",
    [
        "",
        "02-00-00-AA-BB",
        "02-00:00-AA-BB-01",
        "0200000aabb01",
        "guest",
        "02-00-00-AA-BB-0G",
        "020000aabb01\n",
    ],
)
def test_anything_else_is_none(text: str) -> None:
    assert read_mac(text) is None


def test_spelled_as_rfc_3580_and_shortly() -> None:
    assert spell_mac(Mac(0x020000AABB01)) == "02-00-00-AA-BB-01"
    assert short_mac(Mac(0x020000AABB01)) == "..:bb:01"


def test_private_addresses_are_the_locally_administered_ones() -> None:
    assert is_private(Mac(0x020000AABB01))
    assert not is_private(Mac(0x000000AABB01))
