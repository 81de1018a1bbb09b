"""Which network a request belongs to, and what a house may configure."""

from dataclasses import replace
from zoneinfo import ZoneInfo

import pytest

from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.checks import (
    check_access_device,
    check_dialect,
    check_host,
    check_page_url,
    check_role,
    check_secret,
    check_zone,
    ignored,
)
from lauschen.core.config.config import Config
from lauschen.core.config.dialect import (
    Appended,
    Arrives,
    Call,
    Dialect,
    Honours,
    Move,
    Posted,
    ValueKind,
    VendorAttribute,
    When,
)
from lauschen.core.config.network import GuestNetwork, Hint, Match
from lauschen.core.config.role import Role
from lauschen.core.errors import Invalid
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId
from lauschen.core.ways.guest_pass import GuestPass
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passcode import Passcode
from lauschen.core.ways.voucher import Voucher
from lauschen.core.ways.ways import Way

WEST, BARN, DOOR = AccessDeviceId(1), AccessDeviceId(2), RoleId(1)


def house(*networks: GuestNetwork) -> Config:
    return Config(
        "H", ZoneInfo("UTC"), "http://h.example", "s.example", {}, {}, {n.id: n for n in networks}, (), {}, {}
    )


def exact(value: bytes) -> Hint:
    return Hint(Match.EXACT, value)


PLAIN = GuestNetwork(NetworkId(1), "Plain", DOOR, exact(b"Garden"))
AT_WEST = GuestNetwork(NetworkId(2), "At west", DOOR, exact(b"Garden"), access_device=WEST)
PORTS = GuestNetwork(NetworkId(3), "Ports", DOOR, port_id=Hint(Match.BEGINS, b"ge-0/"), port_type=15)
NAMED = GuestNetwork(NetworkId(4), "Named", DOOR, nas_identifier=Hint(Match.ENDS, b"-lab"))


@pytest.mark.parametrize(
    ("said", "network"),
    [
        ((BARN, b"Garden"), PLAIN),
        ((BARN, b"garden"), None),
        ((BARN, None), None),
        ((WEST, b"Garden"), AT_WEST),  # the one that asks more is meant
        ((BARN, None, None, "ge-0/1", 15), PORTS),
        ((BARN, b"Garden", None, "ge-0/1", 15), PORTS),  # two hints ask more than a whole SSID
        ((BARN, None, None, "ge-0/1", 19), None),
        ((BARN, None, None, "xe-0/1", 15), None),
        ((BARN, None, None, None, 15), None),
        ((BARN, b"Garden", "south-lab"), PLAIN),  # a whole SSID asks more than an ending
        ((BARN, b"Other", "south-lab"), NAMED),
        ((BARN, b"Other", "lab-south"), None),
    ],
)
def test_a_request_belongs_to_the_strictest_network_that_fits(
    said: tuple[object, ...], network: GuestNetwork | None
) -> None:
    found = house(PLAIN, AT_WEST, PORTS, NAMED).recognise(*said)  # type: ignore[arg-type]
    assert found is network


@pytest.mark.parametrize(
    ("hint", "said", "fits"),
    [
        (Hint(), None, True),
        (Hint(), b"x", True),
        (exact(b"x"), None, False),
        (exact(b"x"), b"x", True),
        (exact(b"x"), b"xy", False),
        (Hint(Match.BEGINS, b"x"), b"xy", True),
        (Hint(Match.BEGINS, b"x"), b"yx", False),
        (Hint(Match.BEGINS, b"x"), None, False),
        (Hint(Match.ENDS, b"x"), b"yx", True),
        (Hint(Match.ENDS, b"x"), b"xy", False),
    ],
)
def test_hints(hint: Hint, said: bytes | None, fits: bool) -> None:
    assert hint.fits(said) is fits


@pytest.mark.parametrize(
    ("ways", "takes"),
    [
        ((Voucher(),), False),
        ((Voucher(), GuestPass()), True),
        ((Voucher(), GuestPass(is_off=True)), False),
        ((Passcode(PlanId(1)),), True),
        ((), False),
    ],
)
def test_codes_may_be_words_where_a_way_that_is_on_takes_them(ways: tuple[Way, ...], takes: bool) -> None:
    network = replace(PLAIN, ways=ways)
    assert network.takes_words is takes
    assert [network.way(way.way) for way in ways] == list(ways)
    assert network.way(WayIn.ALWAYS) is None


def test_a_device_that_was_removed_has_no_dialect() -> None:
    device = AccessDevice(WEST, "West", "10.0.0.1", b"", DialectId(3))
    empty = house()
    known = replace(empty, dialects={DialectId(3): Dialect(DialectId(3), "d")}, access_devices={WEST: device})
    found = known.dialect_of(WEST)
    assert found is not None
    assert found.name == "d"
    assert known.dialect_of(BARN) is None


