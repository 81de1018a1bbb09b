"""Where an answer places a device."""

from dataclasses import dataclass, replace

from lauschen.core.ids import RoleId


@dataclass(frozen=True, slots=True)
class Role:
    """A placement: VLAN, filter name, and whether it is the one before login."""

    id: RoleId
    name: str
    vlan: int | None
    filter_name: str | None
    is_door: bool
    filter_rules: tuple[str, ...] = ()
    """NAS-Filter-Rule lines (RFC 4849), for dialects that honour them instead of a name."""

    down_bps: int | None = None
    up_bps: int | None = None

    def with_placement(self, vlan: int | None, filter_name: str | None) -> "Role":
        """The same role with another VLAN and filter name."""
        return replace(self, vlan=vlan, filter_name=filter_name)
