"""Addresses of both versions of IP: one spelling of each, and what counts as one client."""

import pytest

from lauschen.core.words.ip import group_of, in_url, plain_ip, read_range


@pytest.mark.parametrize(
    ("text", "plain"),
    [
        ("192.0.2.7", "192.0.2.7"),
        ("::ffff:192.0.2.7", "192.0.2.7"),
        ("::FFFF:c000:207", "192.0.2.7"),
        ("2001:DB8:0:0:0::7", "2001:db8::7"),
        ("fe80::1%eth0", "fe80::1"),
        ("no: address", "no: address"),
        ("", ""),
    ],
)
def test_each_address_has_one_spelling(text: str, plain: str) -> None:
    assert plain_ip(text) == plain


@pytest.mark.parametrize(
    ("text", "group"),
    [
        ("192.0.2.7", "192.0.2.7"),
        ("::ffff:192.0.2.7", "192.0.2.7"),
        ("2001:db8:1:2:3:4:5:6", "2001:db8:1:2::/64"),
        ("2001:db8:1:2::9", "2001:db8:1:2::/64"),
        ("2001:db8:1:2::/64", "2001:db8:1:2::/64"),
        ("2001:db8:1:3::9", "2001:db8:1:3::/64"),
        ("no: address", "no: address"),
    ],
)
def test_whoever_has_an_ipv6_address_has_its_64(text: str, group: str) -> None:
    assert group_of(text) == group


def test_a_range_is_one_address_or_many() -> None:
    assert str(read_range("::ffff:192.0.2.7")) == "192.0.2.7/32"
    assert str(read_range("2001:DB8::/56")) == "2001:db8::/56"
    for wrong in ("2001:db8::1/56", "192.0.2.7/24", "x", "", "1::2::3", "192.0.2.7.5"):
        with pytest.raises(ValueError, match=r"."):
            read_range(wrong)


def test_in_an_address_on_the_web_ipv6_has_brackets() -> None:
    assert (in_url("::1"), in_url("127.0.0.1"), in_url("desk.example")) == (
        "[::1]",
        "127.0.0.1",
        "desk.example",
    )
