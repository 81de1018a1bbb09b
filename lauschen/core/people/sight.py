"""What somebody may see (rulings 9.5): one rule, as a predicate of a row and as a condition of SQL."""

from dataclasses import dataclass

from lauschen.core.ids import NetworkId, StaffId


@dataclass(frozen=True, slots=True)
class Sight:
    """As it is made, it shows everything."""

    networks: tuple[NetworkId, ...] = ()
    """What belongs to these is theirs to see; none: everything."""
    staff: StaffId | None = None
    """Who looks: what they issued themselves stays theirs to see."""

    @property
    def is_whole(self) -> bool:
        return not self.networks

    def sees(self, network: NetworkId | None, issuer: StaffId | None = None) -> bool:
        """Return whether a row is theirs to see. One without a network is for people without a network limit."""
        if not self.networks or (issuer is not None and issuer == self.staff):
            return True
        return network is not None and network in self.networks

    def where(self, network: str, issuer: str | None = None) -> str:
        """Return the same as a condition; `network` and `issuer` are expressions of a statement of ours."""
        if not self.networks:
            return "1"
        listed = f"{network} IN ({', '.join(str(int(one)) for one in self.networks)})"
        if issuer is None or self.staff is None:
            return listed
        return f"({listed} OR {issuer} = {int(self.staff)})"


EVERYTHING = Sight()
