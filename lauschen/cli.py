"""The command line: serve, set up, and the demo."""

import gc
import os
import secrets
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from ipaddress import IPv4Address
from pathlib import Path
from sqlite3 import Connection
from typing import Annotated, NoReturn

import structlog
import typer
import uvloop
from argon2 import PasswordHasher

from lauschen.core.errors import Invalid, LauschenError
from lauschen.core.ids import DialectId, RoleId
from lauschen.first_run import SiteWords, open_data, set_up
from lauschen.outgoing.reach import read_reach
from lauschen.probe import Ask, Probe, build, exchange, judge, say
from lauschen.radius.codec import parse
from lauschen.radius.tls import Certificates
from lauschen.road.clock import Clock
from lauschen.service import AlreadyServing, Options, Service, until_signalled
from lauschen.store import access_devices, networks, settings, staff
from lauschen.store.db import atomic
from lauschen.store.keys import KeyRing

main = typer.Typer(
    help="Lauschen: the front door of a guest network.", no_args_is_help=True, add_completion=False
)
device = typer.Typer(help="Access devices: who sends us RADIUS.", no_args_is_help=True)
network = typer.Typer(help="Guest networks: what devices join.", no_args_is_help=True)
role = typer.Typer(help="Roles: where devices are placed.", no_args_is_help=True)
people = typer.Typer(help="Staff who may sign in.", no_args_is_help=True)
main.add_typer(device, name="device")
main.add_typer(network, name="network")
main.add_typer(role, name="role")
main.add_typer(people, name="staff")

Data = Annotated[Path, typer.Option("--data", help="The data folder.")]
FIRST_SIGN_IN = "first-sign-in.txt"


@main.command()
def serve(
    data: Data,
    staff_at: Annotated[
        str, typer.Option("--staff", help="Address and port of the console.")
    ] = "127.0.0.1:7700",
    portal_at: Annotated[
        str, typer.Option("--portal", help="Address and port of the guest page.")
    ] = "0.0.0.0:7701",
    radius: Annotated[str, typer.Option(help="Address that hears RADIUS.")] = "0.0.0.0",  # noqa: S104
    auth_port: Annotated[int, typer.Option(help="UDP port of authentication.")] = 1812,
    acct_port: Annotated[int, typer.Option(help="UDP port of accounting.")] = 1813,
    staff_name: Annotated[
        list[str] | None, typer.Option(help="A host name (with port) under which staff call the console.")
    ] = None,
    page_url: Annotated[
        str | None, typer.Option(help="Address of the guest page as guests reach it, without a path.")
    ] = None,
    slip_host: Annotated[
        str | None, typer.Option(help="The short host name in the QR code of slips.")
    ] = None,
    tls_port: Annotated[int, typer.Option(help="TCP port of RADIUS over TLS.")] = 2083,
    tls_certificate: Annotated[
        Path | None, typer.Option(help="Our certificate (PEM); with it RADIUS over TLS is heard.")
    ] = None,
    tls_key: Annotated[Path | None, typer.Option(help="Its key (PEM).")] = None,
    tls_authorities: Annotated[
        Path | None, typer.Option(help="Certificates that sign those of access devices, or are theirs (PEM).")
    ] = None,
    reach: Annotated[
        list[str] | None,
        typer.Option(help="A private range, or http://ADDRESS:PORT, that calls to controllers may go to."),
    ] = None,
    believe_clock: Annotated[
        bool, typer.Option("--believe-clock", help="Even if it is earlier than the newest record.")
    ] = False,
    site: Annotated[str, typer.Option(help="Name of the site, at a first run.")] = "Our house",
    zone: Annotated[str, typer.Option(help="Time zone of the site, at a first run.")] = "UTC",
) -> None:
    """Serve a guest network. A first run creates the data folder and a first administrator."""
    try:
        may_reach = read_reach(reach or [])
    except Invalid as exc:
        _stop(exc.mend)
    certificates = None
    if tls_certificate or tls_key or tls_authorities:
        if not (tls_certificate and tls_key and tls_authorities):
            _stop("RADIUS over TLS needs all of --tls-certificate, --tls-key and --tls-authorities")
        certificates = Certificates(tls_certificate, tls_key, tls_authorities)
    options = Options(
        data,
        _address(staff_at),
        _address(portal_at),
        radius,
        auth_port,
        acct_port,
        tuple(staff_name or ()),
        tls_port if certificates else None,
        certificates,
        may_reach,
        believe_clock,
    )
    words = SiteWords(site, zone, page_url or f"http://{portal_at}", slip_host or "slip.invalid")
    _log_plainly()
    os.umask(0o077)
    try:
        password = set_up(data, words)
        conn, _ = open_data(data)
        if page_url or slip_host:
            with atomic(conn):
                settings.set_addresses(conn, page_url=page_url, slip_host=slip_host)
        conn.close()
    except LauschenError as exc:
        _stop(str(exc))
    if password is not None:
        _say_first_sign_in(data, password)
    uvloop.run(_serve(options))


