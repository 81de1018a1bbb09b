"""The shapes of the room Now, and of the log."""

from lauschen.api.model import Model


class RoleCount(Model):
    role: str
    count: int


class Stream(Model):
    """One network from left to right."""

    id: int
    name: str
    ssid: str
    ways_in: list[str]
    has_page: bool
    """Guests log in at a page; not so where each device has a passphrase of its own."""
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
    network: int | None = None
    """Which it is about; None: the house."""
    mac: str | None = None
    """Of the guest's device that it is about, if it is about one."""


class LogLine(Model):
    id: int
    at: float
    text: str
    repeats: int = 0
    mac: str | None = None
    network: int | None = None
    steps: list[tuple[str, str]] = []


class FirstStep(Model):
    """One of the steps until the first guest is in."""

    stage: str
    title: str
    text: str
    is_done: bool
    link: str | None
    act: str | None
    """What the link does."""


class NowOut(Model):
    at: float
    first_path: list[FirstStep]
    """Empty once somebody was in."""
    streams: list[Stream]
    attention: list[Attention]
    line: LogLine | None
    bars: list[int]
    last_minute: int
