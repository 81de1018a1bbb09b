"""The command line: a first run, access devices and networks, and what it refuses."""

import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest
from typer.testing import CliRunner

from lauschen.cli import main
from lauschen.core.dialect import Move
from lauschen.first_run import SiteWords, open_data, set_up
from lauschen.service import take_lock
from lauschen.store import staff
from lauschen.store.db import DATABASE_NAME
from lauschen.store.keys import KEY_NAME
from lauschen.store.settings import load_house

WORDS = SiteWords("Hollerau", "Europe/Vienna", "http://welcome.hollerau.example", "slip.hollerau.example")


def run(*arguments: str) -> tuple[int, str]:
    result = CliRunner().invoke(main, [str(a) for a in arguments])
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
    house = load_house(conn, keys)
    assert {r.name for r in house.roles.values()} == {"Doorstep", "Visitor"}
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
        "--secret",
        "sixteen-letters!",
        "--dialect",
        "re-authorise",
    )
    assert (code, said.strip()) == (0, "West at 10.77.0.11 is an access device now.")
    conn, keys = open_data(new)
    house = load_house(conn, keys)
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
        (("device", "add", "West", "not-an-address", "--secret", "sixteen-letters!"), "no IPv4 address"),
        (("device", "add", "West", "10.77.0.11", "--secret", "short"), "at least 8"),
        (
            ("device", "add", "West", "10.77.0.11", "--secret", "sixteen-letters!", "--dialect", "x"),
            "no dialect",
        ),
        (("network", "add", "G", "--ssid", "G", "--door-role", "x"), "no role"),
        (("role", "set", "Nobody", "--vlan", "5"), "no role"),
    ],
)
def test_what_cannot_be_is_said(new: Path, arguments: tuple[str, ...], why: str) -> None:
    code, said = run(*arguments, "--data", str(new))
    assert code == 2
    assert why in said


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


def serve(data: Path) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "lauschen", "serve", "--data", str(data), "--staff", "127.0.0.1:0"]
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


def test_one_data_folder_is_served_once(new: Path) -> None:
    held = take_lock(new)
    done = serve(new)
    os.close(held)
    assert done.returncode == 2
    assert "served by another process already" in done.stderr


def test_a_half_made_folder_is_made_again(tmp_path: Path) -> None:
    folder = tmp_path / "half"
    folder.mkdir()
    (folder / DATABASE_NAME).with_suffix(".beginning").write_bytes(b"half")
    assert set_up(folder, WORDS) is not None
