"""How a webhook knows that a call is ours: HMAC-SHA-256 (RFC 2104) over id, time and body."""

import hmac
from hashlib import sha256


def signature(secret: str, *, mark: str, at: int, body: bytes) -> str:
    """`v1=` and 64 hex digits. `at`: when this try was made, in whole seconds since the epoch.

    Whoever checks it refuses a time that is minutes away, and an id that it has seen.
    """
    text = f"{mark}.{at}.".encode() + body
    return f"v1={hmac.digest(secret.encode(), text, sha256).hex()}"
