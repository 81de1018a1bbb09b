"""The staff API: signed in or not, problems that name the field, and what Desk and Guests do."""

import asyncio
import re
from collections.abc import AsyncIterator
from pathlib import Path

import httpx
import pytest

from lauschen.acts.staying.reports import Event
from lauschen.demo import site
from lauschen.road.clock import MovableClock
from lauschen.serve.service import Options, Service
from lauschen.store.people import staff
from tests.place import Place

SIGN_IN = {"name": site.STAFF_NAME, "password": site.STAFF_PASSWORD}


class Desk:
    """A running service and somebody's browser."""

    def __init__(self, service: Service) -> None:
        self.service = service
        self.is_closed = False
        base = f"http://127.0.0.1:{service.ports['staff']}"
        self.http = httpx.AsyncClient(base_url=base, timeout=30)

    async def sign_in(self) -> None:
        answer = await self.http.post("/api/session", json=SIGN_IN)
        self.http.headers["X-Lauschen-Form"] = answer.json()["csrf"]

    async def issue(self, count: int = 1) -> dict[str, object]:
        answer = await self.http.post("/api/batches", json={"plan": 1, "count": count, "label": "Choir"})
        assert answer.status_code == 201, answer.text
        batch: dict[str, object] = answer.json()
        return batch


@pytest.fixture
async def desk(data: Path) -> AsyncIterator[Desk]:
    inside = Place(data)
    inside.let_in(inside.issue()[0])
    inside.now += 60
    inside.report(Event.INTERIM, session_time=60, octets_in=1_000_000, octets_out=4_000_000)
    inside.close()
    # The sweep would otherwise end, two seconds from now, a stay that is months old.
    clock = MovableClock(inside.now)
    service = Service(Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0), clock)
    await service.start()
    made = Desk(service)
    yield made
    await made.http.aclose()
    if not made.is_closed:
        await service.close()


@pytest.mark.parametrize(
    "path", ["/api/now", "/api/desk", "/api/guests", "/api/log", "/api/session", "/api/feed"]
)
async def test_nothing_is_said_to_who_is_not_signed_in(desk: Desk, path: str) -> None:
    answer = await desk.http.get(path)
    assert answer.status_code == 401
    assert answer.headers["content-type"] == "application/problem+json"


async def test_signing_in_and_out(desk: Desk) -> None:
    wrong = await desk.http.post("/api/session", json={**SIGN_IN, "password": "no"})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "password")
    nobody = await desk.http.post("/api/session", json={"name": "nobody", "password": "no"})
    assert nobody.json() == wrong.json()
    answer = await desk.http.post("/api/session", json=SIGN_IN)
    cookie = answer.headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie
    assert answer.json()["zone"] == "Europe/Vienna"
    desk.http.headers["X-Lauschen-Form"] = answer.json()["csrf"]
    assert (await desk.http.get("/api/session")).json()["name"] == site.STAFF_NAME
    assert (await desk.http.delete("/api/session")).status_code == 204
    assert (await desk.http.get("/api/session")).status_code == 401


async def test_guessing_passwords_is_stopped(desk: Desk) -> None:
    for _ in range(8):
        await desk.http.post("/api/session", json={**SIGN_IN, "password": "no"})
    assert (await desk.http.post("/api/session", json=SIGN_IN)).status_code == 503
    desk.service.clock.advance(601)  # type: ignore[attr-defined]
    assert (await desk.http.post("/api/session", json=SIGN_IN)).status_code == 200


async def test_a_change_needs_the_form_value_and_a_known_host(desk: Desk) -> None:
    await desk.sign_in()
    for value in ("", "wrong", "ä".encode().decode("latin-1")):
        answer = await desk.http.post(
            "/api/batches",
            json={"plan": 1, "count": 1},
            headers={"X-Lauschen-Form": value.encode("latin-1")},  # type: ignore[dict-item]
        )
        assert (answer.status_code, answer.json()["code"]) == (403, "not_from_here")
    assert (await desk.http.get("/api/now", headers={"Host": "evil.example"})).status_code == 421


@pytest.mark.parametrize(
    "path",
    [
        "/assets/../index.html",
        "/assets/%2e%2e/app.py",
        "/assets/..%2f..%2fapp.py",
        "/%2e%2e/%2e%2e/etc/passwd",
        "/assets//etc/passwd",
    ],
)
async def test_the_console_serves_nothing_but_itself(desk: Desk, path: str) -> None:
    reader, writer = await asyncio.open_connection("127.0.0.1", desk.service.ports["staff"])
    host = f"127.0.0.1:{desk.service.ports['staff']}"
    writer.write(f"GET {path} HTTP/1.1\r\nHost: {host}\r\nConnection: close\r\n\r\n".encode())
    said = await asyncio.wait_for(reader.read(), 30)
    writer.close()
    assert said.startswith(b"HTTP/1.1 404") or b"<title>Lauschen" in said, said[:300]
    assert b"root:" not in said
    assert b"import" not in said.partition(b"\r\n\r\n")[2] or b"<html" in said


