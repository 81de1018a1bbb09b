"""What all commands share: how they stop with a sentence, read a secret, and open a data folder."""

import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, NoReturn

import typer

from lauschen.core.actor import COMMAND_LINE
from lauschen.core.errors import Invalid, LauschenError
from lauschen.road.chance import SystemChance
from lauschen.road.memory import Memory
from lauschen.road.tx import Tx
from lauschen.serve.first_run import open_data
from lauschen.store.config.settings import load_config
from lauschen.store.db import atomic
from lauschen.store.log import last_log_id

Data = Annotated[Path, typer.Option("--data", help="The data folder.")]
SecretFile = Annotated[
    Path | None,
    typer.Option(
        "--secret-file", help="A file with the shared secret, or - for standard input; else it is asked."
    ),
]
LARGEST_PORT = 65535


def stop(why: str) -> NoReturn:
    """Ends the command with status 2 and one sentence."""
    typer.echo(f"lauschen: {why}", err=True)
    raise typer.Exit(2)


def read_secret(file: Path | None) -> str:
    """A shared secret; never an argument, which everybody on this machine could read in the list of processes."""
    if file is None:
        secret = str(typer.prompt("Shared secret", hide_input=True))
    elif str(file) == "-":
        secret = sys.stdin.readline()
    else:
        try:
            secret = file.read_text("utf-8")
        except (OSError, UnicodeDecodeError) as exc:
            stop(f"{file} cannot be read: {exc}")
    return secret.strip("\r\n")


def address_and_port(text: str) -> tuple[str, int]:
    host, _, port = text.rpartition(":")
    is_host = bool(host) and (":" not in host or (host.startswith("[") and host.endswith("]")))
    is_port = port.isascii() and port.isdecimal() and len(port) <= 5 and int(port) <= LARGEST_PORT
    if not (is_host and is_port):
        stop(f"{text}: an address and a port from 0 to {LARGEST_PORT}, such as 127.0.0.1:7700 or [::1]:7700")
    return host.removeprefix("[").removesuffix("]"), int(port)


@contextmanager
def act_on(data: Path) -> Iterator[Tx]:
    """One act of the command line on a data folder, in the same record as any other; a running server takes it in.

    Our errors end the command with a sentence, and nothing is changed.
    """
    try:
        conn, keys = open_data(data)
        conn.execute("PRAGMA busy_timeout=5000")
        try:
            with atomic(conn):
                tx = Tx(
                    conn,
                    config=load_config(conn, keys),
                    keys=keys,
                    now=time.time(),
                    chance=SystemChance(),
                    next_log_id=last_log_id(conn) + 1,
                    memory=Memory(),
                )
                with tx.inner(by=COMMAND_LINE):
                    yield tx
                tx.flush()
        finally:
            conn.close()
    except Invalid as exc:
        stop(f"{exc.code.replace('_', ' ')}. {exc.mend}")
    except (LauschenError, FileNotFoundError) as exc:
        stop(str(exc))
