"""What has become of a credential and of an allowance so far."""

from dataclasses import dataclass


@dataclass(slots=True)
class Use:
    """Times are UTC epoch seconds. What was used and given is the allowance's."""

    issued_at: float
    first_used: float | None = None
    octets: int = 0
    given_seconds: int = 0
    given_octets: int = 0
    withdrawn_at: float | None = None
    data_out_at: float | None = None
    """When the last octet of the allowance was used."""
    valid_from: float | None = None
    valid_until: float | None = None
    """Between these it is good, however much is left."""
    confirm_by: float | None = None
    """Until then an address must be confirmed; None: nothing is to be, or it was."""
    paused_at: float | None = None
    """Nobody is let in by it meanwhile; its time goes on. None: it is not paused."""