async def test_a_first_password_must_be_changed_and_is_good_for_a_day(desk: Desk) -> None:
    hashed = await desk.service._office.passwords.hash("first-password")
    until = desk.service.clock.now() + 86_400
    await desk.service.road.act(lambda tx: staff.put_first_password(tx.conn, "admin", hashed, until=until))
    answer = await desk.http.post("/api/session", json={"name": "admin", "password": "first-password"})
    assert answer.json()["must_change"] is True
    desk.http.headers["X-Lauschen-Form"] = answer.json()["csrf"]
    assert (await desk.http.get("/api/now")).json()["code"] == "password_must_change"
    for body, field in (
        ({"old": "wrong-password", "new": "another-password"}, "old"),
        ({"old": "first-password", "new": "first-password"}, "new"),
        ({"old": "first-password", "new": "short"}, "new"),
    ):
        assert (await desk.http.post("/api/password", json=body)).json()["field"] == field
    changed = await desk.http.post("/api/password", json={"old": "first-password", "new": "another-password"})
    assert changed.json()["must_change"] is False
    assert (await desk.http.get("/api/now")).status_code == 200

    await desk.service.road.act(lambda tx: staff.put_first_password(tx.conn, "late", hashed, until=until))
    desk.service.clock.advance(86_401)  # type: ignore[attr-defined]
    late = await desk.http.post("/api/session", json={"name": "late", "password": "first-password"})
    assert late.json()["code"] == "password_too_old"


@pytest.mark.parametrize(
    ("path", "body", "status", "field"),
    [
        ("/api/batches", {"plan": 99, "count": 1}, 422, "plan"),
        ("/api/batches", {"plan": 1, "count": 0}, 422, "count"),
        ("/api/batches", {"plan": 1, "count": 100_001}, 422, "count"),
        ("/api/batches", {"plan": 1, "count": 1, "colour": "red"}, 422, "colour"),
        ("/api/batches", {"count": 1}, 422, "plan"),
        ("/api/issued/999/withdraw", None, 404, "voucher"),
        ("/api/issued/1/give-time", {"seconds": 1}, 422, "seconds"),
        ("/api/guests/nonsense/1/bar", None, 404, "device"),
        ("/api/guests/02-00-00-00-00-99/1/bar", None, 404, "device"),
        ("/api/guests/02-00-00-AA-BB-01/9/end-stay", None, 404, "device"),
        ("/api/guests/02-00-00-AA-BB-01/1/send-again", None, 404, "change"),
    ],
)
async def test_problems_name_the_field(desk: Desk, path: str, body: object, status: int, field: str) -> None:
    await desk.sign_in()
    answer = await desk.http.post(path, json=body)
    assert answer.headers["content-type"] == "application/problem+json"
    assert (answer.status_code, answer.json()["status"], answer.json()["field"]) == (status, status, field)
    assert answer.json()["detail"]


async def test_ten_vouchers_are_shown_and_printed_in_the_worker_process(desk: Desk) -> None:
    import io
    import os

    from pypdf import PdfReader

    await desk.sign_in()
    batch = await desk.issue(10)
    codes = [v["code"] for v in batch["issued"]]  # type: ignore[attr-defined]
    assert len(set(codes)) == 10
    answer = await desk.http.get(f"/api/batches/{batch['id']}/slips.pdf")
    assert answer.headers["content-type"] == "application/pdf"
    (sheet,) = PdfReader(io.BytesIO(answer.content)).pages
    assert (round(sheet.mediabox.width), round(sheet.mediabox.height)) == (595, 842)
    text = sheet.extract_text()
    assert all(code in text for code in codes)
    assert text.count("8 h from first use · one device · 2 GB") == 10
    assert await desk.service.worker.run(os.getpid) != os.getpid()
    qr = await desk.http.get(f"/api/issued/{batch['issued'][0]['id']}/qr.svg")  # type: ignore[index]
    assert qr.text.startswith("<?xml")


