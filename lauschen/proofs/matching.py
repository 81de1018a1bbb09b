"""In processes of their own: each has a share of all keys, prepared, and finds which of them signed a handshake."""

from functools import lru_cache
from pathlib import Path
from sqlite3 import Connection

from lauschen.core.ids import KeyId, NetworkId
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.passphrases.matching import Prepared, find_key, prepare
from lauschen.store.db import open_reader
from lauschen.store.keys import KeyRing, read_key_file
from lauschen.store.passphrases.keys import Share, count_made_for, pmks_after

_prepared: dict[tuple[Path, NetworkId, bytes, Share], list[Prepared]] = {}


def match(
    database: Path, key_file: Path, share: Share, network: NetworkId, handshake: Handshake
) -> tuple[int, bytes] | None:
    """The id of the key and its PMK; None when none of this share signed it. The newest are looked at first."""
    known = _keys_of(database, key_file, share, network, handshake.ssid)
    found = find_key(reversed(known), handshake)
    return None if found is None else (found.key, found.pmk)


def make_ready(database: Path, key_file: Path, share: Share, network: NetworkId, ssid: bytes) -> int:
    """Prepares the keys of a network before the first handshake; how many there are."""
    return len(_keys_of(database, key_file, share, network, ssid))


def _keys_of(database: Path, key_file: Path, share: Share, network: NetworkId, ssid: bytes) -> list[Prepared]:
    """Those that were prepared before, and those that were issued since."""
    known = _prepared.setdefault((database, network, ssid, share), [])
    after = KeyId(known[-1].key if known else 0)
    conn, keys = _opened(database, key_file)
    known += [prepare(key, pmk) for key, pmk in pmks_after(conn, keys, network, ssid, after, share)]
    if len(known) != count_made_for(conn, network, ssid, share):
        # The SSID was changed, and keys are being made anew; or some were taken back.
        known[:] = [prepare(key, pmk) for key, pmk in pmks_after(conn, keys, network, ssid, KeyId(0), share)]
    return known


@lru_cache(1)
def _opened(database: Path, key_file: Path) -> tuple[Connection, KeyRing]:
    return open_reader(database), read_key_file(key_file)
