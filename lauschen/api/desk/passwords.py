"""Passwords of accounts as the desk hands them out: proposed or chosen, hashed off the loop."""

import secrets

from lauschen.api.door.office import Office
from lauschen.core.ways.account import check_password
from lauschen.core.words.codes import CODE_COUNT, group_code, make_code
from lauschen.store.accounts import NewPassword


async def new_password(
    office: Office, chosen: str | None, name: str, *, is_readable: bool
) -> tuple[str, NewPassword]:
    """The password, and what is kept of it. One that is proposed is a code's signs, in small letters."""
    password = chosen or group_code(make_code(secrets.randbelow(CODE_COUNT))).lower()
    check_password(password, name)
    if is_readable:
        return password, NewPassword("", readable=password)
    return password, NewPassword("", hashed=await office.passwords.hash(password))
