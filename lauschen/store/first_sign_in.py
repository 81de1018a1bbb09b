"""The file with the first administrator's password, which goes once that was changed."""

from pathlib import Path

FIRST_PASSWORD_S = 86_400
"""How long a password that somebody else made is good for."""
FIRST_STAFF = "admin"
FIRST_SIGN_IN = "first-sign-in.txt"


def forget_first_sign_in(data: Path, name: str) -> None:
    """The first password is good no more, so the file that holds it goes."""
    if name == FIRST_STAFF:
        (data / FIRST_SIGN_IN).unlink(missing_ok=True)
