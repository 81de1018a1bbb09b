"""What administrators change: networks, roles, access devices, dialects. Each act is checked and logged."""

from collections.abc import Collection, Mapping
from dataclasses import replace
from typing import TypeVar

from lauschen.acts.config.record import changes
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.checks import (
    check_access_device,
    check_dialect,
    check_name,
    check_role,
    check_room,
    check_secret,
)
from lauschen.core.config.dialect import Dialect
from lauschen.core.config.network import STATUS, GuestNetwork, Match
from lauschen.core.config.pools import check_vlan
from lauschen.core.config.role import Role
from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId, PlanId, RoleId
from lauschen.core.ways.always import Always
from lauschen.core.words.going import going_on
from lauschen.road.tx import Tx
from lauschen.store import admissions
from lauschen.store.config import access_devices, dialects, networks
from lauschen.store.passphrases import groups, holders

LONGEST_SSID = 32
"""Octets (IEEE 802.11-2020, 9.4.2.2)."""
K = TypeVar("K")
V = TypeVar("V")


def add_access_device(tx: Tx, device: AccessDevice, secret: str) -> AccessDeviceId:
    """Takes in an access device; its id is given here."""
    device = check_access_device(device)
    check_secret(secret)
    check_name("access_device", device.name, 0, tx.config.access_devices.values())
    check_room("access_device", len(tx.config.access_devices))
    _check_dialect_is_there(tx, device.dialect)
    _check_serves(tx, device)
    added = access_devices.add_access_device(
        tx.conn,
        tx.keys,
        device.name,
        address=device.address,
        secret=secret.encode(),
        dialect=device.dialect,
        coa_port=device.coa_port,
        coa_address=device.coa_address,
        tls_identity=device.tls_identity,
        serves=device.serves,
    )
    tx.log("device_taken_in", access_device=added, facts={"name": device.name})
    return added


def change_access_device(tx: Tx, device: AccessDevice) -> None:
    """All but the secret."""
    _device(tx, device.id)
    device = check_access_device(device)
    check_name("access_device", device.name, device.id, tx.config.access_devices.values())
    _check_dialect_is_there(tx, device.dialect)
    _check_serves(tx, device)
    access_devices.save_access_device(tx.conn, device)
    before = tx.config.access_devices[device.id]
    facts = {"name": device.name, **changes(tx.config, before, device)}
    tx.log("device_changed", access_device=device.id, facts=facts)


def _check_serves(tx: Tx, device: AccessDevice) -> None:
    if any(network not in tx.config.networks for network in device.serves):
        raise Invalid("serves", field="serves", mend="Choose networks that are there.")


def list_for(tx: Tx, network: NetworkId, devices: Collection[AccessDeviceId]) -> None:
    """These access devices may ask for the network from now on, and the one that it names; no others may."""
    if any(device not in tx.config.access_devices for device in devices):
        raise Invalid("served_by", field="served_by", mend="Choose access devices that are there.")
    listed = {*devices, tx.config.networks[network].access_device}
    for device in tx.config.access_devices.values():
        serves = device.serves | {network} if device.id in listed else device.serves - {network}
        if serves != device.serves:
            access_devices.save_serves(tx.conn, device.id, serves)
            facts = {"name": device.name, **changes(tx.config, device, replace(device, serves=serves))}
            tx.log("device_changed", access_device=device.id, facts=facts)


def change_secret(tx: Tx, device: AccessDeviceId, secret: str) -> None:
    """The one until now is heard too, until it is forgotten."""
    check_secret(secret)
    found = _device(tx, device)
    if found.old_secret is not None:
        raise Invalid(
            "change_over", field="secret", mend="Forget the old secret first: two are heard at most."
        )
    access_devices.change_secret(tx.conn, tx.keys, found, secret.encode())
    tx.log("secret_changed", access_device=device)


def forget_old_secret(tx: Tx, device: AccessDeviceId) -> None:
    _device(tx, device)
    access_devices.forget_old_secret(tx.conn, device)
    tx.log("old_secret_forgotten", access_device=device)


