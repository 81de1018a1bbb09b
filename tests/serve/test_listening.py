"""Both versions of IP, from the socket to the database: RADIUS, changes and both pages."""

import os
import socket
import time
from collections.abc import AsyncIterator
from pathlib import Path

import httpx
import pytest

from lauschen.acts.config.changes import add_access_device
from lauschen.acts.page.trying import try_offer
from lauschen.acts.page.visiting import open_by_token
from lauschen.core.actor import GUEST
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.ids import AccessDeviceId
from lauschen.core.ways.offers.code import Code as Typed
from lauschen.core.words.tokens import PortalToken
from lauschen.demo.site import SECRET as SECRET_OCTETS
from lauschen.demo.site import SSID
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret
from lauschen.road.clock import Clock
from lauschen.road.tx import Tx
from lauschen.serve.listening import each_host
from lauschen.serve.service import Options, Service
from tests.place import GARDEN, PHONE, Place
from tests.radius.packets import Wire

SECRET = Secret(SECRET_OCTETS)
WHO = (
    a.text(Kind.CALLING_STATION_ID, f"{PHONE:012X}")
    + a.text(Kind.CALLED_STATION_ID, f"02-77-00-00-00-11:{SSID}")
    + a.text(Kind.ACCT_SESSION_ID, "S1")
    + a.address6(Kind.NAS_IPV6_ADDRESS, "2001:db8::11")
)
CALL_CHECK = a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
AGAIN = a.integer(Kind.SERVICE_TYPE, ServiceType.AUTHORIZE_ONLY)
ASKS = WHO + CALL_CHECK
STARTS = WHO + a.integer(Kind.ACCT_STATUS_TYPE, StatusType.START)


@pytest.fixture
def code(data: Path) -> str:
    """A voucher, issued before anything listens."""
    place = Place(data)
    place.now = time.time()
    (made,) = place.issue()
    place.close()
    return made


@pytest.fixture
async def service(data: Path, code: str) -> AsyncIterator[Service]:
    options = Options(data, ("*", 0), ("*", 0), "*", 0, 0, portal_tls=("*", 0))
    made = Service(options, Clock())
    await made.start()
    yield made
    await made.close()


@pytest.fixture
async def wire(service: Service) -> AsyncIterator[Wire]:
    """An access device with an IPv6 address, which serves the Garden."""
    made = Wire("::1")
    dialect = next(iter(service.road.config.dialects))
    new = AccessDevice(
        AccessDeviceId(0), "Six", "0:0::1", b"", dialect, coa_port=made.port, serves=frozenset({GARDEN})
    )
    secret = SECRET_OCTETS.decode()

    await service.road.act(lambda tx: (add_access_device(tx, new, secret), tx.reconfigure()))
    yield made
    made.close()


async def test_an_access_device_asks_reports_and_is_told_by_ipv6(
    code: str, service: Service, wire: Wire
) -> None:
    auth, acct = service.ports["auth"], service.ports["acct"]
    reply = parse(await wire.exchange(SECRET.access_request(1, os.urandom(16), ASKS), auth))
    assert reply.code == Code.ACCESS_ACCEPT
    assert (
        parse(await wire.exchange(SECRET.accounting_request(2, STARTS), acct)).code
        == Code.ACCOUNTING_RESPONSE
    )
    (named,) = service.reader.execute("SELECT nas_address FROM stay").fetchone()
    assert named == "2001:db8::11"
    await service.road.act(lambda tx: log_in(tx, code, service.clock.now()), by=GUEST)
    octets, source = await wire.hear_from()
    assert SECRET.is_change_request(parse(octets))
    wire.socket.sendto(SECRET.reply(Code.COA_ACK, parse(octets), b""), source)
    again = ASKS.replace(CALL_CHECK, AGAIN) + a.octets(Kind.STATE, parse(octets).first(Kind.STATE) or b"")
    reply = parse(await wire.exchange(SECRET.access_request(3, os.urandom(16), again), auth))
    assert reply.text(Kind.FILTER_ID) == "visitor"


def log_in(tx: Tx, code: str, now: float) -> None:
    """From two of the addresses that a browser has in its /64: they make one visit."""
    at = next(one.id for one in tx.config.access_devices.values() if one.name == "Six")
    token = PortalToken(PHONE, at, GARDEN, int(now) + 2400)
    visit, other = (open_by_token(tx, token, None, f"2001:db8:5::{last}") for last in (1, 2))
    assert visit == other
    assert try_offer(tx, visit, Typed(code.lower(), code), "2001:db8:5::1").reason == "admitted"


async def test_both_pages_answer_on_both(service: Service) -> None:
    async with httpx.AsyncClient() as http:
        for host in ("127.0.0.1", "[::1]"):
            staff = await http.get(f"http://{host}:{service.ports['staff']}/api/session")
            assert staff.status_code in (200, 401)
            guest = await http.get(f"http://{host}:{service.ports['portal']}/", follow_redirects=False)
            assert guest.status_code < 500


async def test_an_address_of_one_version_is_heard_by_that_one_alone() -> None:
    assert each_host("127.0.0.1") == ("127.0.0.1",)
    assert each_host("*") == ("0.0.0.0", "::")


def test_where_the_system_has_no_ipv6_everything_means_ipv4(monkeypatch: pytest.MonkeyPatch) -> None:
    real = socket.socket

    def without(family: int = socket.AF_INET, *more: int) -> socket.socket:
        if family == socket.AF_INET6:
            raise OSError("Address family not supported by protocol")
        return real(family, *more)

    monkeypatch.setattr(socket, "socket", without)
    assert each_host("*") == ("0.0.0.0",)
