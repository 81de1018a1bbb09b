"""Guest networks, and by what a request is recognised as one's."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from lauschen.core.ids import AccessDeviceId, NetworkId, RoleId
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.ways import Way


class Match(StrEnum):
    """How a hint of a request is compared."""

    EXACT = "exact"
    BEGINS = "begins"
    ENDS = "ends"
    ANY = "any"


@dataclass(frozen=True, slots=True)
class Hint:
    """One thing that a request says of where it comes from, and what it must be."""

    match: Match = Match.ANY
    value: bytes = b""

    def fits(self, said: bytes | None) -> bool:
        if self.match is Match.ANY or said is None:
            return self.match is Match.ANY
        if self.match is Match.EXACT:
            return said == self.value
        if self.match is Match.BEGINS:
            return said.startswith(self.value)
        return said.endswith(self.value)


STATUS = "status"


@dataclass(frozen=True, slots=True)
class Pause:
    """For a while nobody is let in. Times are UTC epoch seconds."""

    since: float
    until: float | None
    """None: until somebody ends it."""
    why: str
    """As guests read it."""
    ends_stays: bool
    """Whether those inside go to the door meanwhile; else they stay in."""

    def holds(self, now: float) -> bool:
        return self.until is None or now < self.until


@dataclass(frozen=True, slots=True)
class GuestNetwork:
    """What a device joins, and by what its requests are recognised: every hint must fit."""

    id: NetworkId
    name: str
    door_role: RoleId
    ssid: Hint = Hint()
    """The SSID in Called-Station-Id, as octets (rulings 3.9)."""
    nas_identifier: Hint = Hint()
    port_id: Hint = Hint()
    port_type: int | None = None
    access_device: AccessDeviceId | None = None
    counted_at: AccessDeviceId | None = None
    """When two devices report the same guest: the one whose report counts; None leaves it to the dialects."""

    ways: tuple[Way, ...] = ()
    """The ways in that it offers, in the order of its page."""

    pause: Pause | None = None
    onward: str = ""
    """Where guests go after login: a fixed address, `STATUS` for nowhere; empty: where they were going."""

    by_key: bool = field(init=False)
    """Whether its devices have private passphrases: then nobody can be at its door without one."""
    takes_words: bool = field(init=False)
    """Whether a code typed here need not be ten signs."""
    _by_kind: Mapping[WayIn, Way] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        takes = any(way.takes_words and not way.is_off for way in self.ways)
        object.__setattr__(self, "takes_words", takes)
        object.__setattr__(self, "by_key", any(way.way is WayIn.PASSPHRASE for way in self.ways))
        object.__setattr__(self, "_by_kind", {way.way: way for way in self.ways})

    def way(self, kind: WayIn) -> Way | None:
        """One that it offers, with its settings here."""
        return self._by_kind.get(kind)

    @property
    def is_plain(self) -> bool:
        """Recognised by its whole SSID and nothing else."""
        others = (self.nas_identifier.match, self.port_id.match)
        return (
            self.ssid.match is Match.EXACT
            and others == (Match.ANY, Match.ANY)
            and self.port_type is None
            and self.access_device is None
        )

    @property
    def shown_as(self) -> str:
        """What a guest knows it by."""
        return self.ssid.value.decode("utf-8", "replace") if self.ssid.match is Match.EXACT else self.name

    @property
    def strictness(self) -> int:
        """Among several that fit, the one that asks most is meant."""
        hints = (self.ssid, self.nas_identifier, self.port_id)
        score = sum({Match.EXACT: 3, Match.ANY: 0}.get(hint.match, 2) for hint in hints)
        return score + 3 * (self.access_device is not None) + 2 * (self.port_type is not None)