def refused(check: object, *given: object) -> tuple[str, str]:
    """The field that is named, and the code."""
    with pytest.raises(Invalid) as caught:
        check(*given)  # type: ignore[operator]
    assert caught.value.mend
    return caught.value.field, caught.value.code


DEVICE = AccessDevice(WEST, "West", "10.77.0.1", b"", DialectId(1))


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"address": "x"}, "address"),
        ({"address": "10.77.0.0/15"}, "address"),
        ({"address": "10.77.0.1/24"}, "address"),
        ({"address": "10.77.0.0/99"}, "address"),
        ({"address": "2001:db8::/47"}, "address"),
        ({"address": "2001:db8::1/64"}, "address"),
        ({"address": "fe80::1"}, "address"),
        ({"address": "fe80::1%eth0"}, "address"),
        ({"coa_address": "fe80::1"}, "coa_address"),
        ({"coa_address": "::1"}, "coa_address"),
        ({"coa_address": "ff02::1"}, "coa_address"),
        ({"coa_address": "::ffff:127.0.0.1"}, "coa_address"),
        ({"coa_address": "x"}, "coa_address"),
        ({"coa_address": "127.0.0.1"}, "coa_address"),
        ({"coa_address": "169.254.169.254"}, "coa_address"),
        ({"coa_address": "224.0.0.1"}, "coa_address"),
        ({"coa_address": "255.255.255.255"}, "coa_address"),
        ({"coa_address": "0.0.0.0"}, "coa_address"),
        ({"coa_port": 0}, "coa_port"),
        ({"coa_port": 65536}, "coa_port"),
        ({"address": "10.77.0.0/24", "hears_unsigned": True}, "hears_unsigned"),
    ],
)
def test_devices_that_cannot_be(changes: dict[str, object], field: str) -> None:
    assert refused(check_access_device, replace(DEVICE, **changes))[0] == field  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"address": "10.77.0.0/16"},
        {"coa_port": 1},
        {"coa_port": 65535},
        {"hears_unsigned": True},
        {"coa_address": "10.77.0.2"},
        {"address": "2001:db8::/48", "coa_address": "2001:db8::1"},
        {"address": "::1", "coa_address": "::1"},
        {"address": "127.77.0.1", "coa_address": "127.77.0.2"},
    ],
)
def test_devices_that_can(changes: dict[str, object]) -> None:
    check_access_device(replace(DEVICE, **changes))  # type: ignore[arg-type]


def test_addresses_of_devices_are_kept_in_one_spelling() -> None:
    kept = check_access_device(replace(DEVICE, address="2001:DB8:0::1", coa_address="::ffff:10.77.0.2"))
    assert (kept.address, kept.coa_address) == ("2001:db8::1", "10.77.0.2")
    assert check_access_device(replace(DEVICE, address="2001:DB8::/48")).address == "2001:db8::/48"


ROLE = Role(DOOR, "Door", 310, "door", True)
LAST = "deny in ip from any to any"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"vlan": 0}, "vlan"),
        ({"vlan": 4095}, "vlan"),
        ({"filter_name": ""}, "filter_name"),
        ({"filter_name": "x" * 254}, "filter_name"),
        ({"filter_name": "ü" * 127}, "filter_name"),
        ({"filter_rules": ("allow all",)}, "filter_rules"),
        ({"filter_rules": ("permit in ip from any to host.example", LAST)}, "filter_rules"),
        ({"filter_rules": ("permit in ip from any to any ü", LAST)}, "filter_rules"),
        ({"filter_rules": ("permit in ip from any to 10.0.0.0/8",)}, "filter_rules"),
        ({"filter_rules": (*["permit in tcp from any to 10.77.0.0/24 80"] * 80, LAST)}, "filter_rules"),
    ],
)
def test_roles_that_cannot_be_sent(changes: dict[str, object], field: str) -> None:
    assert refused(check_role, replace(ROLE, **changes))[0] == field  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"vlan": 1},
        {"vlan": 4094},
        {"vlan": None, "filter_name": None},
        {"filter_name": "x" * 253},
        {"filter_name": "ü" * 126},
        {
            "filter_rules": (
                "permit in tcp from assigned to 10.77.0.0/24 80,443",
                "permit out 47 from any to any",
                LAST,
            )
        },
    ],
)
def test_roles_that_can(changes: dict[str, object]) -> None:
    check_role(replace(ROLE, **changes))  # type: ignore[arg-type]


def test_what_a_dialect_ignores_of_a_role() -> None:
    rules = replace(ROLE, filter_rules=(LAST,))
    everything = Dialect(DialectId(1), "d", honours=frozenset(Honours))
    nothing = replace(everything, honours=frozenset())
    assert ignored(rules, everything) == ["filter_name"]
    assert ignored(ROLE, everything) == []
    assert ignored(rules, nothing) == ["vlan", "filter_name", "filter_rules"]
    assert ignored(replace(ROLE, vlan=None, filter_name=None), nothing) == []


