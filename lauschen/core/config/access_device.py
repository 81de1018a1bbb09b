"""Access devices: who may ask, and how they are reached."""

from dataclasses import dataclass

from lauschen.core.ids import AccessDeviceId, DialectId, NetworkId


@dataclass(frozen=True, slots=True)
class AccessDevice:
    """A switch, access point or controller that sends us RADIUS."""

    id: AccessDeviceId
    name: str
    address: str
    """One address, or several as a CIDR."""
    secret: bytes
    dialect: DialectId
    coa_port: int = 3799
    coa_address: str | None = None
    """Where changes go; None: to where its requests come from."""
    old_secret: bytes | None = None
    """Also heard, during a change-over."""
    hears_unsigned: bool = False
    """Old firmware: Access-Requests without Message-Authenticator are heard (rulings 3.2)."""
    tls_identity: str | None = None
    """SHA-256 fingerprint or subject alternative name of its certificate, for RADIUS over TLS."""

    serves: frozenset[NetworkId] = frozenset()
    """The networks that it may ask for. Empty: none."""

    @property
    def is_range(self) -> bool:
        return "/" in self.address
