"""All commands, and those that are in no group."""

from pathlib import Path
from typing import Annotated

import typer
import uvloop

from lauschen import __version__
from lauschen.cli.config import device, network, people, role
from lauschen.cli.log_lines import log_plainly
from lauschen.cli.probe import Ask, Probe, build, exchange, judge, say
from lauschen.cli.saying import SecretFile, address_and_port, read_secret, stop
from lauschen.cli.serve import serve
from lauschen.core.errors import Invalid
from lauschen.radius.wire.codec import parse

main = typer.Typer(
    help="Lauschen: the front door of a guest network.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_show_locals=False,  # keys are among them
)
main.command()(serve)
main.add_typer(device, name="device")
main.add_typer(network, name="network")
main.add_typer(role, name="role")
main.add_typer(people, name="staff")


def _say_version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"lauschen {__version__}")
        raise typer.Exit


@main.callback()
def _whole(
    version: Annotated[
        bool,
        typer.Option("--version", help="Say which version this is.", callback=_say_version, is_eager=True),
    ] = False,
) -> None:
    """Lauschen: the front door of a guest network."""


@main.command()
def demo(
    crowd: Annotated[bool, typer.Option(help="Simulated guests that come and go.")] = True,
    seed: Annotated[int, typer.Option(help="Which crowd comes.")] = 7,
    ports: Annotated[str, typer.Option(help="`usual`, or `free` to let the system choose.")] = "usual",
    say: Annotated[Path | None, typer.Option(help="Write what is where as JSON to this file.")] = None,
    large: Annotated[
        bool,
        typer.Option(
            "--large",
            help="After a busy summer: 200,000 codes, 5,000 guests inside, a million stays and log entries; a minute"
            " to make.",
        ),
    ] = False,
) -> None:
    """Hollerau's Garden on this machine, in a temporary folder that is gone afterwards."""
    from lauschen.demo.run import run_demo

    if ports not in ("usual", "free"):
        stop(f"--ports {ports}: `usual` or `free`")
    log_plainly()
    try:
        uvloop.run(run_demo(crowd=crowd, seed=seed, use_free_ports=ports == "free", say=say, has_past=large))
    except OSError as exc:
        stop(f"cannot listen: {exc.strerror or exc}; is another demo running?")


@main.command()
def probe(
    ask: Annotated[Ask, typer.Argument(help="What to play.")],
    secret_file: SecretFile = None,
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
    where, secret = address_and_port(to), read_secret(secret_file)
    request = Probe(
        ask, secret, mac, ssid, session=session, name=name, password=password, by_chap=chap,
        signed=not unsigned, extra=attribute or [],
    )  # fmt: skip
    try:
        octets, authenticator = build(request)
        reply = exchange(octets, where, source=source)
    except Invalid as exc:
        stop(exc.mend)
    except OSError as exc:
        stop(str(exc))
    typer.echo("Sent " + "\n".join(say(parse(octets))))
    if reply is None:
        stop("nobody answered. Is this address an access device there, and the secret the same? See Paths.")
    packet, verdict = judge(reply, request, authenticator)
    if packet is not None:
        typer.echo("Heard " + "\n".join(say(packet)))
    typer.echo(verdict[0].upper() + verdict[1:] + ".")
    if packet is None or "another secret" in verdict:
        raise typer.Exit(1)
