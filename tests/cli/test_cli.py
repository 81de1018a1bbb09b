"""The command line: a first run, access devices and networks, and what it refuses."""

import os
import socket
import sqlite3
import stat
import subprocess
import sys
from pathlib import Path

import pytest
from typer.testing import CliRunner

from lauschen import __version__
from lauschen.cli import commands, main
from lauschen.core.config.dialect import Move
from lauschen.radius.wire.codec import parse
from lauschen.radius.wire.numbers import Code
from lauschen.radius.wire.signing import Secret
from lauschen.serve.first_run import SiteWords, open_data, set_up
from lauschen.serve.service import take_lock
from lauschen.store.config.settings import load_config
from lauschen.store.db import DATABASE_NAME
from lauschen.store.keys import KEY_NAME
from lauschen.store.people import staff

WORDS = SiteWords("Hollerau", "Europe/Vienna", "http://welcome.hollerau.example", "slip.hollerau.example")


SECRET = ("--secret-file", "-")


def run(*arguments: str, typed: str = "sixteen-letters!\n") -> tuple[int, str]:
    result = CliRunner().invoke(main, [str(a) for a in arguments], input=typed)
    return result.exit_code, result.output


@pytest.fixture
def new(tmp_path: Path) -> Path:
    folder = tmp_path / "new"
    assert set_up(folder, WORDS)
    return folder


def test_a_first_run_makes_all_that_is_needed(new: Path) -> None:
    assert stat.S_IMODE(new.stat().st_mode) == 0o700
    assert stat.S_IMODE((new / KEY_NAME).stat().st_mode) == 0o600
    conn, keys = open_data(new)
    house = load_config(conn, keys)
    assert {r.name for r in house.roles.values()} == {"Before login", "Visitor"}
    (plan,) = house.plans.values()
    assert (plan.name, plan.seconds, plan.octets, plan.devices) == ("Day visit", 8 * 3600, 2 * 10**9, 1)
    admin = staff.find_staff(conn, "admin")
    assert admin is not None
    assert admin.must_change
    conn.close()
    assert set_up(new, WORDS) is None  # a second run changes nothing


def test_a_device_and_a_network_are_added(new: Path) -> None:
    data = ("--data", str(new))
    assert run("network", "add", "Garden", *data, "--ssid", "Hollerau Garden")[0] == 0
    assert run("role", "set", "Visitor", *data, "--vlan", "310", "--filter", "visitor")[0] == 0
    code, said = run(
        "device",
        "add",
        "West",
        "10.77.0.11",
        *data,
        *SECRET,
        "--dialect",
        "re-authorise",
        "--serves",
        "Garden",
    )
    assert (code, said.strip()) == (0, "West at 10.77.0.11: an access device, heard from now on.")
    conn, keys = open_data(new)
    house = load_config(conn, keys)
    conn.close()
    (device,) = house.access_devices.values()
    assert device.address == "10.77.0.11"
    assert device.secret == b"sixteen-letters!"
    assert house.dialects[device.dialect].login_move is Move.REAUTHORISE
    network = house.recognise(device.id, b"Hollerau Garden")
    assert network is not None
    assert network.name == "Garden"
    assert {r.name: r.vlan for r in house.roles.values()}["Visitor"] == 310


@pytest.mark.parametrize(
    ("arguments", "why"),
    [
        (("device", "add", "West", "not-an-address", *SECRET), "An IPv4 or IPv6 address, or a range"),
        (("device", "add", "West", "10.0.0.0/8", *SECRET), "At most a /16"),
        (("device", "add", "West", "10.77.0.11", "--secret-file", "/nowhere"), "cannot be read"),
        (("device", "add", "West", "10.77.0.11", *SECRET, "--dialect", "x"), "no dialect"),
        (("device", "add", "West", "10.77.0.11", *SECRET, "--coa-port", "70000"), "Invalid value"),
        (("device", "add", "West", "10.77.0.11", *SECRET, "--serves", "x"), "no network"),
        (("device", "serves", "x"), "no access device"),
        (("network", "add", "G", "--ssid", "G", "--door-role", "x"), "no role"),
        (("network", "add", "G", "--ssid", "G", "--served-by", "x"), "no access device"),
        (("role", "set", "Nobody", "--vlan", "5"), "no role"),
        (("role", "set", "Visitor", "--vlan", "5", "--no-vlan"), "not both"),
        (("role", "set", "Visitor", "--filter", "ü" * 200), "253 octets"),
    ],
)
def test_what_cannot_be_is_said(new: Path, arguments: tuple[str, ...], why: str) -> None:
    code, said = run(*arguments, "--data", str(new))
    assert code == 2
    assert why in said
    conn, keys = open_data(new)
    assert load_config(conn, keys).access_devices == {}
    conn.close()