async def test_desk_shows_what_was_issued(desk: Desk) -> None:
    await desk.sign_in()
    await desk.issue(3)
    shown = (await desk.http.get("/api/desk")).json()
    assert shown["batches"][0]["label"] == "Choir"
    assert shown["batches"][0]["issued_by"] == site.STAFF_NAME
    assert (shown["batches"][0]["size"], shown["batches"][0]["used"]) == (3, 0)
    batch = (await desk.http.get(f"/api/batches/{shown['batches'][0]['id']}")).json()
    assert [v["state"] for v in batch["issued"]] == ["fresh"] * 3
    assert shown["plans"][0]["sentence"].startswith("Up to 2 GB in all")


async def test_a_large_batch_comes_in_slices_and_pages(desk: Desk) -> None:
    await desk.sign_in()
    batch = await desk.issue(230)
    seen: list[dict[str, object]] = []
    page = batch
    while page["issued"]:
        seen += page["issued"]  # type: ignore[operator]
        page = (await desk.http.get(f"/api/batches/{batch['id']}?after={seen[-1]['id']}")).json()
    assert len({v["code"] for v in seen}) == 230
    assert (await desk.http.get("/api/batches/999")).json()["field"] == "batch"


async def test_the_dossier_says_what_was_heard_decided_and_why(desk: Desk) -> None:
    await desk.sign_in()
    (guest,) = (await desk.http.get("/api/guests")).json()["rows"]
    assert guest["mac"] == "02-00-00-AA-BB-01"
    dossier = (await desk.http.get(f"/api/guests/{guest['mac']}/1")).json()
    (address,) = dossier["addresses"]
    assert (address["text"], [s["by"] for s in address["seen"]]) == ("127.77.1.1", ["the guest page"])
    texts = [line["text"] for line in dossier["log"]]
    assert any("placed as Visitor until" in text and "rule 1" in text for text in texts)
    assert any(text == "Opened the page" for text in texts)
    admitted = next(line for line in dossier["log"] if "placed as Visitor" in line["text"])
    steps = dict(admitted["steps"])
    assert steps["network"] == "recognised as Garden, because the SSID is Hollerau Garden"
    assert re.match(
        r"Day visit: 7 h 59 min left, until .* and 1.99 GB left|Day visit: 8 h left, until", steps["limits"]
    )
    assert "rule 1, network Garden and way in voucher, places it as Visitor" in steps["placement"]
    assert dossier["stays"][0]["octets_out"] == 4_000_000
    assert dossier["guest"]["issued"]["octets_used"] == 5_000_000


async def test_now_counts_the_stream_and_the_feed_pushes_it(desk: Desk) -> None:
    await desk.sign_in()
    now = (await desk.http.get("/api/now")).json()
    garden = next(stream for stream in now["streams"] if stream["name"] == "Garden")
    assert (garden["name"], garden["inside"]) == ("Garden", [{"role": "Visitor", "count": 1}])
    async with desk.http.stream("GET", "/api/feed") as feed:
        assert feed.headers["content-type"].startswith("text/event-stream")
        lines = feed.aiter_lines()
        assert await anext(lines) == "event: now"
        assert '"streams"' in await anext(lines)
        await anext(lines)
        await desk.issue()
        assert await anext(lines) == "event: now"
        assert "gatehouse issued one voucher for Day visit" in await anext(lines)


async def test_the_log_goes_back_in_time(desk: Desk) -> None:
    await desk.sign_in()
    newest = (await desk.http.get("/api/log")).json()
    older = (await desk.http.get(f"/api/log?before={newest[1]['id']}")).json()
    assert older == newest[2:]


async def test_headers_and_unknown_addresses(desk: Desk) -> None:
    answer = await desk.http.get("/api/nothing")
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"
    assert "default-src 'none'" in answer.headers["content-security-policy"]
    assert (await desk.http.post("/api/session", content=b"x" * 70_000)).status_code == 413
    assert (await desk.http.post("/api/session", content=b"{")).status_code == 422
    for head in ({"headers": {"X": "x" * 8200}}, {"params": {"q": "x" * 8200}}):
        refused = await desk.http.get("/api/session", **head)
        assert (refused.status_code, refused.json()["code"]) == (431, "large_head")


async def test_closing_ends_live_views_at_once(desk: Desk) -> None:
    await desk.sign_in()
    async with desk.http.stream("GET", "/api/feed") as feed:
        lines = feed.aiter_lines()
        assert await anext(lines) == "event: now"
        closing = asyncio.create_task(desk.service.close())
        rest = [line async for line in lines]  # ends by itself, and properly
        assert rest
        await asyncio.wait_for(closing, 30)
    desk.is_closed = True
