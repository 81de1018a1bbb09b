"""`lauschen serve`: every option is looked at before anything is made or changed."""

import os
import ssl
import sys
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Annotated

import typer
import uvloop

from lauschen.cli.log_lines import log_plainly
from lauschen.cli.saying import LARGEST_PORT, Data, address_and_port, stop
from lauschen.core.config.checks import check_host, check_page_url, check_zone
from lauschen.core.errors import Invalid, LauschenError
from lauschen.core.words.ip import in_url, read_ip
from lauschen.http.certificate import Certificate
from lauschen.outgoing.reach import read_reach
from lauschen.radius.listen.tls import Certificates
from lauschen.road.clock import Clock
from lauschen.serve.collector import keep_away
from lauschen.serve.first_run import SiteWords, open_data, set_up
from lauschen.serve.listening import ALL4, EVERYWHERE
from lauschen.serve.service import Options, Service, take_lock, until_signalled
from lauschen.store.config import settings
from lauschen.store.db import atomic
from lauschen.store.first_sign_in import FIRST_SIGN_IN


def serve(
    data: Data,
    staff_at: Annotated[
        str, typer.Option("--staff", help="Address and port of the console.")
    ] = "127.0.0.1:7700",
    portal_at: Annotated[
        str,
        typer.Option("--portal", help="Address and port of the guest page, such as `[2001:db8::7]:7701`."),
    ] = "*:7701",
    radius: Annotated[
        str,
        typer.Option(help="Address that hears RADIUS. `*`: all addresses of this machine, IPv4 and IPv6."),
    ] = EVERYWHERE,
    auth_port: Annotated[
        int, typer.Option(min=0, max=LARGEST_PORT, help="UDP port of authentication.")
    ] = 1812,
    acct_port: Annotated[int, typer.Option(min=0, max=LARGEST_PORT, help="UDP port of accounting.")] = 1813,
    staff_name: Annotated[
        list[str] | None, typer.Option(help="A host name (with port) under which staff call the console.")
    ] = None,
    guest_name: Annotated[
        list[str] | None,
        typer.Option(
            help="One more host name of the guest page, besides those of its address and the slips."
        ),
    ] = None,
    behind: Annotated[
        list[str] | None,
        typer.Option(help="Address of a TLS proxy in front, whose X-Forwarded-For and -Proto are believed."),
    ] = None,
    certificate: Annotated[
        Path | None,
        typer.Option(
            help="Certificate of console and guest page, with those above it (PEM); with it they speak HTTPS."
        ),
    ] = None,
    key: Annotated[Path | None, typer.Option(help="Its key (PEM).")] = None,
    portal_tls_at: Annotated[
        str, typer.Option("--portal-tls", help="Address and port of the guest page by HTTPS.")
    ] = "*:7743",
    page_url: Annotated[
        str | None, typer.Option(help="Address of the guest page as guests reach it, without a path.")
    ] = None,
    slip_host: Annotated[
        str | None, typer.Option(help="The short host name in the QR code of slips.")
    ] = None,
    tls_port: Annotated[
        int, typer.Option(min=0, max=LARGEST_PORT, help="TCP port of RADIUS over TLS.")
    ] = 2083,
    tls_certificate: Annotated[
        Path | None, typer.Option(help="Our certificate (PEM); with it RADIUS over TLS is heard.")
    ] = None,
    tls_key: Annotated[Path | None, typer.Option(help="Its key (PEM).")] = None,
    tls_authorities: Annotated[
        Path | None, typer.Option(help="Certificates that sign those of access devices, or are theirs (PEM).")
    ] = None,
    reach: Annotated[
        list[str] | None,
        typer.Option(
            help="A private range, or http://ADDRESS:PORT, that calls, mails and lines of ours may go to."
        ),
    ] = None,
    key_files: Annotated[
        Path | None,
        typer.Option(help="Folder of the passphrase files of access points on this host."),
    ] = None,
    hostapd: Annotated[Path | None, typer.Option(help="Folder of their control sockets.")] = None,
    site: Annotated[str, typer.Option(help="Name of the site, at a first run.")] = "Our house",
    zone: Annotated[str, typer.Option(help="Time zone of the site, at a first run.")] = "UTC",
) -> None:
    """Serve a guest network. A first run creates the data folder and a first administrator."""
    given = _Given(page_url, slip_host, SiteWords(site, zone, page_url or _address_of(portal_at), ""))
    try:
        given = _checked(given)
        may_reach = read_reach(reach or [])
        guests = tuple(check_host(name, "guest_name") for name in guest_name or ())
    except Invalid as exc:
        stop(f"--{exc.field.replace('_', '-')}: {exc.mend}")
    certificates = _certificates(tls_certificate, tls_key, tls_authorities)
    options = Options(
        data,
        staff=address_and_port(staff_at),
        portal=address_and_port(portal_at),
        radius_host=radius,
        auth_port=auth_port,
        acct_port=acct_port,
        staff_names=tuple(staff_name or ()),
        tls_port=tls_port if certificates else None,
        certificates=certificates,
        reach=may_reach,
        warms_up=True,
        guest_names=guests,
        proxies=tuple(_proxy(address) for address in behind or ()),
        certificate=_page_certificate(certificate, key),
        portal_tls=address_and_port(portal_tls_at),
        key_files=key_files,
        hostapd=hostapd,
    )
    log_plainly()
    os.umask(0o077)
    # Before anything is migrated or set: whoever serves this folder already must not find it changed.
    try:
        lock = take_lock(data)
        password = _prepare(data, given)
    except Invalid as exc:
        stop(exc.mend)
    except (LauschenError, OSError) as exc:
        stop(str(exc))
    if password is not None:
        _say_first_sign_in(data, password)
    uvloop.run(_serve(options, lock))


