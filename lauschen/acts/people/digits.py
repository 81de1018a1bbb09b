"""The second factor: six digits that change every half minute (TOTP, RFC 6238), and recovery codes."""

import hashlib
import secrets

import pyotp

ISSUER_SIGNS = 40
STEP_S = 30
DRIFT = 1
"""Steps by which the other clock may be off (RFC 6238 section 5.2)."""
RECOVERY_CODES = 8


def new_secret() -> str:
    """160 random bits in base 32 (RFC 4226 section 4)."""
    return pyotp.random_base32()


def address_of(secret: str, name: str, site: str) -> str:
    """What an authenticator app scans."""
    return pyotp.TOTP(secret).provisioning_uri(name=name, issuer_name=site[:ISSUER_SIGNS])


def step_of(secret: str, typed: str, now: float, last: int) -> int | None:
    """The step of time whose code was typed; None when it is wrong, or not newer than the last one that was taken."""
    digits = "".join(typed.split())
    current = int(now) // STEP_S
    for step in range(current - DRIFT, current + DRIFT + 1):
        if step > last and secrets.compare_digest(pyotp.TOTP(secret).generate_otp(step), digits):
            return step
    return None


def draw_recovery_codes() -> list[str]:
    """Each is good once, instead of six digits: 50 random bits."""
    drawn = [secrets.token_hex(7)[:12] for _ in range(RECOVERY_CODES)]
    return [f"{code[:4]}-{code[4:8]}-{code[8:]}" for code in drawn]


def recovery_hash(typed: str) -> bytes:
    """Random enough for a plain hash."""
    return hashlib.sha256("".join(sign for sign in typed.lower() if sign.isalnum()).encode()).digest()
