"""Each write that changes what lists show is told, and no other."""

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.road.road import Road
from lauschen.road.touched import Change
from lauschen.road.tx import Tx
from lauschen.store.guests.touched import What
from tests.garden import Garden

HERE, DEVICE, ALLOWANCE, CREDENTIAL = What.STANDING, What.DEVICE, What.ALLOWANCE, What.CREDENTIAL
TOLD = [
    ("UPDATE standing SET role = 3", HERE),
    ("UPDATE standing SET since = since + 1", HERE),
    ("UPDATE wanted SET state = 'held'", HERE),
    ("UPDATE wanted SET until = 1", None),
    ("UPDATE standing SET reason = 'logged_out'", HERE),
    ("UPDATE standing SET state = 'held'", HERE),
    ("UPDATE standing SET access_device = 2", HERE),
    ("UPDATE standing SET framed_ip = '10.0.0.1'", HERE),
    ("UPDATE standing SET admission = NULL", HERE),
    ("UPDATE place SET next_at = 9e9", None),
    ("UPDATE place SET last_answer = 'timeout'", HERE),
    ("UPDATE place SET last_answer = 'timeout'", None),
    ("DELETE FROM place", HERE),
    ("UPDATE visit SET barred_until = 4e9", HERE),
    ("UPDATE stay SET octets_per_s = octets_per_s + 1", HERE),
    ("UPDATE stay SET day_octets = day_octets + 1", HERE),
    ("UPDATE stay SET ended = 1", HERE),
    ("UPDATE stay SET last_event = last_event + 1, octets_per_s = octets_per_s", None),
    ("UPDATE device SET typing_barred_until = 4e9", DEVICE),
    ("UPDATE device SET barred_by = 1", None),
    ("UPDATE allowance SET octets = octets + 1", ALLOWANCE),
    ("UPDATE credential SET paused_at = 1", CREDENTIAL),
    ("UPDATE message SET credential = 1", None),
    ("UPDATE standing SET last_heard = last_heard + 1, repeats = 7", None),
    ("DELETE FROM placement", None),
    ("DELETE FROM admission", HERE),
    ("DELETE FROM standing", HERE),
]  # fmt: skip


@pytest.fixture
async def road(garden: Garden, staff: httpx.AsyncClient) -> Road:
    """One device is inside by a code that was sent to somebody."""
    wish = {"plan": 1, "count": 1, "label": "Zora"}
    issued = (await staff.post("/api/batches", json=wish)).json()["issued"][0]
    await garden.let_in(garden.guests[0], issued["code"])
    await garden.until_state(garden.guests[0], State.INSIDE)
    return garden.road


async def told(road: Road, *statements: str) -> set[Change]:
    road.touched.take()
    await road.act(lambda tx: [tx.conn.execute(statement) for statement in statements])
    taken = road.touched.take()
    assert taken is not None
    return taken


async def test_what_lists_show_is_told_and_nothing_else(garden: Garden, road: Road) -> None:
    mac = garden.guests[0].phone.mac
    expected = {HERE: (mac, 1), DEVICE: (mac, None), ALLOWANCE: (1, None), CREDENTIAL: (1, None)}
    for statement, what in TOLD:
        changes = await told(road, statement)
        assert changes == ({(what, *expected[what])} if what else set()), statement


async def test_a_device_that_is_new_and_a_message_are_told(
    garden: Garden, road: Road, staff: httpx.AsyncClient
) -> None:
    copied = (
        "INSERT INTO standing (mac, network, state, since, access_device, spelled, last_heard)"
        " SELECT mac, 2, state, since, access_device, spelled, last_heard FROM standing"
    )
    assert await told(road, copied) == {(HERE, garden.guests[0].phone.mac, 2)}
    road.touched.take()
    sent = await staff.post(
        "/api/issued/1/send", json={"channel": "mail", "to": "zora@hollerau.example", "lang": "en"}
    )
    assert sent.status_code == 200, sent.text
    assert (CREDENTIAL, 1, None) in (road.touched.take() or ())


async def test_nothing_is_told_before_it_is_committed(garden: Garden, road: Road) -> None:
    road.touched.take()
    change = (HERE, garden.guests[0].phone.mac, 1)

    def act(tx: Tx) -> set[Change] | None:
        tx.conn.execute("UPDATE standing SET role = 4")
        return road.touched.take()

    assert await road.act(act) == set()
    assert road.touched.take() == {change}