def test_a_secret_is_checked_and_is_never_an_argument(new: Path, tmp_path: Path) -> None:
    add = ("device", "add", "West", "10.77.0.0/24", "--data", str(new))
    assert "At least 8 characters" in run(*add, *SECRET, typed="short\n")[1]
    code, said = run(*add, "--secret", "sixteen-letters!")
    assert (code, "No such option" in said) == (2, True)
    code, said = run(*add)  # asked for, and not shown
    assert code == 0
    assert "sixteen" not in said
    assert "devices in the range" in said
    file = tmp_path / "secret"
    file.write_text("from-a-file-it-is\n")
    assert run("device", "add", "East", "10.77.1.1", "--data", str(new), "--secret-file", str(file))[0] == 0
    conn, keys = open_data(new)
    found = {d.address: d.secret for d in load_config(conn, keys).access_devices.values()}
    conn.close()
    assert found == {"10.77.0.0/24": b"sixteen-letters!", "10.77.1.1": b"from-a-file-it-is"}


def test_networks_and_access_devices_are_listed_for_each_other(new: Path) -> None:
    def serves() -> dict[str, int]:
        conn, keys = open_data(new)
        found = {d.name: len(d.serves) for d in load_config(conn, keys).access_devices.values()}
        conn.close()
        return found

    data = ("--data", str(new))
    code, said = run("device", "add", "West", "10.77.0.11", *SECRET, *data)
    assert (code, "nobody gets in there" in said) == (0, True)
    assert run("network", "add", "Garden", "--ssid", "Garden", "--served-by", "West", *data)[0] == 0
    assert run("device", "add", "East", "10.77.0.12", *SECRET, "--serves", "Garden", *data)[0] == 0
    assert serves() == {"West": 1, "East": 1}
    code, said = run("device", "serves", "West", *data)
    assert (code, said) == (0, "West may ask for no network.\n")
    assert serves() == {"West": 0, "East": 1}
    assert run("device", "serves", "West", "Garden", "Nowhere", *data)[0] == 2
    assert "West may ask for Garden." in run("device", "serves", "West", "Garden", *data)[1]
    assert serves() == {"West": 1, "East": 1}


def test_what_is_not_named_of_a_role_stays(new: Path) -> None:
    role = ("role", "set", "Visitor", "--data", str(new))
    assert run(*role, "--vlan", "310", "--filter", "visitor")[1] == "Visitor: VLAN 310, filter visitor.\n"
    assert run(*role)[1] == "Visitor: VLAN 310, filter visitor.\n"
    assert run(*role, "--vlan", "311")[1] == "Visitor: VLAN 311, filter visitor.\n"
    assert run(*role, "--no-filter")[1] == "Visitor: VLAN 311, filter none.\n"
    assert run(*role, "--no-vlan", "--filter", "v")[1] == "Visitor: VLAN none, filter v.\n"


def test_a_network_needs_no_door_role_by_name_unless_there_are_several(new: Path) -> None:
    add = ("network", "add", "Garden", "--data", str(new), "--ssid", "G")
    conn, _ = open_data(new)
    conn.execute("UPDATE role SET name = 'Doorstep' WHERE is_door")  # as older versions named it
    conn.execute("INSERT INTO role (name, is_door) VALUES ('Practice door', 1)")
    conn.close()
    code, said = run(*add)
    assert (code, "--door-role" in said) == (2, True)
    assert "role before login Doorstep" in run(*add, "--door-role", "Doorstep")[1]


def test_it_says_which_version_it_is() -> None:
    assert run("--version") == (0, f"lauschen {__version__}\n")


def test_a_name_that_is_taken_is_said(new: Path) -> None:
    add = ("network", "add", "Garden", "--data", str(new), "--ssid", "G")
    assert run(*add)[0] == 0
    assert "taken" in run(*add)[1]


def test_a_folder_that_was_never_set_up_is_said(tmp_path: Path) -> None:
    code, said = run("network", "add", "G", "--data", str(tmp_path), "--ssid", "G")
    assert code == 2
    assert "no database yet" in said


def test_a_person_gets_a_new_first_password(new: Path) -> None:
    code, said = run("staff", "password", "mirela", "--data", str(new))
    assert code == 0
    assert "mirela signs in with" in said
    conn, _ = open_data(new)
    assert staff.find_staff(conn, "mirela") is not None
    conn.close()


def serve(data: Path, *more: str) -> subprocess.CompletedProcess[str]:
    command = [
        sys.executable,
        "-m",
        "lauschen",
        "serve",
        "--data",
        str(data),
        "--staff",
        "127.0.0.1:0",
        *more,
    ]
    return subprocess.run(command, capture_output=True, text=True, timeout=30, check=False)


def test_serve_refuses_without_its_key_and_says_why(new: Path) -> None:
    (new / KEY_NAME).unlink()
    done = serve(new)
    assert done.returncode == 2
    assert "key file lauschen.key is missing" in done.stderr
    assert "Traceback" not in done.stderr


def test_serve_refuses_with_a_foreign_key_and_says_why(new: Path, tmp_path: Path) -> None:
    set_up(tmp_path / "other", WORDS)
    (tmp_path / "other" / KEY_NAME).replace(new / KEY_NAME)
    done = serve(new)
    assert done.returncode == 2
    assert "belongs to another database" in done.stderr


