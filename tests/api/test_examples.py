"""Every example of the description, sent as it stands there to a house of the demo."""

import re
import socket
from typing import Any

import httpx
import pytest

from lauschen.api.app import make_app
from lauschen.api.examples import EXAMPLES
from tests.garden import Garden

REFUSED = {
    "POST /session": "sign_in_wrong",
    "POST /invitations": "invitation_over",
    "POST /password": "password_wrong",
    "POST /unknown-access-devices/{address}/try-secret": "unknown_access_device_not_there",
    "POST /vouchings/{vouching}/answer": "vouching_not_there",
    "POST /vouchings/{vouching}/ask": "vouching_not_there",
    "PUT /own/second": "password_wrong",
    "POST /own/second/off": "password_wrong",
    "POST /passphrases/{holder}/renew/undo": "passphrase_not_there",
}
"""Understood, and refused here: there is no such password, access device, or guest who waits."""
MADE = {
    "POST /networks": "network",
    "POST /roles": "role",
    "POST /dialects": "dialect",
    "POST /trusted": "trusted",
    "POST /hosts": "host",
    "POST /syslog": "receiver",
    "POST /webhooks": "receiver",
    "POST /people": "person",
    "POST /programs": "program",
    "POST /accounts": "issued",
    "POST /passphrases": "holder",
}
"""Whose answer names what later ones are about."""


def id_in(made: dict[str, Any]) -> int:
    """Of what was made; some answers say more than that."""
    inside = [made[name] for name in ("program", "person", "batch") if isinstance(made.get(name), dict)]
    one = (inside or [made])[0]
    return int((one.get("issued") or [one])[0]["id"])


def bodies() -> dict[str, Any]:
    """By method and path: the description of each body in JSON."""
    found = {}
    for path, methods in make_app(None).openapi()["paths"].items():
        for method, operation in methods.items():
            content = operation.get("requestBody", {}).get("content", {})
            if "application/json" in content:
                found[f"{method.upper()} {path.removeprefix('/api')}"] = content["application/json"]
    return found


def test_each_body_has_an_example_and_each_example_a_body() -> None:
    found = bodies()
    assert set(found) == set(EXAMPLES)
    for what, body in found.items():
        assert body["example"] == EXAMPLES[what], what


async def test_each_example_is_understood_and_done(
    garden: Garden, staff: httpx.AsyncClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """One after the other, each about what one before it made. Nobody's name server is asked about the examples."""
    look_up = socket.getaddrinfo

    def at_home(host: Any, *more: Any, **named: Any) -> Any:
        if str(host).endswith(".example"):
            raise socket.gaierror(socket.EAI_NONAME, "no such name")
        return look_up(host, *more, **named)

    monkeypatch.setattr(socket, "getaddrinfo", at_home)
    await garden.let_in(garden.guests[0], (await garden.demo.issue("Day visit", 1))[0])
    about: dict[str, object] = {
        "mac": f"{garden.guests[0].phone.mac:012x}", "network": 1, "issued": 1, "device": 1, "plan": 1,
        "address": "127.77.0.99", "vouching": 1, "kind": "pass", "channel": "mail", "lang": "en",
    }  # fmt: skip
    for what, example in EXAMPLES.items():
        method, path = what.split(" ")
        known = {**about, "kind": "privacy"} if "privacy" in path else about
        filled = re.sub(r"\{(\w+)\}", lambda found, known=known: str(known[found[1]]), path)
        answer = await staff.request(method, f"/api{filled}", json=example)
        refused = REFUSED.get(what)
        if refused is not None:
            assert answer.json().get("code") == refused, f"{what}: {answer.text}"
            continue
        assert answer.is_success, f"{what}: {answer.text}"
        if what in MADE:
            made = answer.json()
            about[MADE[what]] = id_in(made)
