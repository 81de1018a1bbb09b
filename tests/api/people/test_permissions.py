"""Every route of the API against every kind of actor; a route without a row here is a failed test."""

import re

import httpx
import pytest
from fastapi.routing import APIRoute

from lauschen.api.app import ROOMS
from lauschen.core.people.duties import Duty, Need
from tests.api.door.test_sign_in import House, house
from tests.api.people.test_people import signed_in_as

__all__ = ["house"]
ALL = {*Duty}
WHO: dict[Need, set[Duty]] = {
    Need.SESSION: ALL,
    Need.LOOK: ALL,
    Need.INSPECT: {Duty.ADMINISTRATOR, Duty.AUDITOR},
    Need.ISSUE: {Duty.ADMINISTRATOR, Duty.DESK},
    Need.HELP: {Duty.ADMINISTRATOR, Duty.DESK},
    Need.CONFIGURE: {Duty.ADMINISTRATOR},
}
"""Written out, not taken from the table that the service goes by."""
MATRIX: dict[Need, str] = {
    Need.NOTHING: """
        POST /session
        POST /invitations
    """,
    Need.SESSION: """
        GET /session
        DELETE /session
        POST /password
        GET /own/sessions
        DELETE /own/sessions/{other}
        GET /own/second
        PUT /own/second
        POST /own/second/off
    """,
    Need.LOOK: """
        GET /openapi.json
        GET /now
        GET /feed
        GET /log
        GET /desk
        GET /batches/{batch}
        GET /batches/{batch}/slips.pdf
        GET /issued/{issued}/slip.pdf
        GET /issued/{issued}/slip.png
        GET /slips
        GET /desk/ending
        GET /desk/not-sent
        GET /desk.csv
        GET /issued/{issued}/qr.svg
        GET /guests
        GET /guests.csv
        GET /guests/{mac}/{network}
        GET /hosts
        GET /vouchings
        GET /passphrases
        GET /passphrases/of
        GET /passphrases/{holder}
    """,
    Need.INSPECT: """
        GET /networks
        GET /access-devices/{device}/packets
        GET /sheet/{device}/{network}
        GET /rules
        GET /trusted.csv
        GET /hosts.csv
        GET /settings
        GET /messages
        GET /privacy
        GET /consents.csv
        GET /people
        GET /people/{person}/sessions
        GET /programs
        GET /activity
        GET /activity.csv
    """,
    Need.ISSUE: """
        POST /passphrases
        POST /passphrases/draw
        POST /passphrases/many
        POST /batches
        POST /passes
        POST /accounts
        POST /batches/job
        GET /jobs/{job}
        POST /jobs/{job}/cancel
        POST /batches/{batch}/slips
        GET /jobs/{job}/slips.pdf
        POST /slips/preview
        POST /passes/lines
        POST /passes/lines/check
        GET /desk/known
        POST /desk/words
        POST /batches/words
    """,
    Need.HELP: """
        POST /passphrases/{holder}/reveal
        POST /passphrases/{holder}/link
        POST /passphrases/{holder}/renew
        POST /passphrases/{holder}/renew/undo
        POST /passphrases/{holder}/devices/{mac}/take-off
        POST /passphrases/{holder}/devices/{mac}/take-on
        POST /issued/{issued}/password
        POST /issued/{issued}/give-time
        POST /issued/{issued}/send
        POST /issued/{issued}/withdraw
        POST /issued/{issued}/pause
        POST /issued/{issued}/resume
        POST /issued/{issued}/forget
        POST /issued/acts
        POST /guests/acts
        POST /guests/{mac}/{network}/end-stay
        POST /guests/{mac}/{network}/give-time
        POST /guests/{mac}/{network}/bar
        POST /guests/{mac}/{network}/let-try-again
        POST /guests/{mac}/{network}/send-again
        POST /hosts/{host}/page
        POST /vouchings/{vouching}/answer
        POST /vouchings/{vouching}/ask
        POST /messages/{message}/send-again
    """,
    Need.CONFIGURE: """
        POST /networks
        PUT /networks/{network}
        PUT /networks/{network}/ways
        POST /networks/{network}/pause
        POST /networks/{network}/end-pause
        POST /passcodes/words
        POST /networks/{network}/passcode
        POST /networks/{network}/passcode/end-overlap
        PUT /house-rules
        DELETE /networks/{network}
        POST /roles
        PUT /roles/{role}
        DELETE /roles/{role}
        POST /dialects
        PUT /dialects/{dialect}
        DELETE /dialects/{dialect}
        POST /access-devices
        PUT /access-devices/{device}
        DELETE /access-devices/{device}
        POST /access-devices/{device}/secret
        POST /access-devices/{device}/forget-old-secret
        POST /unknown-access-devices/{address}/try-secret
        POST /unknown-access-devices/{address}/add
        POST /plans/words
        POST /plans
        PUT /plans/{plan}
        DELETE /plans/{plan}
        POST /plans/{plan}/restore
        PUT /rules
        POST /trusted
        PUT /trusted/{trusted}
        DELETE /trusted/{trusted}
        POST /trusted/lines
        POST /hosts
        PUT /hosts/{host}
        DELETE /hosts/{host}
        POST /hosts/lines
        PUT /mail
        DELETE /mail
        POST /mail/test
        PUT /text
        DELETE /text
        POST /text/test
        PUT /templates/{kind}/{channel}/{lang}
        DELETE /templates/{kind}/{channel}/{lang}
        POST /templates/{kind}/{channel}/{lang}/preview
        POST /syslog
        PUT /syslog/{receiver}
        POST /webhooks
        PUT /webhooks/{receiver}
        DELETE /receivers/{receiver}
        POST /receivers/{receiver}/test
        PUT /privacy/{kind}
        PUT /slips
        PUT /slips/logo
        DELETE /slips/logo
        POST /people
        PUT /people/{person}
        POST /people/{person}/password
        POST /people/{person}/sign-out
        DELETE /people/{person}
        POST /people/{person}/invite
        DELETE /people/{person}/second
        DELETE /people/{person}/sessions/{session}
        POST /programs
        PUT /programs/{program}
        POST /programs/{program}/token
        DELETE /programs/{program}
    """,
}
ROWS = [(need, *line.split()) for need, lines in MATRIX.items() for line in lines.strip().splitlines()]
NOBODY = str(2**53 - 1)
"""No id of anything."""