def remove_access_device(tx: Tx, device: AccessDeviceId) -> None:
    name = _device(tx, device).name
    if any(one.access_device == device for one in tx.config.trusted):
        mend = "It is on the list of what is let in always; take it off there first."
        raise Invalid("access_device_in_use", field="name", mend=mend)
    access_devices.remove_access_device(tx.conn, device)
    tx.log("device_removed", facts={"name": name})


def save_network(tx: Tx, network: GuestNetwork) -> NetworkId:
    """A new one when its id is 0."""
    check_name("network", network.name, network.id, tx.config.networks.values())
    role = tx.config.roles.get(network.door_role)
    if role is None or not role.is_door:
        raise Invalid("door_role", field="door_role", mend="A role that is one before login.")
    if network.strictness == 0:
        raise Invalid("network_hints", field="ssid", mend="Say by what it is recognised.")
    for hint, field in (
        (network.ssid, "ssid"), (network.nas_identifier, "nas_identifier"), (network.port_id, "port_id"),
    ):  # fmt: skip
        if hint.match is not Match.ANY and not hint.value:
            raise Invalid("hint_empty", field=field, mend="Say what it must be.")
    if len(network.ssid.value) > LONGEST_SSID:
        mend = f"An SSID has at most {LONGEST_SSID} octets, and this one has {len(network.ssid.value)}."
        raise Invalid("ssid_long", field="ssid", mend=mend)
    for device, field in ((network.access_device, "access_device"), (network.counted_at, "counted_at")):
        if device is not None and device not in tx.config.access_devices:
            raise Invalid("access_device", field=field, mend="Choose one that is there.")
    if (
        network.onward not in ("", STATUS)
        and going_on(network.onward, tx.config.slip_host)[0] != network.onward
    ):
        mend = "An address that browsers can open, such as https://house.example/welcome."
        raise Invalid("onward", field="onward", mend=mend)
    _check_ways(tx, network)
    if network.id == 0:
        check_room("network", len(tx.config.networks))
        network = replace(
            network, id=networks.add_network(tx.conn, network.name, door_role=network.door_role)
        )
    else:
        there(tx.config.networks, network.id, "network")
    networks.save_network(tx.conn, network)
    if network.access_device is not None:
        access_devices.add_serves(tx.conn, network.access_device, network.id)
    facts = {"name": network.name, **changes(tx.config, tx.config.networks.get(network.id), network)}
    tx.log("network_saved", network=network.id, facts=facts)
    return network.id


def _check_ways(tx: Tx, network: GuestNetwork) -> None:
    if len({way.way for way in network.ways}) < len(network.ways):
        raise Invalid("ways_twice", field="ways", mend="Each way in once.")
    for way in network.ways:
        if way.plan is not None and not _may_choose(tx, way.plan):
            raise Invalid(
                "way_plan", field="ways", mend="A way in that needs a plan needs one that is there."
            )
        if isinstance(way, Always):
            plan = tx.config.plans[way.plan]
            if plan.seconds is not None or plan.octets is not None:
                mend = f"{plan.name} is used up at some time: who is let in always needs one without time and data."
                raise Invalid("way_plan_ends", field="ways", mend=mend)


def _may_choose(tx: Tx, plan: PlanId) -> bool:
    found = tx.config.plans.get(plan)
    return found is not None and not found.is_removed


def remove_network(tx: Tx, network: NetworkId) -> None:
    """Invalid while somebody is inside: their stays would go on with nobody to end them."""
    found = there(tx.config.networks, network, "network")
    inside = networks.who_is_inside(tx.conn, network)
    if inside:
        stays = "its stay" if inside == 1 else "their stays"
        raise Invalid("network_in_use", field="name", mend=f"{_devices(inside)} inside; end {stays} first.")
    admissions.end_admissions_of(tx.conn, network, Reason.NO_NETWORK, tx.now)
    networks.remove_network(tx.conn, network, tx.now)
    tx.log("network_removed", network=network, facts={"name": found.name})


