"""What somebody may see (rulings 9.5): one rule, as a predicate of a row and as a condition of SQL."""

from dataclasses import dataclass

from lauschen.core.ids import NetworkId, StaffId


@dataclass(frozen=True, slots=True)
class Sight:
    """As it is made, it shows everything."""

    networks: tuple[NetworkId, ...] = ()
    """What belongs to these is theirs to see; none: everything."""
    staff: StaffId | None = None
    """Who looks: what they issued themselves is theirs to see."""
    own_only: bool = False
    """Of what was issued, and of guests who are in by it, nothing else is."""

    @property
    def is_whole(self) -> bool:
        return not self.networks and not self.own_only

    @property
    def key(self) -> str:
        """The same for all who see the same."""
        return f"{sorted(self.networks)} {self.staff if self.own_only else ''}"

    def sees(self, network: NetworkId | None) -> bool:
        """Return whether a row that nobody issued is theirs to see.

        One without a network is for people without a network limit.
        """
        return not self.networks or (network is not None and network in self.networks)

    def sees_issued(self, network: NetworkId | None, issuer: StaffId | None) -> bool:
        """Return whether what somebody issued is theirs to see. `network`: where alone it is good."""
        if issuer is not None and issuer == self.staff:
            return True
        return not self.own_only and self.sees(network)

    def sees_guest(self, network: NetworkId, issuer: StaffId | None, *, has_credential: bool) -> bool:
        """Return whether a device is theirs to see. One that nothing ever let in is for everybody of its network."""
        return self.sees(network) and (not self.own_only or not has_credential or issuer == self.staff)

    def where_issued(self, network: str, issuer: str) -> str:
        """Return `sees_issued` as a condition; `network` and `issuer` are expressions of a statement of ours."""
        own = "0" if self.staff is None else f"coalesce({issuer} = {int(self.staff)}, 0)"
        if self.own_only:
            return own
        if not self.networks:
            return "1"
        return f"(coalesce({network} IN ({', '.join(str(int(one)) for one in self.networks)}), 0) OR {own})"


EVERYTHING = Sight()