def _address_of(portal_at: str) -> str:
    """Of the guest page, until somebody says under which name guests reach it."""
    return (
        f"http://{portal_at.replace(EVERYWHERE, ALL4, 1) if portal_at.startswith(EVERYWHERE) else portal_at}"
    )


@dataclass(frozen=True, slots=True)
class _Given:
    """What was typed of the names under which guests find the page."""

    page_url: str | None
    slip_host: str | None
    words: SiteWords


def _checked(given: _Given) -> _Given:
    """Invalid, naming the option, for an address, a host or a zone that is none."""
    if given.page_url is not None:
        check_page_url(given.page_url)
    if given.slip_host is not None:
        check_host(given.slip_host, "slip_host")
    check_zone(given.words.zone)
    return replace(given, words=replace(given.words, slip_host=given.slip_host or "slip.invalid"))


def _certificates(own: Path | None, key: Path | None, authorities: Path | None) -> Certificates | None:
    if own is None and key is None and authorities is None:
        return None
    if own is None or key is None or authorities is None:
        stop("RADIUS over TLS needs all of --tls-certificate, --tls-key and --tls-authorities")
    certificates = Certificates(own, key, authorities)
    try:
        certificates.context()
    except (OSError, ssl.SSLError) as exc:
        stop(f"RADIUS over TLS: one of {own}, {key} and {authorities} cannot be used: {exc}")
    return certificates


def _page_certificate(file: Path | None, key: Path | None) -> Certificate | None:
    if file is None and key is None:
        return None
    if file is None or key is None:
        stop("HTTPS needs both --certificate and --key")
    try:
        return Certificate(file, key)
    except (OSError, ssl.SSLError, ValueError) as exc:
        stop(f"HTTPS: {file} and {key} cannot be used together: {exc}")


def _proxy(address: str) -> str:
    try:
        return str(read_ip(address))
    except ValueError:
        stop(f"--behind {address}: the address of a proxy, such as 10.0.0.5")


def _prepare(data: Path, given: _Given) -> str | None:
    """Makes or migrates the folder, and sets the addresses that were given; a first password if it is new."""
    password = set_up(data, given.words)
    conn, _ = open_data(data)
    try:
        if given.page_url or given.slip_host:
            with atomic(conn):
                settings.set_addresses(conn, page_url=given.page_url, slip_host=given.slip_host)
    finally:
        conn.close()
    return password


async def _serve(options: Options, lock: int) -> None:
    service = Service(options, Clock(), lock)
    try:
        await service.start()
    except LauschenError as exc:
        stop(str(exc))
    except OSError as exc:
        stop(f"cannot listen: {exc.strerror or exc}")
    keep_away()
    host = "127.0.0.1" if options.staff[0] == EVERYWHERE else in_url(options.staff[0])
    scheme, secure = ("https", service.ports.get("portal_tls")) if options.certificate else ("http", None)
    guests = f"port {service.ports['portal']}" + (f", by HTTPS {secure}" if secure is not None else "")
    typer.echo(f"Staff: {scheme}://{host}:{service.ports['staff']}   guest page: {guests}")
    typer.echo(f"RADIUS: {options.radius_host}, {service.ports['auth']} and {service.ports['acct']}")
    if f"//{ALL4}" in service.road.config.page_url:
        typer.echo("Guests cannot reach the page yet: give its address with --page-url.", err=True)
    await until_signalled()
    await service.close()


def _say_first_sign_in(data: Path, password: str) -> None:
    text = f"First sign-in, good for 24 hours: name admin, password {password}"
    if sys.stdout.isatty():
        typer.echo(text)
        return
    file = data / FIRST_SIGN_IN
    file.touch(0o600)
    file.write_text(text + "\n")
    typer.echo(f"The first sign-in is in {file}; the file goes when the password is changed.")
