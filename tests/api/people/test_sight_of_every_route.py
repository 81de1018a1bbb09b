"""The second axis of the table of routes: what is another network's, or was issued by somebody else, is not there.

Each route that somebody of the desk may use is asked for everything that is not theirs; none may show a name, a code
or an address of it. The same requests by whom it does belong to find it, so that this can fail.
"""

import re
from dataclasses import dataclass, field

import httpx
import pytest

from lauschen.acts.page.trying import try_offer
from lauschen.acts.page.visiting import open_by_token
from lauschen.core.actor import GUEST
from lauschen.core.ids import AccessDeviceId, CredentialId, Mac, NetworkId
from lauschen.core.messages.message import About, Channel, Draft, Kind
from lauschen.core.people.duties import Need
from lauschen.core.ways.offers.code import Code
from lauschen.core.words.mac import read_mac
from lauschen.core.words.tokens import PortalToken
from lauschen.road.tx import Tx
from lauschen.store.hosts import vouchings
from lauschen.store.messages import outbox
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_limits import bound
from tests.api.people.test_permissions import ROWS
from tests.api.people.test_sight import CLOISTER, DAY_VISIT, ENSEMBLE, GARDEN, GUESTS, SEASON, asks

__all__ = ["house"]
NAME, RESIDENT, HOST, ASKED = "Zoltan Quist", "Xenia Quist", "Yorick Quill", "Wendel Quast"
PHRASE = "quagga-quilt-quay-7"
ONE_EACH = {Need.LOOK, Need.ISSUE, Need.HELP}
BODIES: dict[str, object] = {
    "give-time": {"seconds": 3600},
    "send": {"channel": "mail", "to": "ines@students.hollerau.example"},
    "password": {"password": None},
    "answer": {"length": None, "word": ""},
    "renew": {"overlap_minutes": 0},
    "undo": {"key": 1, "before": []},
}
"""By the last word of a path."""
NOT_ISSUED = ("{host}", "{vouching}")
"""What nobody issues: it belongs to its network alone."""


@dataclass
class Others:
    """What the administrator made on a network where nobody else was asked."""

    chief: httpx.AsyncClient
    ids: dict[str, str] = field(default_factory=dict)
    words: set[str] = field(default_factory=set)
    """By which it would be noticed."""

    def address(self, path: str) -> str:
        return "/api" + re.sub(r"\{(\w+)\}", lambda found: self.ids[found[1]], path)


@pytest.fixture
async def others(house: House) -> Others:
    made = Others(await house.signed_in())
    wish = {"plan": DAY_VISIT, "label": NAME, "network": ENSEMBLE}
    batch = (await made.chief.post("/api/passes", json=wish)).json()
    (issued,) = batch["issued"]
    wish = {"plan": SEASON, "label": RESIDENT, "network": CLOISTER, "passphrase": PHRASE}
    resident = await made.chief.post("/api/passphrases", json=wish)
    assert resident.status_code == 201, resident.text
    host = {"name": HOST, "mail": "yorick.quill@hollerau.example", "networks": [ENSEMBLE]}
    job = (await made.chief.post(f"/api/batches/{batch['id']}/slips")).json()
    house.service._radius[0]._take(asks(ENSEMBLE), ("127.77.0.13", 4000))
    mac = read_mac(GUESTS[ENSEMBLE])
    assert mac is not None

    def rest(tx: Tx) -> dict[str, str]:
        token = PortalToken(mac, AccessDeviceId(3), NetworkId(ENSEMBLE), int(tx.now) + 2400)
        visit, code = open_by_token(tx, token, None, "10.0.0.9"), issued["code"].replace("-", "")
        assert try_offer(tx, visit, Code(code.lower(), code), "10.0.0.9").reason == "admitted"
        vouching = vouchings.add_vouching(
            tx.conn, tx.keys, network=NetworkId(ENSEMBLE), mac=Mac(1), source="10.0.0.9", visit=bytes(32), lang="en",
            answers={"name": ASKED}, named=HOST, now=tx.now,
        )  # fmt: skip
        about = About(CredentialId(issued["id"]), None, NetworkId(ENSEMBLE))
        draft = Draft(
            Channel.MAIL, Kind.PASS, "en", "z.quist@students.hollerau.example", {"name": NAME}, about
        )
        message = outbox.add_message(tx.conn, tx.keys, draft, mark="mark", now=tx.now)
        return {"vouching": str(vouching), "message": str(message)}

    made.ids = {
        **await house.service.road.act(rest, by=GUEST),
        "batch": str(batch["id"]),
        "issued": str(issued["id"]),
        "mac": GUESTS[ENSEMBLE],
        "network": str(ENSEMBLE),
        "holder": str(resident.json()["id"]),
        "host": str((await made.chief.post("/api/hosts", json=host)).json()["id"]),
        "job": str(job["id"]),
    }
    made.words = {NAME, RESIDENT, HOST, ASKED, PHRASE, issued["code"], GUESTS[ENSEMBLE], "..:bb:02"}
    return made