def save_role(tx: Tx, role: Role) -> RoleId:
    """A new one when its id is 0. Whether it is one before login stays as it was made."""
    check_role(role)
    if role.vlan is not None:
        check_vlan(tx.config, role.vlan, groups.owners(tx.conn, range(role.vlan, role.vlan + 1), tx.now))
    check_name("role", role.name, role.id, tx.config.roles.values())
    if role.id == 0:
        check_room("role", len(tx.config.roles))
        role_id = networks.add_role(
            tx.conn, role.name, vlan=role.vlan, filter_name=role.filter_name, is_door=role.is_door
        )
        role = replace(role, id=role_id)
    else:
        there(tx.config.roles, role.id, "role")
    networks.save_role(tx.conn, role)
    tx.log("role_saved", facts={"name": role.name, **changes(tx.config, tx.config.roles.get(role.id), role)})
    return role.id


def remove_role(tx: Tx, role: RoleId) -> None:
    """Invalid while a network, a rule or a device has it."""
    found = there(tx.config.roles, role, "role")
    network = next((n for n in tx.config.networks.values() if n.door_role == role), None)
    rule = next((r for r in tx.config.rules if r.role == role), None)
    trusted = next((one for one in tx.config.trusted if one.role == role), None)
    brought, placed = (
        holders.count_by_role(tx.conn, role, tx.now),
        networks.who_has_role(tx.conn, role, tx.config.networks),
    )
    if network is not None:
        mend = f"The network {network.name} places devices in it before login."
    elif rule is not None:
        mend = f"Rule {rule.position} places devices in it."
    elif role == tx.config.last_role:
        mend = "Everybody whom no rule places is placed in it."
    elif trusted is not None:
        mend = f"{trusted.name} is let in always, and placed in it."
    elif brought:
        one = "One passphrase places its" if brought == 1 else f"{brought:,} passphrases place their"
        mend = f"{one} devices in it, whatever the rules say."
    elif placed:
        mend = f"{_devices(placed)} placed in it."
    else:
        networks.remove_role(tx.conn, role, tx.now)
        tx.log("role_removed", facts={"name": found.name})
        return
    raise Invalid("role_in_use", field="name", mend=mend)


def save_dialect(tx: Tx, dialect: Dialect) -> DialectId:
    """A new one when its id is 0."""
    check_dialect(dialect)
    check_name("dialect", dialect.name, dialect.id, tx.config.dialects.values())
    if dialect.id == 0:
        check_room("dialect", len(tx.config.dialects))
        dialect = replace(dialect, id=dialects.add_dialect(tx.conn, tx.keys, dialect))
    else:
        there(tx.config.dialects, dialect.id, "dialect")
        dialects.save_dialect(tx.conn, tx.keys, dialect)
    before = tx.config.dialects.get(dialect.id)
    tx.log("dialect_saved", facts={"name": dialect.name, **changes(tx.config, before, dialect)})
    return dialect.id


def remove_dialect(tx: Tx, dialect: DialectId) -> None:
    """Invalid while an access device speaks it."""
    found = there(tx.config.dialects, dialect, "dialect")
    speaker = next((d for d in tx.config.access_devices.values() if d.dialect == dialect), None)
    if speaker is not None:
        raise Invalid("dialect_in_use", field="name", mend=f"{speaker.name} speaks it.")
    dialects.remove_dialect(tx.conn, dialect)
    tx.log("dialect_removed", facts={"name": found.name})


def check_guest_role(tx: Tx, role: RoleId, *, field: str) -> None:
    """Invalid for one that is not there, or is a role before login."""
    found = tx.config.roles.get(role)
    if found is None or found.is_door:
        raise Invalid("rule_role", field=field, mend="A role for guests who are let in.")


def _devices(count: int) -> str:
    return "One device is" if count == 1 else f"{count} devices are"


def _device(tx: Tx, device: AccessDeviceId) -> AccessDevice:
    return there(tx.config.access_devices, device, "access_device")


def there(known: Mapping[K, V], key: K, what: str) -> V:
    found = known.get(key)
    if found is None:
        raise NotThere(what)
    return found


def _check_dialect_is_there(tx: Tx, dialect: DialectId) -> None:
    if dialect not in tx.config.dialects:
        raise Invalid("dialect", field="dialect", mend="Choose one that is there.")
