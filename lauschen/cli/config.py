"""Access devices, networks, roles and people from the command line; a running server notices within a second."""

import secrets
from dataclasses import replace
from typing import Annotated

import typer

from lauschen.acts.config import changes
from lauschen.acts.config.configuring import configured
from lauschen.acts.people.people import put_first_password
from lauschen.cli.saying import LARGEST_PORT, Data, SecretFile, act_on, read_secret, stop
from lauschen.core.config.access_device import AccessDevice
from lauschen.core.config.checks import check_access_device
from lauschen.core.config.network import GuestNetwork, Hint, Match
from lauschen.core.config.role import Role
from lauschen.core.ids import AccessDeviceId, NetworkId
from lauschen.core.ways.voucher import Voucher
from lauschen.proofs.passwords import hasher
from lauschen.road.tx import Tx
from lauschen.store.first_sign_in import FIRST_PASSWORD_S, forget_first_sign_in

device = typer.Typer(help="Access devices: who sends us RADIUS.", no_args_is_help=True)
network = typer.Typer(help="Guest networks: what devices join.", no_args_is_help=True)
role = typer.Typer(help="Roles: where devices are placed.", no_args_is_help=True)
people = typer.Typer(help="Staff who may sign in.", no_args_is_help=True)


@device.command("add")
def add_device(
    name: str,
    address: Annotated[
        str, typer.Argument(help="One IPv4 or IPv6 address, or a range such as 10.77.0.0/24.")
    ],
    data: Data,
    secret_file: SecretFile = None,
    dialect: Annotated[str, typer.Option(help="`re-authorise` or `disconnect`.")] = "disconnect",
    coa_port: Annotated[
        int, typer.Option(min=1, max=LARGEST_PORT, help="Where it hears Disconnect and CoA.")
    ] = 3799,
    serves: Annotated[
        list[str] | None, typer.Option(help="A network that it may ask for; once for each network.")
    ] = None,
) -> None:
    """Add an access device, or several by a range; a running server answers them within a second."""
    with act_on(data) as tx:
        spoken = next((known for known in tx.config.dialects.values() if known.name == dialect), None)
        if spoken is None:
            stop(f"there is no dialect {dialect}")
        listed = frozenset(_network(tx, one) for one in serves or ())
        new = AccessDevice(AccessDeviceId(0), name, address, b"", spoken.id, coa_port=coa_port, serves=listed)
        new = check_access_device(new)  # before a secret is asked for
        secret = read_secret(secret_file)
        configured(lambda tx: changes.add_access_device(tx, new, secret))(tx)
    what = "devices in the range" if new.is_range else "an access device"
    typer.echo(f"{name} at {new.address}: {what}, heard from now on.")
    if not listed:
        typer.echo(
            "It serves no network yet, so nobody gets in there: `lauschen device serves` lists networks."
        )


@device.command("serves")
def list_networks(
    name: str,
    data: Data,
    networks: Annotated[list[str] | None, typer.Argument(help="All networks that it may ask for.")] = None,
) -> None:
    """Say which networks an access device may ask for; requests for others are refused."""
    with act_on(data) as tx:
        found = _device(tx, name)
        listed = frozenset(_network(tx, one) for one in networks or ())
        configured(lambda tx: changes.change_access_device(tx, replace(found, serves=listed)))(tx)
    typer.echo(f"{name} may ask for {', '.join(networks or ()) or 'no network'}.")


@network.command("add")
def add_network(
    name: str,
    data: Data,
    ssid: Annotated[str, typer.Option(help="The SSID, exactly as devices join it.")],
    door_role: Annotated[
        str | None, typer.Option(help="The role before login. Needed only if there are several.")
    ] = None,
    served_by: Annotated[
        list[str] | None, typer.Option(help="An access device that may ask for it; once for each device.")
    ] = None,
) -> None:
    """Name a guest network; devices on it are asked for a code."""
    with act_on(data) as tx:
        door = _door_role(tx, door_role)
        new = GuestNetwork(
            NetworkId(0), name, door.id, ssid=Hint(Match.EXACT, ssid.encode()), ways=(Voucher(),)
        )
        listed = [_device(tx, one).id for one in served_by or ()]
        saved = configured(lambda tx: changes.save_network(tx, new))(tx)
        configured(lambda tx: changes.list_for(tx, saved, listed))(tx)
    typer.echo(f"{name} is a guest network now: SSID {ssid}, role before login {door.name}, vouchers let in.")


@role.command("set")
def set_role(
    name: str,
    data: Data,
    vlan: Annotated[int | None, typer.Option(min=1, max=4094, help="VLAN sent to the access device.")] = None,
    no_vlan: Annotated[bool, typer.Option("--no-vlan", help="Send no VLAN.")] = False,
    filter_name: Annotated[str | None, typer.Option("--filter", help="Filter-Id sent to it.")] = None,
    no_filter: Annotated[bool, typer.Option("--no-filter", help="Send no Filter-Id.")] = False,
) -> None:
    """Set the VLAN and the filter name of a role; what is not named stays, and without any it is only shown."""
    if (vlan is not None and no_vlan) or (filter_name is not None and no_filter):
        stop("a VLAN or --no-vlan, a filter or --no-filter, but not both")
    with act_on(data) as tx:
        found = _role(tx, name)
        new_vlan = None if no_vlan else vlan if vlan is not None else found.vlan
        new_filter = None if no_filter else filter_name if filter_name is not None else found.filter_name
        placed = found.with_placement(new_vlan, new_filter)
        if placed != found:
            configured(lambda tx: changes.save_role(tx, placed))(tx)
    typer.echo(f"{name}: VLAN {new_vlan or 'none'}, filter {new_filter or 'none'}.")


@people.command("password")
def reset_password(name: str, data: Data) -> None:
    """Give somebody a new first password, good for a day; makes the person if there is none."""
    password = secrets.token_urlsafe(12)
    hashed = hasher().hash(password)
    with act_on(data) as tx:
        put_first_password(tx, name, hashed, good_for_s=FIRST_PASSWORD_S)
    forget_first_sign_in(data, name)
    typer.echo(f"{name} signs in with {password} within a day, and then chooses another one.")


def _device(tx: Tx, name: str) -> AccessDevice:
    found = next((known for known in tx.config.access_devices.values() if known.name == name), None)
    if found is None:
        stop(f"there is no access device {name}")
    return found


def _network(tx: Tx, name: str) -> NetworkId:
    found = next((known for known in tx.config.networks.values() if known.name == name), None)
    if found is None:
        stop(f"there is no network {name}")
    return found.id


def _door_role(tx: Tx, name: str | None) -> Role:
    if name is not None:
        return _role(tx, name)
    of_door = [known for known in tx.config.roles.values() if known.is_door]
    if len(of_door) != 1:
        stop("there is no single role before login: name one with --door-role")
    return of_door[0]


def _role(tx: Tx, name: str) -> Role:
    found = next((known for known in tx.config.roles.values() if known.name == name), None)
    if found is None:
        stop(f"there is no role {name}")
    return found
