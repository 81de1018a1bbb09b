"""The room Paths over HTTP: what is changed is in force when it is answered, and what is wrong names its field."""

from typing import Any

import httpx
import pytest

from lauschen.core.decide.standing import State
from lauschen.radius.wire import attributes as a
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code, Kind, ServiceType
from lauschen.radius.wire.signing import Secret
from lauschen.store.config import settings
from tests.garden import Garden
from tests.radius.packets import Wire

NEW = "127.77.0.99"


def body(mac: str = "02-00-00-AA-BB-77", ssid: str = "Hollerau Garden") -> bytes:
    return (
        a.text(Kind.USER_NAME, "x")
        + a.octets(Kind.USER_PASSWORD, bytes(16))
        + a.integer(Kind.SERVICE_TYPE, ServiceType.CALL_CHECK)
        + a.text(Kind.CALLING_STATION_ID, mac)
        + a.text(Kind.CALLED_STATION_ID, f"02-77-00-00-00-13:{ssid}")
        + a.text(Kind.NAS_IDENTIFIER, "Garden west")
    )


async def networks(staff: httpx.AsyncClient) -> dict[str, Any]:
    answer = await staff.get("/api/networks")
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


async def note_unknown(garden: Garden, wire: Wire, secret: Secret, signed: bool = True) -> None:
    octets = secret.access_request(1, bytes(range(16)), body())
    if not signed:
        octets = bytes((1, 1)) + (len(octets) - 18).to_bytes(2, "big") + octets[4:20] + octets[38:]
    before = garden.demo.service.registry.drops[NEW, "unknown_source"]
    wire.send(octets, garden.demo.service.ports["auth"])
    while garden.demo.service.registry.drops[NEW, "unknown_source"] == before:
        await garden.clock.sleep(0.01)