def test_serve_refuses_a_folder_of_a_newer_version_and_says_what_to_do(new: Path) -> None:
    conn, _ = open_data(new)
    conn.execute("PRAGMA user_version = 999")
    conn.close()
    done = serve(new)
    assert done.returncode == 2
    assert done.stderr.startswith("lauschen: A newer version of Lauschen has written this folder")
    assert "newer version" in run("staff", "password", "mirela", "--data", str(new))[1]


def test_one_data_folder_is_served_once_and_a_second_one_changes_nothing(new: Path) -> None:
    conn, _ = open_data(new)
    conn.execute("PRAGMA user_version = 3")  # as if the other one were of an earlier version
    conn.execute("DROP TABLE id_mark")
    conn.close()
    held = take_lock(new)
    done = serve(new, "--page-url", "http://other.example")
    os.close(held)
    assert done.returncode == 2
    assert "served by another process already" in done.stderr
    conn = sqlite3.connect(new / DATABASE_NAME)
    assert conn.execute("PRAGMA user_version").fetchone() == (3,)
    assert conn.execute("SELECT page_url FROM house").fetchone() == (WORDS.page_url,)
    conn.close()


@pytest.mark.parametrize(
    ("options", "why"),
    [
        (("--zone", "Nowhere/Here"), "--zone: Nowhere/Here: no time zone"),
        (("--zone", "../../etc/passwd"), "no time zone"),
        (("--page-url", "welcome.house.example"), "--page-url: An address that begins with"),
        (("--page-url", "http://welcome.house.example/page"), "an address without a path"),
        (("--page-url", "http://welcome.house.example/"), "an address without a path"),
        (("--page-url", "http://welcome.house.example:99999"), "port is none"),
        (("--page-url", "http://user@welcome.house.example"), "an address without a path"),
        (("--slip-host", "http://slip.house.example"), "--slip-host: http://slip.house.example: a host name"),
        (("--guest-name", "a b"), "--guest-name: a b: a host name"),
        (("--staff", "127.0.0.1:99999"), "an address and a port"),
        (("--portal", "7701"), "an address and a port"),
        (("--auth-port", "99999"), "Invalid value"),
        (("--reach", "10.0.0.0/99"), "--reach: 10.0.0.0/99: a range"),
        (("--tls-certificate", "/nowhere.pem"), "needs all of"),
        (
            (
                "--tls-certificate",
                "/nowhere.pem",
                "--tls-key",
                "/nowhere.key",
                "--tls-authorities",
                "/nowhere.ca",
            ),
            "cannot be used",
        ),
    ],
)
def test_an_option_that_is_wrong_is_a_sentence_and_no_half_made_folder(
    tmp_path: Path, options: tuple[str, ...], why: str
) -> None:
    folder = tmp_path / "new"
    code, said = run("serve", "--data", str(folder), *options)
    assert code == 2
    assert why in " ".join(said.split())
    assert not folder.exists()


@pytest.mark.parametrize("taken", [socket.SOCK_STREAM, socket.SOCK_DGRAM], ids=["the page", "RADIUS"])
def test_a_port_that_cannot_be_had_is_named(new: Path, taken: socket.SocketKind) -> None:
    with socket.socket(socket.AF_INET, taken) as other:
        other.bind(("127.0.0.1", 0))
        if taken is socket.SOCK_STREAM:
            other.listen()
        port = other.getsockname()[1]
        free = ("--radius", "127.0.0.1", "--acct-port", "0", "--portal")
        if taken is socket.SOCK_STREAM:
            done = serve(new, *free, f"127.0.0.1:{port}", "--auth-port", "0")
        else:
            done = serve(new, *free, "127.0.0.1:0", "--auth-port", str(port))
    kind = "TCP" if taken is socket.SOCK_STREAM else "UDP"
    assert done.returncode == 2
    assert f"cannot listen: Address already in use ({kind} 127.0.0.1:{port})" in done.stderr
    assert "Traceback" not in done.stderr


def test_a_half_made_folder_is_made_again(tmp_path: Path) -> None:
    folder = tmp_path / "half"
    folder.mkdir()
    (folder / DATABASE_NAME).with_suffix(".beginning").write_bytes(b"half")
    assert set_up(folder, WORDS) is not None


def test_a_probe_says_what_it_sent_and_what_it_heard(monkeypatch: pytest.MonkeyPatch) -> None:
    key = Secret(b"sixteen-letters!")
    monkeypatch.setattr(
        commands, "exchange", lambda octets, *_, **__: key.reply(Code.ACCESS_REJECT, parse(octets), b"")
    )
    status, said = run("probe", "mac", "--to", "127.0.0.1:1812", *SECRET)
    assert status == 0, said
    lines = [line for line in said.splitlines() if not line.startswith(" ")]
    assert [line.split()[0] for line in lines[-3:]] == ["Sent", "Heard", "The"]