@pytest.mark.parametrize(
    ("changes", "lost"),
    [
        ({}, ["rate"]),
        ({"attributes": (VendorAttribute(1, 1, ValueKind.INTEGER, "{down_kbit}", When.INSIDE),)}, []),
        ({"attributes": (VendorAttribute(1, 1, ValueKind.TEXT, "{mac}", When.INSIDE),)}, ["rate"]),
        ({"login_move": Move.CALLED, "call_in": Call(url="https://x.example/", body="{up_mbit}")}, []),
        ({"call_in": Call(url="https://x.example/", body="{up_mbit}")}, ["rate"]),
    ],
)
def test_a_rate_is_lost_where_nothing_that_is_sent_speaks_of_it(
    changes: dict[str, object], lost: list[str]
) -> None:
    dialect = replace(GOOD, honours=frozenset(Honours), **changes)  # type: ignore[arg-type]
    for rates in ({"down_bps": 1}, {"up_bps": 1}):
        assert ignored(replace(ROLE, **rates), dialect) == lost  # type: ignore[arg-type]
    assert ignored(ROLE, dialect) == []


CALL = Call(url="https://controller.example/{mac}")
GOOD = Dialect(DialectId(1), "d")


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"attributes": (VendorAttribute(1, 1, ValueKind.TEXT, "{nothing}", When.DOOR),)}, "attributes"),
        ({"attributes": (VendorAttribute(1, 256, ValueKind.TEXT, "", When.DOOR),)}, "attributes"),
        ({"attributes": (VendorAttribute(1 << 24, 1, ValueKind.TEXT, "", When.DOOR),)}, "attributes"),
        ({"attributes": (VendorAttribute(0, 1, ValueKind.TEXT, "", When.DOOR),)}, "attributes"),
        ({"arrives": Arrives.APPENDED, "appended": Appended(mac="")}, "appended"),
        ({"group_tag": 32}, "group_tag"),
        ({"group_tag": -1}, "group_tag"),
        ({"identify": ("user_name",)}, "identify"),
        ({"end_move": Move.POSTED}, "end_move"),
        ({"login_move": Move.POSTED}, "posted"),
        (
            {"login_move": Move.POSTED, "posted": Posted("http://x.example", others=(("a", "{seconds}"),))},
            "posted",
        ),
        ({"login_move": Move.CALLED}, "call_in"),
        ({"end_move": Move.CALLED}, "call_out"),
        ({"login_move": Move.CALLED, "call_in": replace(CALL, body="{nothing}")}, "call_in"),
        ({"login_move": Move.CALLED, "call_in": replace(CALL, headers=(("X", "{nothing}"),))}, "call_in"),
        ({"login_move": Move.CALLED, "call_in": replace(CALL, url="https://x.example/{nothing}")}, "call_in"),
        ({"login_move": Move.CALLED, "call_in": replace(CALL, url="ftp://x.example/")}, "call_in"),
    ],
)
def test_dialects_that_lack_what_they_need(changes: dict[str, object], field: str) -> None:
    assert refused(check_dialect, replace(GOOD, **changes))[0] == field  # type: ignore[arg-type]


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {"arrives": Arrives.APPENDED},
        {"arrives": Arrives.HANDED_OUT, "appended": Appended(mac="")},
        {"attributes": (VendorAttribute(1, 255, ValueKind.TEXT, "{portal_url}", When.DOOR),)},
        {"group_tag": None},
        {"group_tag": 31},
        {"identify": ("nas_ip_address", "framed_ip_address")},
        {"login_move": Move.POSTED, "posted": Posted("http://x.example", others=(("a", "{mac}"),))},
        {"login_move": Move.CALLED, "end_move": Move.CALLED, "call_in": CALL, "call_out": CALL},
        {"login_move": Move.CALLED, "call_in": replace(CALL, url="https://{network}.x.example/")},
    ],
)
def test_dialects_that_have_it(changes: dict[str, object]) -> None:
    check_dialect(replace(GOOD, **changes))  # type: ignore[arg-type]


def test_secrets_hosts_addresses_and_zones() -> None:
    assert refused(check_secret, "1234567") == ("secret", "secret_short")
    check_secret("12345678")
    for host in ("", "a b", "-a.example", "a..example", "a" * 64 + ".example", "a.example."):
        assert refused(check_host, host, "slip_host") == ("slip_host", "host")
    assert check_host("slip.house.example", "slip_host") == "slip.house.example"
    for url in (
        "welcome.example",
        "http://w.example/",
        "http://w.example?x",
        "http://w.example#x",
        "http://a@w.example",
    ):
        assert refused(check_page_url, url)[0] == "page_url"
    check_page_url("https://w.example:8443")
    for zone in ("Nowhere/Here", "", "../etc/passwd", "/etc/passwd"):
        assert refused(check_zone, zone) == ("zone", "zone")
    check_zone("Europe/Vienna")
