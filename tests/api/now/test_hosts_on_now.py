"""Now says who waits for a host whom nobody asked, and that hosts did not answer."""

import httpx

from tests.garden import Garden
from tests.portal.test_hosts import ADA, _states, ask, mails, offer
from tests.portal.test_registering import at_the_page

MINUTE = 60.0


async def said(staff: httpx.AsyncClient) -> list[str]:
    return [
        one["text"] for one in (await staff.get("/api/now")).json()["attention"] if one["kind"] == "hosts"
    ]


async def test_silence_and_nobody_to_ask(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff, "name")
    for number, name in ((0, ADA["name"]), (1, "Nobody Atall")):
        await ask(await at_the_page(garden, number), name)
    await mails(garden, 1)
    await garden.until(lambda: "waiting" in _states(garden) and _nobody_is_due(garden))
    (text,) = await said(staff)
    assert text.startswith("Ines Harwood waits since ")
    assert text.endswith("for a host whom nobody asked: there is no host called Nobody Atall")
    garden.clock.advance(31 * MINUTE)
    await garden.until(lambda: _states(garden) == ["over", "over"])
    assert await said(staff) == [
        "2 guests were told in the last hours that no host answered; asked: Ada Lindqvist"
    ]


async def test_a_network_that_nobody_may_vouch_on_is_named(garden: Garden, staff: httpx.AsyncClient) -> None:
    await offer(garden, staff)
    for host in (await staff.get("/api/hosts")).json():
        await staff.delete(f"/api/hosts/{host['id']}")
    texts = [one["text"] for one in (await staff.get("/api/now")).json()["attention"]]
    assert any("nobody on the list may vouch here" in text for text in texts), texts
    guest = await at_the_page(garden)
    assert "Who is your host?" not in guest.html


def _nobody_is_due(garden: Garden) -> bool:
    row = garden.demo.service.reader.execute(
        "SELECT count(*) FROM vouching WHERE ask_at IS NOT NULL"
    ).fetchone()
    return int(row[0]) == 0