@main.command()
def demo(
    crowd: Annotated[bool, typer.Option(help="Simulated guests that come and go.")] = True,
    seed: Annotated[int, typer.Option(help="Which crowd comes.")] = 7,
    ports: Annotated[str, typer.Option(help="`usual`, or `free` to let the system choose.")] = "usual",
    say: Annotated[Path | None, typer.Option(help="Write what is where as JSON to this file.")] = None,
) -> None:
    """Hollerau's Garden on this machine, in a temporary folder that is gone afterwards."""
    from lauschen.demo.run import run_demo

    _log_plainly()
    try:
        uvloop.run(run_demo(crowd=crowd, seed=seed, use_free_ports=ports == "free", say=say))
    except OSError as exc:
        _stop(f"cannot listen: {exc}; is another demo running?")


@device.command("add")
def add_device(
    name: str,
    address: str,
    data: Data,
    secret: Annotated[str, typer.Option(prompt=True, hide_input=True, help="The shared secret.")],
    dialect: Annotated[str, typer.Option(help="`re-authorise` or `disconnect`.")] = "disconnect",
    coa_port: Annotated[int, typer.Option(help="Where it hears Disconnect and CoA.")] = 3799,
) -> None:
    """Take in an access device; a running server answers it within a second."""
    try:
        IPv4Address(address)
    except ValueError:
        _stop(f"{address} is no IPv4 address")
    if len(secret) < 8:
        _stop("a shared secret has at least 8 characters; 16 random ones are good")
    with _settings(data) as (conn, keys):
        dialect_id = settings.find_id(conn, "dialect", dialect)
        if dialect_id is None:
            _stop(f"there is no dialect {dialect}")
        access_devices.add_access_device(
            conn,
            keys,
            name,
            address=address,
            secret=secret.encode(),
            dialect=DialectId(dialect_id),
            coa_port=coa_port,
        )
    typer.echo(f"{name} at {address} is an access device now.")


@network.command("add")
def add_network(
    name: str,
    data: Data,
    ssid: Annotated[str, typer.Option(help="The SSID, exactly as devices join it.")],
    door_role: Annotated[str, typer.Option(help="The role before login.")] = "Doorstep",
) -> None:
    """Name a guest network; devices on it are asked for a code."""
    with _settings(data) as (conn, _):
        door = settings.find_id(conn, "role", door_role)
        if door is None:
            _stop(f"there is no role {door_role}")
        networks.add_network(conn, name, ssid=ssid.encode(), door_role=RoleId(door))
    typer.echo(f"{name} is a guest network now: SSID {ssid}, {door_role} before login, vouchers let in.")


@role.command("set")
def set_role(
    name: str,
    data: Data,
    vlan: Annotated[int | None, typer.Option(min=1, max=4094, help="VLAN sent to the access device.")] = None,
    filter_name: Annotated[str | None, typer.Option("--filter", help="Filter-Id sent to it.")] = None,
) -> None:
    """Set the VLAN and the filter name of a role; what is not given is not sent."""
    with _settings(data) as (conn, _):
        if not networks.set_role(conn, name, vlan=vlan, filter_name=filter_name):
            _stop(f"there is no role {name}")
    typer.echo(f"{name}: VLAN {vlan or 'none'}, filter {filter_name or 'none'}.")


