"""The key file outside the database, and what is done with it (rulings 6.11)."""

import base64
import hashlib
import hmac
import os
import secrets
from dataclasses import dataclass
from pathlib import Path
from sqlite3 import Connection

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF

from lauschen.core.errors import LauschenError

KEY_NAME = "lauschen.key"
_HEADER = "lauschen key 1"
_CANARY = b"this database belongs to this key"
_NONCE_OCTETS = 12


class KeyFault(LauschenError):
    """The key file is missing, unreadable or belongs to another database; serving is refused."""


@dataclass(frozen=True, slots=True)
class KeyRing:
    """What the one key in the file is used for, each purpose with a key of its own."""

    key_id: str
    seal_key: bytes
    lookup_key: bytes
    token_key: bytes

    def seal(self, plain: bytes, *, table: str, column: str, row: int) -> bytes:
        """Nonce and AES-GCM text; can be opened only in the same place of the same row."""
        nonce = os.urandom(_NONCE_OCTETS)
        return nonce + AESGCM(self.seal_key).encrypt(nonce, plain, f"{table}.{column}.{row}".encode())

    def unseal(self, sealed: bytes, *, table: str, column: str, row: int) -> bytes:
        """The plain octets; KeyFault when this is not what this key sealed here."""
        nonce, text = sealed[:_NONCE_OCTETS], sealed[_NONCE_OCTETS:]
        try:
            return AESGCM(self.seal_key).decrypt(nonce, text, f"{table}.{column}.{row}".encode())
        except InvalidTag as exc:
            raise KeyFault(f"{table}.{column} of row {row} was not sealed by this key") from exc

    def lookup_hash(self, secret_text: str) -> bytes:
        """Keyed hash by which a code is found without being readable."""
        return hmac.digest(self.lookup_key, secret_text.encode(), hashlib.sha256)


def make_key_file(path: Path) -> KeyRing:
    """A new key, readable by its owner only. Never overwrites one."""
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as file:
        file.write(f"{_HEADER}\n{secrets.token_hex(8)}\n{base64.b64encode(os.urandom(32)).decode()}\n")
        file.flush()
        os.fsync(file.fileno())
    return read_key_file(path)


def read_key_file(path: Path) -> KeyRing:
    """The keys of an existing file."""
    try:
        header, key_id, text = path.read_text("ascii").split("\n")[:3]
        master = base64.b64decode(text, validate=True)
    except FileNotFoundError as exc:
        raise KeyFault(
            f"the key file {path.name} is missing, but a database is there. "
            "Put the key file back from its backup: without it no code and no secret can be read."
        ) from exc
    except (ValueError, OSError) as exc:
        raise KeyFault(f"the key file {path.name} cannot be read: {exc}") from exc
    if header != _HEADER or len(master) != 32:
        raise KeyFault(f"{path.name} is not a Lauschen key file")

    def derived(purpose: bytes) -> bytes:
        return HKDF(algorithm=SHA256(), length=32, salt=None, info=purpose).derive(master)

    return KeyRing(key_id, derived(b"seal"), derived(b"lookup"), derived(b"token"))


def make_canary(keys: KeyRing) -> bytes:
    """What a database stores to know its key again."""
    return keys.seal(_CANARY, table="house", column="canary", row=1)


def check_canary(conn: Connection, keys: KeyRing) -> None:
    """KeyFault when the database was made with another key."""
    key_id, canary = conn.execute("SELECT key_id, canary FROM house").fetchone()
    foreign = "the key file belongs to another database"
    if key_id != keys.key_id:
        raise KeyFault(f"{foreign}: this one was made with key {key_id}, the file holds {keys.key_id}")
    try:
        plain = keys.unseal(canary, table="house", column="canary", row=1)
    except KeyFault as exc:
        raise KeyFault(f"{foreign}: its name is right, but it does not open what was sealed") from exc
    if plain != _CANARY:
        raise KeyFault(foreign)
