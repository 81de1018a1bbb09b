"""No two of a kind whose names read the same: nobody could tell them apart in a list."""

from collections.abc import Callable
from contextlib import nullcontext
from dataclasses import replace

import pytest

from lauschen.acts.config.changes import (
    add_access_device,
    change_access_device,
    save_dialect,
    save_network,
    save_role,
)
from lauschen.acts.config.plans import remove_plan, save_plan
from lauschen.core.config.network import Hint, Match
from lauschen.core.errors import Invalid
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId
from lauschen.road.tx import Tx
from tests.place import Place

SAME = [" Day  visit", "DAY VISIT", "\uff24ay visit", "day\u00a0visit"]
"""Blanks, case, compatible signs."""
Save = Callable[[Tx, str], object]


def last_plan(tx: Tx, name: str) -> object:
    return save_plan(tx, replace(tx.config.plans[PlanId(2)], name=name))


NEW: dict[str, Save] = {
    "plan": lambda tx, name: save_plan(tx, replace(tx.config.plans[PlanId(1)], id=PlanId(0), name=name)),
    "role": lambda tx, name: save_role(tx, replace(tx.config.roles[RoleId(1)], id=RoleId(0), name=name)),
    "network": lambda tx, name: save_network(
        tx, replace(next(iter(tx.config.networks.values())), id=NetworkId(0), name=name)
    ),
    "dialect": lambda tx, name: save_dialect(
        tx, replace(next(iter(tx.config.dialects.values())), id=DialectId(0), name=name)
    ),
    "access_device": lambda tx, name: add_access_device(
        tx, replace(tx.config.access_devices[AccessDeviceId(1)], address="10.9.9.9", name=name), "long enough"
    ),
}


def first_name(tx: Tx, what: str) -> str:
    there = {
        "plan": tx.config.plans, "role": tx.config.roles, "network": tx.config.networks,
        "dialect": tx.config.dialects, "access_device": tx.config.access_devices,
    }[what]  # fmt: skip
    return str(next(iter(there.values())).name)  # type: ignore[attr-defined]


@pytest.mark.parametrize("what", NEW)
def test_a_new_one_needs_a_name_of_its_own(place: Place, what: str) -> None:
    with place.tx() as tx:
        name = first_name(tx, what)
        for same in (name.upper(), f" {name}  ", name):
            with pytest.raises(Invalid) as refused:
                NEW[what](tx, same)
            assert (refused.value.code, refused.value.field) == (f"{what}_name_taken", "name")
        for empty in ("", "  ", "\u00a0\n"):
            with pytest.raises(Invalid, match=f"{what}_name_empty"):
                NEW[what](tx, empty)


@pytest.mark.parametrize("name", SAME)
def test_so_does_one_that_is_renamed_but_may_spell_its_own_anew(place: Place, name: str) -> None:
    with place.tx() as tx:
        with pytest.raises(Invalid, match="plan_name_taken"):
            last_plan(tx, name)
        save_plan(tx, replace(tx.config.plans[PlanId(1)], name=name))
        device = tx.config.access_devices[AccessDeviceId(1)]
        change_access_device(tx, replace(device, name=device.name.upper()))


def test_a_removed_plan_leaves_its_name_to_others(place: Place) -> None:
    with place.tx() as tx:
        name = tx.config.plans[PlanId(4)].name
        remove_plan(tx, PlanId(4))
        tx.reconfigure()
        last_plan(tx, name.upper())


def test_an_ssid_has_at_most_32_octets(place: Place) -> None:
    network = place.config.networks[NetworkId(1)]
    for octets, fits in ((32, True), (33, False), (34, False)):
        wanted = replace(network, ssid=Hint(Match.EXACT, b"x" * octets))
        with nullcontext() if fits else pytest.raises(Invalid, match="ssid_long"), place.tx() as tx:
            save_network(tx, wanted)