@main.command()
def probe(
    ask: Annotated[Ask, typer.Argument(help="What to play.")],
    secret: Annotated[str, typer.Option(prompt=True, hide_input=True, help="The shared secret.")],
    to: Annotated[str, typer.Option(help="Address and port; accounting is usually 1813.")] = "127.0.0.1:1812",
    mac: Annotated[
        str, typer.Option(help="The device, as the access device would spell it.")
    ] = "02-00-00-00-00-01",
    ssid: Annotated[str, typer.Option(help="The SSID it joins.")] = "",
    name: Annotated[str, typer.Option(help="User-Name of a person.")] = "",
    password: Annotated[str, typer.Option(help="A person's password, such as a voucher code.")] = "",
    chap: Annotated[bool, typer.Option("--chap", help="CHAP instead of PAP.")] = False,
    session: Annotated[str, typer.Option(help="Acct-Session-Id.")] = "probe",
    unsigned: Annotated[bool, typer.Option("--unsigned", help="No Message-Authenticator.")] = False,
    source: Annotated[str | None, typer.Option("--from", help="Send from this address of ours.")] = None,
    attribute: Annotated[
        list[str] | None, typer.Option(help="Name=value of one more; may be repeated.")
    ] = None,
) -> None:
    """Send one request as an access device would, and print the answer in words."""
    request = Probe(
        ask, secret, mac, ssid, session=session, name=name, password=password, by_chap=chap,
        signed=not unsigned, extra=attribute or [],
    )  # fmt: skip
    try:
        octets, authenticator = build(request)
        reply = exchange(octets, _address(to), source=source)
    except Invalid as exc:
        _stop(exc.mend)
    except OSError as exc:
        _stop(str(exc))
    typer.echo("Sent " + "\n".join(say(parse(octets))))
    if reply is None:
        _stop("nobody answered. Is this address an access device there, and the secret the same? See Paths.")
    packet, verdict = judge(reply, request, authenticator)
    if packet is not None:
        typer.echo("Heard " + "\n".join(say(packet)))
    typer.echo(verdict[0].upper() + verdict[1:] + ".")
    if packet is None or "another secret" in verdict:
        raise typer.Exit(1)


@people.command("password")
def reset_password(name: str, data: Data) -> None:
    """Give somebody a new first password, good for a day; makes the person if there is none."""
    password = secrets.token_urlsafe(12)
    hashed = PasswordHasher().hash(password)
    with _settings(data) as (conn, _):
        staff.put_first_password(conn, name, hashed, until=time.time() + 86_400)
    typer.echo(f"{name} signs in with {password} within a day, and then chooses another one.")


async def _serve(options: Options) -> None:
    service = Service(options, Clock())
    try:
        await service.start()
    except AlreadyServing as exc:
        _stop(str(exc))
    except OSError as exc:
        _stop(f"cannot listen: {exc}")
    # Rulings 1.3: what is there after start stays, so the collector need not look at it again.
    gc.collect()
    gc.freeze()
    # What packets leave behind is freed at once by its count; a full collection would hold the loop for tens of
    # milliseconds, so it waits for a quiet moment (service._watch).
    gc.set_threshold(20_000, 50, 1_000_000)
    host = options.staff[0]
    typer.echo(f"Staff: http://{host}:{service.ports['staff']}   guest page: port {service.ports['portal']}")
    typer.echo(f"RADIUS: {options.radius_host}, {service.ports['auth']} and {service.ports['acct']}")
    await until_signalled()
    await service.close()


@contextmanager
def _settings(data: Path) -> Iterator[tuple[Connection, KeyRing]]:
    """The data folder's connection and keys, in one transaction; our errors end the command with a sentence."""
    try:
        conn, keys = open_data(data)
        conn.execute("PRAGMA busy_timeout=5000")
        try:
            with atomic(conn):
                yield conn, keys
        finally:
            conn.close()
    except Invalid as exc:
        _stop(f"{exc.code.replace('_', ' ')}. {exc.mend}")
    except (LauschenError, FileNotFoundError) as exc:
        _stop(str(exc))


def _address(text: str) -> tuple[str, int]:
    host, _, port = text.rpartition(":")
    if not host or not port.isdigit():
        _stop(f"{text}: an address and a port, such as 127.0.0.1:7700")
    return host, int(port)


def _say_first_sign_in(data: Path, password: str) -> None:
    text = f"First sign-in, good for 24 hours: name admin, password {password}"
    if sys.stdout.isatty():
        typer.echo(text)
        return
    file = data / FIRST_SIGN_IN
    file.touch(0o600)
    file.write_text(text + "\n")
    typer.echo(f"The first sign-in is in {file}")


def _stop(why: str) -> NoReturn:
    typer.echo(f"lauschen: {why}", err=True)
    raise typer.Exit(2)


def _log_plainly() -> None:
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso"),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(),
        ],
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
    )
