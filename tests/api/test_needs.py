"""No route without a stated need."""

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
        assert (route.path, route.methods) == ("/session", {"POST"})
    if need is Need.LOOK:
        assert route.methods == {"GET"}


def test_all_rooms_are_there() -> None:
    assert len(ROUTES) > 25
