"""The kinds of ways in that are built."""

from enum import StrEnum


class WayIn(StrEnum):
    """A method to be admitted."""

    VOUCHER = "voucher"
    CLICK_THROUGH = "click_through"
    PASSCODE = "passcode"
    ALWAYS = "always"
    ACCOUNT = "account"
    SELF_REGISTRATION = "self_registration"
    SPONSOR = "sponsor"
    GUEST_PASS = "guest_pass"  # noqa: S105 - a kind, not a secret
    PASSPHRASE = "passphrase"  # noqa: S105


AT_DESK = (WayIn.VOUCHER, WayIn.GUEST_PASS, WayIn.ACCOUNT, WayIn.PASSPHRASE)
"""What people issue; by the others guests get something themselves."""
