"""No route without a stated need."""

import ast
import inspect
import textwrap

import pytest
from fastapi.routing import APIRoute

from lauschen.api.app import ROOMS
from lauschen.api.door.asking import Need, Needs

ROUTES = [route for room in ROOMS for route in room.routes if isinstance(route, APIRoute)]


def needs_of(route: APIRoute) -> list[Need]:
    return [need.call.need for need in route.dependant.dependencies if isinstance(need.call, Needs)]


@pytest.mark.parametrize("route", ROUTES, ids=lambda r: f"{min(r.methods)} {r.path}")
def test_each_route_states_one_need(route: APIRoute) -> None:
    (need,) = needs_of(route)
    if need is Need.NOTHING:
        assert (route.path, route.methods) in (("/session", {"POST"}), ("/invitations", {"POST"}))
    if need is Need.LOOK:
        assert route.methods == {"GET"}


@pytest.mark.parametrize("route", ROUTES, ids=lambda r: f"{min(r.methods)} {r.path}")
def test_who_acts_is_told_to_whatever_changes_something(route: APIRoute) -> None:
    source = ast.parse(textwrap.dedent(inspect.getsource(route.endpoint)))
    acting = [
        call
        for call in ast.walk(source)
        if isinstance(call, ast.Call) and isinstance(call.func, ast.Attribute) and call.func.attr == "act"
    ]
    assert all(any(word.arg == "by" for word in call.keywords) for call in acting)
    if "actor" in inspect.signature(route.endpoint).parameters:
        assert any(isinstance(name, ast.Name) and name.id == "actor" for name in ast.walk(source))


def test_all_rooms_are_there() -> None:
    assert len(ROUTES) > 25