def address(path: str) -> str:
    """Where a route leads that names what is not there."""
    path = path.replace("{mac}", "02-00-00-00-00-01").replace("{kind}", "rules")
    return "/api" + re.sub(r"\{\w+\}", NOBODY, path)


def test_every_route_has_a_row() -> None:
    routes = {
        f"{method} {route.path}"
        for room in ROOMS
        for route in room.routes
        if isinstance(route, APIRoute)
        for method in route.methods
    }
    assert {f"{method} {path}" for _, method, path in ROWS} == routes
    assert len(ROWS) == len(routes)


async def status_of(browser: httpx.AsyncClient, method: str, path: str) -> tuple[int, str]:
    """With the code of what was refused; a live view is left at once."""
    async with browser.stream(method, address(path), json=None if method == "GET" else {}) as answer:
        if "problem" not in answer.headers.get("content-type", ""):
            return answer.status_code, ""
        await answer.aread()
        return answer.status_code, str(answer.json()["code"])


@pytest.mark.parametrize("duty", list(Duty))
async def test_each_is_let_do_what_their_duty_is_and_no_more(house: House, duty: Duty) -> None:
    browser = await signed_in_as(house, duty)
    signs_out = [row for row in ROWS if row[1:] == ("DELETE", "/session")]
    for need, method, path in [row for row in ROWS if row not in signs_out] + signs_out:
        status, code = await status_of(browser, method, path)
        if duty in WHO.get(need, ALL):
            assert status not in (401, 403), (method, path, code)
            assert status < 500, (method, path, code)
        else:
            assert (status, code) == (403, "not_theirs"), (method, path)


@pytest.mark.parametrize("duty", [Duty.DESK, Duty.AUDITOR])
async def test_a_program_is_let_do_the_same_but_what_only_people_do(house: House, duty: Duty) -> None:
    chief = await house.signed_in()
    made = await chief.post("/api/programs", json={"name": "Rooms", "duty": duty})
    browser = house.browser()
    browser.headers["Authorization"] = f"Bearer {made.json()['token']}"
    for need, method, path in ROWS:
        status, code = await status_of(browser, method, path)
        if need is Need.NOTHING or (need is not Need.SESSION and duty in WHO[need]):
            assert status not in (401, 403), (method, path, code)
            assert status < 500, (method, path, code)
        else:
            assert (status, code) == (403, "not_theirs"), (method, path)


async def test_who_is_not_signed_in_is_let_do_nothing_but_that(house: House) -> None:
    browser = house.browser()
    for need, method, path in ROWS:
        if need is not Need.NOTHING:
            assert await status_of(browser, method, path) == (401, "sign_in_needed"), (method, path)


@pytest.mark.parametrize(("duty", "status"), [(None, 401), (Duty.DESK, 403), (Duty.ADMINISTRATOR, 422)])
async def test_who_may_not_is_refused_before_the_body_is_read(
    house: House, duty: Duty | None, status: int
) -> None:
    """Of megabytes that nobody may send, not one is parsed: here it would be found to be no JSON."""
    browser = house.browser() if duty is None else await signed_in_as(house, duty)
    form = {"Content-Type": "application/json"}
    answer = await browser.post("/api/networks", content=b"{no JSON" * 4000, headers=form)
    assert answer.status_code == status


async def test_the_description_is_written_once(house: House) -> None:
    browser = await signed_in_as(house, Duty.AUDITOR)
    first, second = [await browser.get("/api/openapi.json") for _ in range(2)]
    assert first.content == second.content
    assert "/api/desk" in first.json()["paths"]