async def test_the_room_shows_networks_devices_and_who_is_heard(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    await garden.point.join(garden.guests[0].phone)
    found = await networks(staff)
    network, ensemble, wired, cloister = found["networks"]
    assert [way["way"] for way in cloister["ways"]] == ["passphrase"]
    assert wired["recognised"] == "it is about wired ports"
    assert network["recognised"] == "the SSID is Hollerau Garden"
    common = {"is_off": False, "labels": {}, "remember_minutes": None, "hours": None}
    assert network["ways"] == [{"way": "voucher", **common}]
    assert ensemble["ways"] == [
        {"way": "guest_pass", **common},
        {"way": "account", **common},
        {
            "way": "click_through",
            **common,
            "plan": 3,
            "again_after_hours": 24,
            "asks_when_changed": True,
            "asks_name": False,
            "asks_mail": False,
            "shows_whole": False,
        },
        ensemble["ways"][3],
        ensemble["ways"][4],
    ]
    assert (ensemble["ways"][4]["way"], ensemble["ways"][4]["naming"]) == ("sponsor", "list")
    registration = ensemble["ways"][3]
    assert (registration["way"], registration["plan"], registration["first_minutes"]) == (
        "self_registration",
        1,
        15,
    )
    assert [one["key"] for one in registration["fields"]] == ["name", "mail", "phone", "visiting", "own_1"]
    said = {stage["name"]: stage["lines"] for stage in network["stages"]}
    assert said["Is placed"] == ["rule 1, voucher: Visitor (VLAN 310, filter visitor)"]
    assert said["Arrives"] == ["the SSID is Hollerau Garden", "served by Garden west and Concert barn"]
    assert network["heard_at"] == [1]
    west = next(d for d in found["devices"] if d["name"] == "Garden west")
    assert (west["requests"], west["reports"]) == (1, 1)
    assert west["signing_words"] == "signed"
    assert found["words"]["portal_url"]


async def test_an_unknown_device_is_added_with_the_right_secret(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wire, secret = Wire(NEW), Secret(b"the-secret-of-the-shed")
    await note_unknown(garden, wire, secret)
    (seen,) = (await networks(staff))["unknown_access_devices"]
    assert (seen["address"], seen["ssid"], seen["kind"]) == (NEW, "Hollerau Garden", "Access-Request")
    assert seen["says_it_is"] == "Garden west"  # a device at another address than it registered is unknown
    for typed, verdict in (("the-secret-of-the-shed", "fits"), ("another-secret", "differs")):
        tried = await staff.post(f"/api/unknown-access-devices/{NEW}/try-secret", json={"secret": typed})
        assert tried.json() == {"verdict": verdict}
    device = {"name": "Shed", "address": NEW, "dialect": 1, "serves": [1]}
    wrong = await staff.post(
        f"/api/unknown-access-devices/{NEW}/add", json={**device, "secret": "another-secret"}
    )
    assert (wrong.status_code, wrong.json()["field"]) == (422, "secret")
    right = await staff.post(
        f"/api/unknown-access-devices/{NEW}/add", json={**device, "secret": "the-secret-of-the-shed"}
    )
    assert right.status_code == 201, right.text
    answered = await wire.exchange(
        secret.access_request(2, bytes(16), body()), garden.demo.service.ports["auth"]
    )
    assert parse(answered).code == Code.ACCESS_ACCEPT
    assert (await networks(staff))["unknown_access_devices"] == []
    wire.close()


async def test_a_secret_cannot_be_tried_on_an_unsigned_packet(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wire = Wire(NEW)
    await note_unknown(garden, wire, Secret(b"whatever-it-is"), signed=False)
    tried = await staff.post(
        f"/api/unknown-access-devices/{NEW}/try-secret", json={"secret": "whatever-it-is"}
    )
    assert tried.json() == {"verdict": "unsigned"}
    wire.close()


async def test_a_change_of_secret_hears_both_until_the_old_one_is_forgotten(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    garden.point.radio.changes_heard.clear()
    made = await staff.post("/api/access-devices/1/secret", json={})
    new = made.json()["secret"]
    assert len(new) >= 24
    assert await garden.point.join(garden.guests[0].phone)  # the device still has the old one
    west = (await networks(staff))["devices"][0]
    assert west["secret_words"] == "the old one is still in use"
    second = await staff.post("/api/access-devices/1/secret", json={})
    assert second.json()["code"] == "change_over"
    # A change goes out under the secret that the device uses.
    await garden.let_in(garden.guests[1], (await garden.demo.issue("Day visit", 1))[0])
    garden.point.radio._secret = Secret(new.encode())
    assert await garden.point.join(garden.guests[2].phone)
    assert (await networks(staff))["devices"][0]["secret_words"].startswith("the new one is in use")
    await staff.post("/api/access-devices/1/forget-old-secret")
    assert (await networks(staff))["devices"][0]["secret_words"] == "one secret"
    assert new not in (await staff.get("/api/networks")).text


async def test_old_firmware_is_heard_until_its_first_signed_packet(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wire, port = Wire("127.77.0.12"), garden.demo.service.ports["auth"]
    secret = Secret(b"hollerau-stand-in-secret")
    unsigned = bytes((1, 9)) + (20 + len(body())).to_bytes(2, "big") + bytes(range(16)) + body()
    device = {"name": "Concert barn", "address": "127.77.0.12", "dialect": 1, "coa_port": 3799, "serves": [1]}
    allowed = await staff.put("/api/access-devices/2", json={**device, "hears_unsigned": True})
    assert "CVE-2024-3596" in allowed.json()["risk"]
    assert parse(await wire.exchange(unsigned, port)).code == Code.ACCESS_ACCEPT
    proxied = unsigned + a.octets(Kind.PROXY_STATE, b"x")
    proxied = bytes((1, 10)) + len(proxied).to_bytes(2, "big") + proxied[4:]
    wire.send(proxied, port)
    signed = secret.access_request(11, bytes(16), body())
    assert parse(await wire.exchange(signed, port)).id == 11  # and no answer came to the one before
    barn = (await networks(staff))["devices"][1]
    assert (barn["hears_unsigned"], barn["risk"]) == (False, None)
    wire.send(bytes((1, 12)) + unsigned[2:], port)
    assert parse(await wire.exchange(secret.access_request(13, bytes(16), body()), port)).id == 13
    barn = (await networks(staff))["devices"][1]
    assert {drop["reason"]: drop["count"] for drop in barn["drops"]} == {"unsigned": 2}
    assert barn["drops"][0]["mend"].startswith("Turn signing on")
    in_a_range = await staff.put(
        "/api/access-devices/2", json={**device, "address": "127.77.4.0/24", "hears_unsigned": True}
    )
    assert in_a_range.json()["field"] == "hears_unsigned"
    wire.close()


async def test_a_range_is_one_device_at_many_addresses(garden: Garden, staff: httpx.AsyncClient) -> None:
    device = {
        "name": "Meadow",
        "address": "127.77.5.0/24",
        "dialect": 1,
        "secret": "meadow-secret-16",
        "serves": [1],
    }
    assert (await staff.post("/api/access-devices", json=device)).status_code == 201
    for address in ("127.77.5.1", "127.77.5.200"):
        wire = Wire(address)
        request = Secret(b"meadow-secret-16").access_request(1, bytes(16), body())
        answer = parse(await wire.exchange(request, garden.demo.service.ports["auth"]))
        assert answer.code == Code.ACCESS_ACCEPT
        wire.close()
    meadow = (await networks(staff))["devices"][6]
    assert [s["address"] for s in meadow["sources"]] == ["127.77.5.1", "127.77.5.200"]


async def test_the_last_packets_are_shown_in_words_without_their_secrets(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wire, port = Wire("127.77.0.11"), garden.demo.service.ports["auth"]
    await wire.exchange(Secret(b"hollerau-stand-in-secret").access_request(1, bytes(16), body()), port)
    wire.send(Secret(b"another").access_request(2, bytes(16), body()), port)
    await wire.exchange(Secret(b"hollerau-stand-in-secret").access_request(3, bytes(16), body()), port)
    newest, dropped, _ = (await staff.get("/api/access-devices/1/packets")).json()
    said = {line["name"]: line for line in newest["lines"]}
    assert said["Service-Type"]["words"] == "Call-Check (10)"
    assert (said["User-Password"]["words"], said["User-Password"]["octets"]) == ("not kept", "")
    assert newest["reply_kind"] == "Access-Accept"
    assert {line["name"] for line in newest["reply"]} >= {"Filter-Id", "Tunnel-Private-Group-ID"}
    assert dropped["outcome"] == "dropped: signed with another secret than ours"
    wire.close()


async def test_networks_roles_and_dialects_are_edited(garden: Garden, staff: httpx.AsyncClient) -> None:
    found = await networks(staff)
    network, dialect = found["networks"][0], found["dialects"][0]
    door = network["door_role"]
    wired = {
        "name": "Workshop ports", "door_role": door, "port_type": 15,
        "nas_identifier": {"match": "begins", "value": "switch-"},
    }  # fmt: skip
    made = await staff.post("/api/networks", json=wired)
    assert made.json()["recognised"] == "NAS-Identifier begins with switch- and it is about wired ports"
    nothing = await staff.post("/api/networks", json={"name": "All", "door_role": door})
    assert nothing.json()["field"] == "ssid"
    taken = await staff.post(
        "/api/networks",
        json={"name": "B", "door_role": door, "ssid": {"match": "exact", "value": "Hollerau Garden"}},
    )
    assert taken.json()["code"] == "network_ssid_taken"
    rules = ["permit in ip from any to 10.0.0.1"]
    role = {"name": "Visitor", "vlan": 310, "filter_name": None, "filter_rules": rules}
    assert (await staff.put("/api/roles/2", json=role)).json()["code"] == "filter_rules_open"
    rules.append("deny in ip from any to any")
    assert (await staff.put("/api/roles/2", json=role)).status_code == 200
    now = await networks(staff)
    assert "Visitor: its filter rules" in now["devices"][0]["ignores"]
    assert now["roles"][1]["ignored"][0] == "Garden controller ignores its filter rules"
    settings = {
        k: v
        for k, v in dialect.items()
        if k not in ("id", "sentence", "has_shared_password", "has_call_secret")
    }
    settings |= {"honours": ["vlan", "filter_rules", "session_timeout"], "shared_password": "house-word"}
    saved = await staff.put(f"/api/dialects/{dialect['id']}", json=settings)
    assert saved.json()["has_shared_password"]
    assert "house-word" not in saved.text
    assert (await networks(staff))["devices"][0]["ignores"] == [
        "Before login: its filter name", "Rehearsal door: its filter name", "Student: its filter name",
        "Practice door: its filter name", "Practice room: its filter name",
        "Cloister hall: its filter name",
        "Resident: its filter name",
    ]  # fmt: skip
    settings["attributes"] = [{"enterprise": 32473, "number": 1, "template": "{nonsense}"}]
    assert (await staff.put(f"/api/dialects/{dialect['id']}", json=settings)).json()["field"] == "attributes"
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse saved the network Workshop ports" in log


async def test_the_sheet_says_all_that_must_be_typed(garden: Garden, staff: httpx.AsyncClient) -> None:
    sheet = (await staff.get("/api/sheet/1/1")).json()
    rows = {row["label"]: row["value"] for part in sheet["parts"] for row in part["rows"]}
    ports = garden.demo.service.ports
    assert rows["Authentication server"] == "127.0.0.1"
    assert rows["Authentication port"] == str(ports["auth"])
    assert rows["SSID"] == "Hollerau Garden"
    assert rows["VLAN for Visitor"] == "310"
    assert rows["Filter for Before login"] == "doorstep"
    assert rows["Hear CoA and Disconnect"] == "on"
    opened = [r for part in sheet["parts"] if part["title"] == "Open before login" for r in part["rows"]]
    assert [r["value"] for r in opened if r["label"] == "Host"] == ["welcome.hollerau.example"]
    assert next(r for r in opened if r["value"] == "slip.hollerau.example")["note"].startswith("not open")
    assert rows["at port"] == str(garden.point.radio.coa_port)
    assert (await staff.get("/api/sheet/1/99")).status_code == 404
    assert "Captive Portal API" not in rows  # phones ask by HTTPS alone
    await garden.road.act(
        lambda tx: settings.set_addresses(
            tx.conn, page_url="https://welcome.hollerau.example", slip_host=None
        )
    )
    await garden.demo.service.reload()
    secure = (await staff.get("/api/sheet/1/1")).json()
    found = {row["label"]: row["value"] for part in secure["parts"] for row in part["rows"]}
    assert found["Captive Portal API"] == "https://welcome.hollerau.example/captive"


async def test_a_device_that_a_network_names_stays(garden: Garden, staff: httpx.AsyncClient) -> None:
    network = (await networks(staff))["networks"][0]
    settings = {
        k: network[k] for k in ("name", "door_role", "ssid", "nas_identifier", "port_id", "port_type")
    }
    await staff.put("/api/networks/1", json={**settings, "counted_at": 1})
    assert (await staff.delete("/api/access-devices/1")).json()["code"] == "access_device_in_use"
    await staff.put("/api/networks/1", json=settings)
    assert (await staff.delete("/api/access-devices/1")).status_code == 204
    assert len((await networks(staff))["devices"]) == 5


async def test_what_nothing_needs_any_more_is_removed(garden: Garden, staff: httpx.AsyncClient) -> None:
    role = {"name": "Patient", "vlan": 320, "is_door": True}
    made = (await staff.post("/api/roles", json=role)).json()
    assert made["sentence"] == "VLAN 320; no network or rule places devices in it"
    ssid = {"match": "exact", "value": "Hollerau Practice"}
    network = {"name": "Practice", "door_role": made["id"], "ssid": ssid}
    practice = (await staff.post("/api/networks", json=network)).json()
    refused = await staff.delete(f"/api/roles/{made['id']}")
    assert refused.json()["code"] == "role_in_use"
    assert "Practice" in refused.json()["detail"]
    assert (await staff.delete("/api/roles/2")).json()["code"] == "role_in_use"  # rule 1 names it
    assert (await staff.delete("/api/dialects/1")).json()["code"] == "dialect_in_use"
    spoken = (await staff.post("/api/dialects", json={"name": "Nobody's"})).json()["id"]
    assert (await staff.delete(f"/api/dialects/{spoken}")).status_code == 204
    for path in (f"networks/{practice['id']}", f"roles/{made['id']}"):
        assert (await staff.delete(f"/api/{path}")).status_code == 204
        assert (await staff.delete(f"/api/{path}")).status_code == 404
    now = await networks(staff)
    assert [n["name"] for n in now["networks"]] == ["Garden", "Ensemble", "Practice wall ports", "Cloister"]
    assert "Patient" not in [r["name"] for r in now["roles"]]
    again = (await staff.post("/api/roles", json=role)).json()
    assert again["id"] != made["id"], "the log names the one that was removed"


async def test_a_network_is_removed_once_nobody_is_inside(garden: Garden, staff: httpx.AsyncClient) -> None:
    guest = garden.guests[0]
    (code,) = await garden.demo.issue("Day visit", 1)
    await garden.let_in(guest, code)
    refused = await staff.delete("/api/networks/1")
    assert refused.json()["code"] == "network_in_use"
    assert refused.json()["detail"] == "One device is inside; end its stay first."
    assert (await staff.post(f"{garden.path(guest)}/end-stay")).status_code == 200
    phone = guest.phone
    await garden.point.until(lambda: phone.session is not None and phone.session.placement.is_door)
    await garden.point.leave(phone)
    await garden.until_state(guest, State.LEFT)
    assert (await staff.delete("/api/networks/1")).status_code == 204
    assert (await staff.get("/api/guests")).json()["rows"] == []
    streams = (await staff.get("/api/now")).json()["streams"]
    assert [stream["name"] for stream in streams] == ["Ensemble", "Practice wall ports", "Cloister"]
    assert not await garden.point.join(phone)  # it asks again; nobody knows its network
    log = [line["text"] for line in (await staff.get("/api/log")).json()]
    assert "gatehouse removed the network Garden" in log
    assert log[0].endswith("refused, no guest network has this SSID")


async def test_an_id_is_never_given_twice(garden: Garden, staff: httpx.AsyncClient) -> None:
    """Stays and decisions name access devices by their ids."""
    device = {
        "name": "Third",
        "address": "127.77.0.99",
        "dialect": 1,
        "secret": "a-long-secret",
        "serves": [],
    }
    first = (await staff.post("/api/access-devices", json=device)).json()["id"]
    assert (await staff.delete(f"/api/access-devices/{first}")).status_code == 204
    assert (await staff.post("/api/access-devices", json=device)).json()["id"] > first


@pytest.mark.parametrize(
    ("ahead", "words"),
    [
        (0, "agrees with ours"),
        (-190, "3 min behind ours; nothing depends on it"),
        (7300, "2 h 1 min ahead of ours"),
    ],
)
async def test_a_clock_that_is_wrong_is_shown(
    garden: Garden, staff: httpx.AsyncClient, ahead: int, words: str
) -> None:
    ports, secret, wire = garden.demo.service.ports, Secret(b"hollerau-stand-in-secret"), Wire()
    stamp = (int(garden.clock.now()) + ahead - 40).to_bytes(4, "big")
    report = a.integer(Kind.ACCT_STATUS_TYPE, 1) + body() + a.octets(Kind.EVENT_TIMESTAMP, stamp)
    await wire.exchange(
        secret.accounting_request(1, report + a.integer(Kind.ACCT_DELAY_TIME, 40)), ports["acct"]
    )
    assert str((await networks(staff))["devices"][0]["clock_words"]).startswith(words)
    assert (await networks(staff))["devices"][1]["clock_words"] is None
    wire.close()


async def test_a_role_says_that_it_takes_everybody_else_and_stays(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    made = (await staff.post("/api/roles", json={"name": "Elsewhere", "vlan": 330})).json()
    last = {"rules": [], "last_role": made["id"]}
    assert (await staff.put("/api/rules", json=last)).status_code == 200
    (role,) = [one for one in (await networks(staff))["roles"] if one["id"] == made["id"]]
    assert role["sentence"] == "VLAN 330; everybody whom no rule places"
    refused = await staff.delete(f"/api/roles/{made['id']}")
    assert (refused.status_code, refused.json()["code"]) == (422, "role_in_use")