def of_the_desk(*, with_ids: bool) -> list[tuple[str, str]]:
    rows = [(method, path) for need, method, path in ROWS if need in ONE_EACH]
    return [row for row in rows if ("{" in row[1]) is with_ids]


async def seen_by(web: httpx.AsyncClient, others: Others, method: str, path: str) -> tuple[int, str]:
    """A live view is left after its first picture."""
    last = path.rsplit("/", 1)[-1]
    body = BODIES.get(last, {"host": int(others.ids["host"])} if last == "ask" else None)
    asked = {"name": NAME[:6]} if path == "/desk/known" else {"network": CLOISTER, "kind": "person"}
    query = asked if path in ("/desk/known", "/passphrases/of") else None
    async with web.stream(method, others.address(path), json=body, params=query) as answer:
        if path == "/feed" and answer.status_code == 200:
            async for line in answer.aiter_lines():
                if line.startswith("data:"):
                    return answer.status_code, line
        octets = await answer.aread()
        return answer.status_code, octets.decode(errors="replace")


LIMITS = pytest.mark.parametrize(
    "limits", [{"networks": [GARDEN]}, {"own_only": True}], ids=["network", "own"]
)


@LIMITS
async def test_no_route_leads_to_what_is_not_theirs(
    house: House, others: Others, limits: dict[str, object]
) -> None:
    web = await bound(house, **limits)
    for method, path in of_the_desk(with_ids=True):
        if "own_only" in limits and any(one in path for one in NOT_ISSUED):
            continue
        status, text = await seen_by(web, others, method, path)
        assert status == 404, (method, path, text)
        assert not [word for word in others.words if word in text], (method, path)
    batch = (await others.chief.get(f"/api/batches/{others.ids['batch']}")).json()
    assert batch["issued"][0]["state"] == "running"


@LIMITS
async def test_no_list_holds_what_is_not_theirs(
    house: House, others: Others, limits: dict[str, object]
) -> None:
    web, hidden = await bound(house, **limits), others.words
    if "own_only" in limits:
        hidden = hidden - {HOST, ASKED}
    for method, path in of_the_desk(with_ids=False):
        if method == "GET" and path != "/openapi.json":
            status, text = await seen_by(web, others, method, path)
            assert status == (404 if path == "/passphrases/of" and "networks" in limits else 200), (
                path,
                text,
            )
            assert not [word for word in hidden if word in text], path
    for find in ("Quist", GUESTS[ENSEMBLE], "10.0.0.9"):
        shown = (await web.get("/api/guests", params={"find": find})).json()
        assert (shown["rows"], shown["total"]) == ([], 0)
    counts = (await web.get("/api/guests")).json()["counts"]
    assert set(counts.values()) == {0}
    for path, wish, what in (
        ("/api/issued/acts", {"what": "withdraw", "issued": [int(others.ids["issued"])]}, "done"),
        (
            "/api/guests/acts",
            {"what": "bar", "guests": [], "all_of": {"state": "at_door", "network": None}},
            "done",
        ),
        (
            "/api/guests/acts",
            {"what": "bar", "guests": [{"mac": GUESTS[ENSEMBLE], "network": ENSEMBLE}], "all_of": None},
            "done",
        ),
    ):
        acted = await web.post(path, json=wish)
        assert acted.json()[what] == [], acted.text


async def test_who_may_see_them_finds_them_by_the_same_requests(house: House, others: Others) -> None:
    found = set[str]()
    web = await bound(house, networks=[ENSEMBLE, CLOISTER])
    for method, path in of_the_desk(with_ids=False):
        if method == "GET":
            _, text = await seen_by(web, others, method, path)
            found |= {word for word in others.words if word in text}
    assert others.words - found <= {PHRASE, "..:bb:02", GUESTS[ENSEMBLE]} - found
    for method, path in of_the_desk(with_ids=True):
        if method == "GET" and "{job}" not in path:
            status, _ = await seen_by(web, others, method, path)
            assert status == 200, path
