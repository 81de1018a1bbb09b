"""Access devices, networks, roles and people from the command line; a running server notices within a second."""

import secrets
import time
from typing import Annotated

import typer
from argon2 import PasswordHasher

from lauschen.cli.saying import LARGEST_PORT, Data, SecretFile, read_secret, settings_of, stop
from lauschen.core.house.checks import check_device, check_role, check_secret
from lauschen.core.house.house import AccessDevice
from lauschen.core.ids import AccessDeviceId, DialectId, RoleId
from lauschen.serve.first_run import forget_first_sign_in
from lauschen.store import staff
from lauschen.store.house import access_devices, networks, settings

device = typer.Typer(help="Access devices: who sends us RADIUS.", no_args_is_help=True)
network = typer.Typer(help="Guest networks: what devices join.", no_args_is_help=True)
role = typer.Typer(help="Roles: where devices are placed.", no_args_is_help=True)
people = typer.Typer(help="Staff who may sign in.", no_args_is_help=True)


@device.command("add")
def add_device(
    name: str,
    address: Annotated[str, typer.Argument(help="One IPv4 address, or a range such as 10.77.0.0/24.")],
    data: Data,
    secret_file: SecretFile = None,
    dialect: Annotated[str, typer.Option(help="`re-authorise` or `disconnect`.")] = "disconnect",
    coa_port: Annotated[
        int, typer.Option(min=1, max=LARGEST_PORT, help="Where it hears Disconnect and CoA.")
    ] = 3799,
) -> None:
    """Take in an access device, or several by a range; a running server answers them within a second."""
    with settings_of(data) as (conn, keys):
        dialect_id = settings.find_id(conn, "dialect", dialect)
        if dialect_id is None:
            stop(f"there is no dialect {dialect}")
        new = AccessDevice(AccessDeviceId(0), name, address, b"", DialectId(dialect_id), coa_port=coa_port)
        check_device(new)
        secret = read_secret(secret_file)
        check_secret(secret)
        access_devices.add_access_device(
            conn,
            keys,
            name,
            address=address,
            secret=secret.encode(),
            dialect=new.dialect,
            coa_port=coa_port,
        )
    what = "devices in the range" if new.is_range else "an access device"
    typer.echo(f"{name} at {address}: {what}, heard from now on.")


@network.command("add")
def add_network(
    name: str,
    data: Data,
    ssid: Annotated[str, typer.Option(help="The SSID, exactly as devices join it.")],
    door_role: Annotated[str, typer.Option(help="The role before login.")] = "Doorstep",
) -> None:
    """Name a guest network; devices on it are asked for a code."""
    with settings_of(data) as (conn, _):
        door = settings.find_id(conn, "role", door_role)
        if door is None:
            stop(f"there is no role {door_role}")
        networks.add_network(conn, name, ssid=ssid.encode(), door_role=RoleId(door))
    typer.echo(f"{name} is a guest network now: SSID {ssid}, {door_role} before login, vouchers let in.")


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
    with settings_of(data) as (conn, _):
        found = next((one for one in networks.load_roles(conn) if one.name == name), None)
        if found is None:
            stop(f"there is no role {name}")
        new_vlan = None if no_vlan else vlan if vlan is not None else found.vlan
        new_filter = None if no_filter else filter_name if filter_name is not None else found.filter_name
        check_role(found.with_placement(new_vlan, new_filter))
        networks.set_role(conn, name, vlan=new_vlan, filter_name=new_filter)
    typer.echo(f"{name}: VLAN {new_vlan or 'none'}, filter {new_filter or 'none'}.")


@people.command("password")
def reset_password(name: str, data: Data) -> None:
    """Give somebody a new first password, good for a day; makes the person if there is none."""
    password = secrets.token_urlsafe(12)
    hashed = PasswordHasher().hash(password)
    with settings_of(data) as (conn, _):
        staff.put_first_password(conn, name, hashed, until=time.time() + 86_400)
    forget_first_sign_in(data, name)
    typer.echo(f"{name} signs in with {password} within a day, and then chooses another one.")
