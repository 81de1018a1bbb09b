"""Slips by the API: printed, pictured, prepared as a job; how the house prints; its picture."""

import asyncio
import io

import httpx
import pytest
from PIL import Image
from pypdf import PdfReader

from tests.garden import Garden

DAY_VISIT = 1


async def issue(staff: httpx.AsyncClient, count: int = 1, **more: object) -> dict[str, object]:
    answer = await staff.post("/api/batches", json={"plan": DAY_VISIT, "count": count, **more})
    assert answer.status_code == 201, answer.text
    made: dict[str, object] = answer.json()
    return made


def picture(width: int = 600, height: int = 200, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), "#5B2A4E").save(out, kind)
    return out.getvalue()


async def test_a_slip_is_seen_before_and_after_it_is_issued(staff: httpx.AsyncClient) -> None:
    wish = {"plan": DAY_VISIT, "label": "Ines", "words": "Welcome", "paper": "label"}
    before = await staff.post("/api/slips/preview", json=wish)
    assert (before.status_code, before.headers["content-type"]) == (200, "image/png")
    assert (await staff.get("/api/desk")).json()["batches"] == []
    made = await issue(staff, label="Ines", words="Welcome")
    one = made["issued"][0]["id"]  # type: ignore[index]
    after = await staff.get(f"/api/issued/{one}/slip.png?paper=label")
    sizes = [Image.open(io.BytesIO(answer.content)).size for answer in (before, after)]
    assert sizes[0] == sizes[1]
    assert before.content != after.content
    paper = await staff.get(f"/api/issued/{one}/slip.pdf?paper=roll&lang=de")
    assert "für Ines" in PdfReader(io.BytesIO(paper.content)).pages[0].extract_text()
    odd = await staff.post("/api/slips/preview", json={"plan": 99})
    assert (odd.status_code, odd.json()["field"]) == (422, "plan")


async def test_how_the_house_prints_counts_from_the_next_slip_on(staff: httpx.AsyncClient) -> None:
    made = await issue(staff)
    wanted = {"paper": "roll", "lang": "de", "words": {"de": " Frühstück ab sieben. "}, "has_wifi_qr": True}
    saved = (await staff.put("/api/slips", json=wanted)).json()
    assert saved == {**wanted, "words": {"de": "Frühstück ab sieben."}, "has_logo": False}
    printed = await staff.get(f"/api/batches/{made['id']}/slips.pdf")
    page = PdfReader(io.BytesIO(printed.content)).pages[0]
    assert round(float(page.mediabox.width) / 72 * 25.4) == 80
    assert "Frühstück ab sieben." in page.extract_text()
    wrong = await staff.put("/api/slips", json={**wanted, "words": {"de": "x" * 121}})
    assert wrong.status_code == 422


@pytest.mark.parametrize("kind", ["PNG", "JPEG"])
async def test_a_picture_is_made_small_and_stands_on_the_slip(staff: httpx.AsyncClient, kind: str) -> None:
    made = await issue(staff)
    one = made["issued"][0]["id"]  # type: ignore[index]
    plain = (await staff.get(f"/api/issued/{one}/slip.png")).content
    saved = await staff.put("/api/slips/logo", content=picture(kind=kind))
    assert (saved.status_code, saved.json()["has_logo"]) == (200, True)
    assert (await staff.get(f"/api/issued/{one}/slip.png")).content != plain
    assert (await staff.delete("/api/slips/logo")).status_code == 204
    assert (await staff.get(f"/api/issued/{one}/slip.png")).content == plain


@pytest.mark.parametrize(
    "data",
    [b"", b"<svg xmlns='http://www.w3.org/2000/svg'/>", picture(kind="GIF"), picture()[:60], b"\x89PNG" * 9],
    ids=["empty", "svg", "gif", "cut off", "no picture"],
)
async def test_what_is_no_picture_changes_nothing(staff: httpx.AsyncClient, data: bytes) -> None:
    answer = await staff.put("/api/slips/logo", content=data)
    assert (answer.status_code, answer.json()["field"]) == (422, "logo")
    assert not (await staff.get("/api/slips")).json()["has_logo"]


async def test_a_picture_that_is_too_large_is_refused_before_it_costs_anything(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    wide = await staff.put("/api/slips/logo", content=picture(4000, 1001))
    assert (wide.status_code, wide.json()["code"]) == (422, "logo_large")
    cookies = "; ".join(f"{name}={value}" for name, value in staff.cookies.items())
    head = (
        f"PUT /api/slips/logo HTTP/1.1\r\nHost: {staff.base_url.netloc.decode()}\r\nCookie: {cookies}\r\n"
        f"X-Lauschen-Form: {staff.headers['X-Lauschen-Form']}\r\nContent-Length: 5000001\r\n\r\n"
    )
    reader, writer = await asyncio.open_connection("127.0.0.1", staff.base_url.port)
    writer.write(head.encode())
    assert b" 413 " in await reader.readline()  # before an octet of it is sent
    writer.close()
    # Nobody else takes so much.
    assert (await staff.post("/api/passes", content=b"\x00" * 70_000)).status_code == 413


async def test_a_large_batch_is_printed_by_a_job(staff: httpx.AsyncClient) -> None:
    made = await issue(staff, 1001)
    direct = await staff.get(f"/api/batches/{made['id']}/slips.pdf")
    assert (direct.status_code, direct.json()["code"]) == (422, "slips_many")
    job = (await staff.post(f"/api/batches/{made['id']}/slips")).json()
    while job["state"] == "running":
        await asyncio.sleep(0.05)
        job = (await staff.get(f"/api/jobs/{job['id']}")).json()
    assert (job["state"], job["done"], job["batch"]) == ("done", 1001, made["id"])
    printed = await staff.get(f"/api/jobs/{job['id']}/slips.pdf")
    assert len(PdfReader(io.BytesIO(printed.content)).pages) == 101
    assert (await staff.get(f"/api/jobs/{job['id'] + 1}/slips.pdf")).status_code == 404


async def test_withdrawn_while_it_prints_or_all_used_says_so(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    made = await issue(staff, 2)
    for one in made["issued"]:  # type: ignore[attr-defined]
        assert (await staff.post(f"/api/issued/{one['id']}/withdraw")).status_code == 200
    for query in ("", "?unused=true"):
        again = await staff.get(f"/api/batches/{made['id']}/slips.pdf{query}")
        assert (again.status_code, again.json()["code"]) == (422, "slips_none")


async def test_words_to_the_guest_are_on_the_page_of_whoever_typed_the_code_and_the_note_is_nowhere(
    garden: Garden, staff: httpx.AsyncClient
) -> None:
    made = await issue(staff, words="The concert is at <eight>.", note="pays later")
    code = made["issued"][0]["code"]  # type: ignore[index]
    guest = garden.guests[0]
    await garden.let_in(guest, code)
    await guest.open(guest.url)
    assert "Message from the desk: The concert is at &lt;eight&gt;." in guest.html
    assert "pays later" not in guest.html
