"""What the load consists of: distinct, signed requests of devices that exist, and a database that knows some."""

import os
import random
from collections.abc import Callable
from pathlib import Path

from lauschen.acts.arriving.admitting import begin_admission
from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk.issuing import begin_batch, draw_vouchers, finish_batch
from lauschen.acts.moving.moves import let_in
from lauschen.acts.staying.reports import Event, Report, take_report
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.grant import Grant
from lauschen.core.ids import AccessDeviceId, DialectId, Mac, NetworkId, PlanId
from lauschen.core.limits.left import left
from lauschen.demo.site import SECRET as SECRET_OCTETS
from lauschen.demo.site import SSID, make_site
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.numbers import Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import Secret
from lauschen.road.chance import SystemChance
from lauschen.road.memory import Memory
from lauschen.road.tx import Tx
from lauschen.serve.first_run import open_data
from lauschen.store import allowances, credentials, devices, log
from lauschen.store.batches import Said
from lauschen.store.config import access_devices
from lauschen.store.config.settings import load_config
from lauschen.store.db import atomic

SECRET = Secret(SECRET_OCTETS)
ADDRESS = "127.77.0.11"
CALLED = f"02-77-00-00-00-11:{SSID}"
INSIDE, AT_DOOR = 2000, 3000
CODES: list[str] = []
"""Of the guests inside, in their order; filled by `make_data`."""
MORE = tuple(f"127.77.2.{number}" for number in range(1, 9))
"""Further access devices, for loads that come from several."""
GARDEN, WEST = NetworkId(1), AccessDeviceId(1)
GUEST = Mac(0x021000000000)
"""One of those inside."""


def make_data(data: Path, now: float) -> None:
    """A site with two thousand guests inside, each with a voucher and an open stay."""
    make_site(data, {"Garden west": 3799, "Concert barn": 3799})
    conn, keys = open_data(data)
    for number, address in enumerate(MORE, 1):
        access_devices.add_access_device(
            conn,
            keys,
            f"Bench {number}",
            address=address,
            secret=SECRET_OCTETS,
            dialect=DialectId(1),
            serves=[GARDEN],
        )
    house = load_config(conn, keys)
    chance = SystemChance()
    for start in range(0, INSIDE, 200):
        tx = Tx(
            conn,
            config=house,
            keys=keys,
            now=now,
            chance=chance,
            next_log_id=log.last_log_id(conn) + 1,
            memory=Memory(),
        )
        with atomic(conn):
            batch = begin_batch(tx, plan=PlanId(1), size=200, said=Said("bench"))
            draw_vouchers(tx, batch=batch, plan=PlanId(1), count=200)
            finish_batch(tx, batch=batch, plan=PlanId(1), size=200)
            found = list(credentials.all_issued_of(conn, keys, batch))
            vouchers = [v.grant for v in found]
            CODES.extend(v.code for v in found)
            for number, voucher in enumerate(vouchers, start):
                _enter(tx, number, voucher)
            tx.flush()
    conn.close()


def spread_requests(count: int, chance: random.Random) -> dict[str, list[bytes]]:
    """MAC requests from several access devices, each asking for guests of its own."""
    return {
        address: access_requests(count // len(MORE), chance, first=number, step=len(MORE))
        for number, address in enumerate(MORE)
    }


def first_requests(count: int) -> list[bytes]:
    """MAC requests of so many devices at the door, each once."""
    return [
        SECRET.access_request(number & 0xFF, os.urandom(16), _asking(INSIDE + number))
        for number in range(count)
    ]


def access_requests(count: int, chance: random.Random, first: int = 0, step: int = 1) -> list[bytes]:
    """MAC requests: of devices inside, of devices at the door, each packet another one."""
    packets = []
    for number in range(count):
        device = chance.randrange(first, INSIDE + AT_DOOR, step)
        packets.append(SECRET.access_request(number & 0xFF, os.urandom(16), _asking(device)))
    return packets


def voucher_requests(count: int, chance: random.Random) -> Callable[[], list[bytes]]:
    """PAP requests of persons inside, each with the code of a voucher that its device is in by."""
    codes = CODES.copy()

    def make() -> list[bytes]:
        packets = []
        for number in range(count):
            device = chance.randrange(INSIDE)
            authenticator = os.urandom(16)
            body = a.text(Kind.USER_NAME, "guest") + _identity(device)[14:]
            body += a.octets(Kind.USER_PASSWORD, SECRET.hide(codes[device].encode(), authenticator))
            packets.append(SECRET.access_request(number & 0xFF, authenticator, body))
        return packets

    return make


def interim_updates(count: int, rounds_before: int) -> list[bytes]:
    """Interim updates of the guests inside, with counters that grow from round to round."""
    packets = []
    for number in range(count):
        device, step = number % INSIDE, rounds_before + number // INSIDE + 1
        body = b"".join(
            (
                a.integer(Kind.ACCT_STATUS_TYPE, StatusType.INTERIM_UPDATE),
                _identity(device),
                a.text(Kind.NAS_IDENTIFIER, "west"),
                a.integer(Kind.ACCT_SESSION_TIME, step * 60),
                a.integer(Kind.ACCT_INPUT_OCTETS, step * 100),
                a.integer(Kind.ACCT_OUTPUT_OCTETS, step * 900),
                a.integer(Kind.ACCT_INPUT_GIGAWORDS, 0),
                a.integer(Kind.ACCT_OUTPUT_GIGAWORDS, 0),
            )
        )
        packets.append(SECRET.accounting_request(number & 0xFF, body))
    return packets


def _asking(device: int) -> bytes:
    return _identity(device) + a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)


def _identity(device: int) -> bytes:
    mac = f"{_mac(device):012X}"
    return b"".join(
        (
            a.text(Kind.USER_NAME, mac.lower()),
            a.text(Kind.CALLED_STATION_ID, CALLED),
            a.text(Kind.CALLING_STATION_ID, "-".join(mac[i : i + 2] for i in range(0, 12, 2))),
            a.integer(Kind.NAS_PORT_TYPE, 19),
            a.text(Kind.ACCT_SESSION_ID, f"S{device:07d}"),
        )
    )


def _mac(device: int) -> Mac:
    return Mac(GUEST + device)


def _enter(tx: Tx, device: int, grant: Grant) -> None:
    mac, session = _mac(device), f"S{device:07d}"
    arrival = Arrival(Medium.ASKED, mac, WEST, ssid=SSID.encode(), spelled="x", session_id=session)
    answer_arrival(tx, arrival)
    take_report(tx, Report(Event.START, WEST, "west", 0, mac, SSID.encode(), session))
    assert grant.credential is not None
    grant.allowance = allowances.begin_allowance(tx.conn, grant.credential, None)
    allowances.start_use(tx.conn, grant.allowance, tx.now)
    admission = begin_admission(tx, mac, GARDEN, grant).id
    standing = devices.find_standing(tx.conn, mac, GARDEN)
    assert standing is not None
    let_in(tx, standing, admission, left(tx.config.plans[grant.plan], grant.use, tx.now).until, 0.0)
    answer_arrival(tx, arrival)
