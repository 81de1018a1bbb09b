"""What the way from nothing to the first guest says, by what the networks take."""

from pathlib import Path

import pytest

from lauschen.api.now.first_path import first_path
from lauschen.core.ids import RoleId
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.core.ways.voucher import Voucher
from lauschen.radius.listen.registry import Registry
from lauschen.serve.first_run import SiteWords, open_data, set_up
from lauschen.store.config import networks, ways
from lauschen.store.config.settings import load_config
from lauschen.store.db import atomic


@pytest.mark.parametrize(
    ("offered", "title", "link"),
    [
        ([], "Issue the first voucher", "/desk?focus=one"),
        ([[PrivatePassphrase()]], "Issue the first passphrase", "/passphrases"),
        ([[PrivatePassphrase()], [Voucher()]], "Issue the first voucher", "/desk?focus=one"),
    ],
)
def test_what_is_issued_first_is_what_the_networks_take(
    tmp_path: Path, offered: list[list[Voucher | PrivatePassphrase]], title: str, link: str
) -> None:
    folder = tmp_path / "new"
    set_up(folder, SiteWords("Hall", "Europe/Vienna", "http://welcome.hall.example", "slip.hall.example"))
    conn, keys = open_data(folder)
    with atomic(conn):
        for number, ways_in in enumerate(offered):
            network = networks.add_network(
                conn, f"Hall {number}", door_role=RoleId(1), ssid=b"Hall %d" % number
            )
            ways.save_ways(conn, network, ways_in)
    house = load_config(conn, keys)
    steps = first_path(conn, house, Registry(house, bytes(32)))
    (issues,) = [step for step in steps if step.stage == "proves"]
    assert (issues.title, issues.link, issues.is_done) == (title, link, False)
    conn.close()
