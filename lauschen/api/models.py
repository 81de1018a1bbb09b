"""The shapes of the API. Times are UTC epoch seconds; MAC addresses are spelled with dashes."""

from pydantic import BaseModel, ConfigDict, Field


class Model(BaseModel):
    """Refuses fields that it does not know, so that a typo is said and not ignored."""

    model_config = ConfigDict(extra="forbid")


class SignIn(Model):
    name: str = Field(min_length=1, max_length=80)
    password: str = Field(min_length=1, max_length=200)


class NewPassword(Model):
    old: str = Field(min_length=1, max_length=200)
    new: str = Field(min_length=10, max_length=200)


class Session(Model):
    """Who is signed in, and what the console needs to know first."""

    name: str
    must_change: bool
    csrf: str
    site: str
    zone: str


class PlanOut(Model):
    id: int
    name: str
    sentence: str
    slip: str
    """The limits as they stand on the slip."""


class Issue(Model):
    plan: int
    count: int = Field(ge=1, le=10_000)
    label: str = Field(default="", max_length=80)


class GiveTime(Model):
    seconds: int = Field(ge=60, le=31 * 86_400)


class VoucherOut(Model):
    id: int
    code: str
    plan: str
    state: str
    first_used: float | None
    until: float | None
    must_start_by: float | None
    seconds_left: int | None
    octets_used: int
    octets_left: int | None
    devices_in: int


class BatchOut(Model):
    """`vouchers` holds the only one of a batch of one; others come by the hundred when they are asked for."""

    id: int
    label: str
    plan: str
    size: int
    used: int
    withdrawn: int
    issued_at: float
    issued_by: str | None
    vouchers: list[VoucherOut]


class DeskOut(Model):
    """What Desk needs before the first key is pressed."""

    plans: list[PlanOut]
    batches: list[BatchOut]
    site: str
    ssid: str
    page: str
    slip_host: str


class RoleCount(Model):
    role: str
    count: int


class Stream(Model):
    """One network from left to right."""

    id: int
    name: str
    ssid: str
    ways_in: list[str]
    at_door: int
    page_opened: int
    code_tried: int
    inside: list[RoleCount]
    held: int
    barred: int
    left_last_hour: int


class Attention(Model):
    """Something that needs a person, with the one action that mends it."""

    kind: str
    grave: bool
    text: str
    mend: str
    action: str | None = None
    """Path of the POST that the action makes."""
    link: str | None = None
    """Where in the console it is mended."""


class LogLine(Model):
    id: int
    at: float
    text: str
    repeats: int = 0
    mac: str | None = None
    network: int | None = None
    steps: list[tuple[str, str]] = []


class NowOut(Model):
    at: float
    streams: list[Stream]
    attention: list[Attention]
    line: LogLine | None
    bars: list[int]
    last_minute: int


class GuestOut(Model):
    mac: str
    short: str
    private: bool
    network: int
    network_name: str
    state: str
    going: str | None
    reason: str | None
    since: float
    role: str | None
    voucher: VoucherOut | None
    where: str
    address: str | None
    until: float | None
    octets_used: int
    octets_left: int | None
    last_heard: float
    not_confirmed: str | None
    """What the access device last answered to a change that it has not carried out."""
    typing_barred_until: float | None


class StayOut(Model):
    where: str
    started: float
    ended: float | None
    end: str | None
    seconds: int
    octets_in: int
    octets_out: int


class Sight(Model):
    by: str
    """What showed the address."""
    at: float


class AddressOut(Model):
    text: str
    seen: list[Sight]
    """Newest first."""


class Dossier(Model):
    guest: GuestOut
    addresses: list[AddressOut]
    """Newest first."""
    log: list[LogLine]
    stays: list[StayOut]


class Problem(BaseModel):
    """RFC 9457 problem details."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    code: str
    field: str | None = None
