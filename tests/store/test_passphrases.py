"""A copy of the database opens no door: neither passphrase nor PMK stands in it, however it is searched."""

import sqlite3
from dataclasses import replace
from pathlib import Path

import pytest

from lauschen.core.ids import KeyId
from lauschen.core.passphrases.derive import pmk_of
from lauschen.core.passphrases.eapol import read_key_frame
from lauschen.core.passphrases.handshake import Handshake
from lauschen.demo.site import CLOISTER_SSID
from lauschen.proofs.matching import match
from lauschen.store.keys import KeyFault, make_key_file
from lauschen.store.passphrases import keys
from lauschen.store.passphrases.keys import NewKey, Remade, Share
from tests.cloister import CLOISTER, Cloister
from tests.core.passphrases.captured import ACCESS_POINT, HANDSHAKES, PASSPHRASE, SSID, STATION, Captured
from tests.place import Place

TEXT = PASSPHRASE


@pytest.fixture
def issued(place: Place) -> tuple[Place, KeyId]:
    cloister = Cloister(place)
    credential = cloister.issue(text="another-one-than-that-5")
    with place.tx() as tx:
        new = NewKey(TEXT, pmk_of(TEXT, CLOISTER_SSID.encode()), CLOISTER_SSID.encode())
        key = keys.add_key(tx.conn, tx.keys, credential, CLOISTER, new, tx.now)
    assert key is not None
    return place, key


def test_neither_text_nor_key_stands_in_the_files(issued: tuple[Place, KeyId], data: Path) -> None:
    place, _ = issued
    place.conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    octets = b"".join(
        file.read_bytes() for file in data.iterdir() if file.name.startswith("lauschen.sqlite3")
    )
    assert b"Ines Harwood" in octets  # whose it is can be read
    pmk = pmk_of(TEXT, CLOISTER_SSID.encode())
    for secret in (TEXT.encode(), pmk, pmk.hex().encode(), pmk.hex().upper().encode()):
        assert secret not in octets


def test_another_key_file_opens_nothing(issued: tuple[Place, KeyId], data: Path, tmp_path: Path) -> None:
    place, key = issued
    place.conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    foreign = make_key_file(tmp_path / "foreign.key")
    conn = sqlite3.connect(data / "lauschen.sqlite3")
    with pytest.raises(KeyFault):
        keys.get_key(conn, foreign, key)
    with pytest.raises(KeyFault):
        list(keys.pmks_after(conn, foreign, CLOISTER, CLOISTER_SSID.encode(), KeyId(0), Share()))
    conn.close()


def test_one_that_is_moved_to_another_row_does_not_open_there(issued: tuple[Place, KeyId]) -> None:
    place, key = issued
    place.conn.execute(
        "UPDATE passphrase_key SET sealed = (SELECT sealed FROM passphrase_key WHERE id <> ?1) WHERE id = ?1",
        (key,),
    )
    with pytest.raises(KeyFault):
        keys.get_key(place.conn, place.keys, key)


@pytest.mark.parametrize("captured", HANDSHAKES, ids=lambda one: f"version-{one.version}")
def test_the_process_finds_the_key_of_a_real_handshake(
    issued: tuple[Place, KeyId], data: Path, captured: Captured
) -> None:
    _, key = issued
    nonce, second = bytes.fromhex(captured.first)[17:49], read_key_frame(bytes.fromhex(captured.second))
    shake = Handshake(ACCESS_POINT, STATION, SSID, nonce, second)
    files = data / "lauschen.sqlite3", data / "lauschen.key"
    assert match(*files, Share(), CLOISTER, shake) == (key, pmk_of(PASSPHRASE, SSID))
    assert [match(*files, Share(n, 2), CLOISTER, shake) is not None for n in range(2)] == [
        key % 2 == 0,
        key % 2 == 1,
    ]
    assert match(*files, Share(), CLOISTER, replace(shake, ssid=b"Hollerau Garden")) is None
    assert match(*files, Share(), CLOISTER, replace(shake, nonce=bytes(32))) is None


def test_keys_that_are_made_for_another_ssid_are_found_in_any_order(
    issued: tuple[Place, KeyId], data: Path
) -> None:
    """After a change of the SSID a new one is there at once, and those before it one after the other."""
    place, key = issued
    captured = HANDSHAKES[0]
    nonce, second = bytes.fromhex(captured.first)[17:49], read_key_frame(bytes.fromhex(captured.second))
    shake = Handshake(ACCESS_POINT, STATION, SSID, nonce, second)
    files = data / "lauschen.sqlite3", data / "lauschen.key"
    holder = keys.get_key(place.conn, place.keys, key)
    assert holder is not None
    with place.tx() as tx:
        keys.save_remade(tx.conn, tx.keys, b"Hollerau Garden", [Remade(key, bytes(32))])
        newer = NewKey("lantern-maple-drift-7", bytes(32), SSID)
        keys.add_key(tx.conn, tx.keys, holder.credential, CLOISTER, newer, tx.now)
    assert match(*files, Share(), CLOISTER, shake) is None
    with place.tx() as tx:
        keys.save_remade(tx.conn, tx.keys, SSID, [Remade(key, pmk_of(PASSPHRASE, SSID))])
    assert match(*files, Share(), CLOISTER, shake) == (key, pmk_of(PASSPHRASE, SSID))
