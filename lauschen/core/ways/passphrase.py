"""Private passphrases: each person, room or thing has its own key to one Wi-Fi. Who has which is found out before."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import ClassVar

from lauschen.core.decide.reason import Reason
from lauschen.core.errors import Invalid
from lauschen.core.ids import AccessDeviceId, CredentialId, KeyId
from lauschen.core.passphrases.handshake import Handshake
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import AtDoor, Finder, Lead
from lauschen.core.ways.offering import Offering

HOLDER = "holder"
FIRST_VLAN, LAST_VLAN = 1, 4094
_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]{0,59}")


@dataclass(frozen=True, slots=True)
class KeyFile:
    """For an access point on this host, which does not ask: a file of all passphrases."""

    access_device: AccessDeviceId
    """Which it is."""
    file: str
    """A name in the folder that `lauschen serve` was told."""
    interface: str
    """Its control socket, in the other folder."""


@dataclass(frozen=True, slots=True)
class PrivatePassphrase(Offering):
    """Its settings on a network: the pool of private groups."""

    way: ClassVar[WayIn] = WayIn.PASSPHRASE
    plan: ClassVar[None] = None
    first_vlan: int | None = None
    """Each private group has a VLAN of its own, from this one on; None: there are no groups."""
    last_vlan: int | None = None
    files: tuple[KeyFile, ...] = ()

    def leads(self, offer: object, at: AtDoor) -> Iterable[Lead | Reason]:
        """To what was issued to the holder of the key."""
        if isinstance(offer, Key):
            yield Lead(holder_finder(offer.credential))

    @property
    def groups(self) -> range:
        """VLANs that private groups may have."""
        if self.first_vlan is None or self.last_vlan is None:
            return range(0)
        return range(self.first_vlan, self.last_vlan + 1)


@dataclass(slots=True)
class Key:
    """What a device offers that has a private passphrase."""

    credential: CredentialId
    id: KeyId
    kind: ClassVar[str] = "key"
    missing: ClassVar[Reason] = Reason.KEY_UNKNOWN
    says_who: ClassVar[bool] = True
    is_typed: ClassVar[bool] = False
    """No guess at a code: its access point proves it, or is asked to."""

    def record(self) -> dict[str, str | int]:
        """What an admission by it keeps: nothing more than its credential."""
        return {}


@dataclass(slots=True)
class Signed:
    """A handshake as an access device passed it on. Which key it was signed with is found out beside the road."""

    handshake: Handshake
    access_device: AccessDeviceId
    kind: ClassVar[str] = "handshake"
    says_who: ClassVar[bool] = True
    is_typed: ClassVar[bool] = False
    key: KeyId | None = None
    """None: none that was ever issued."""
    fault: Reason | None = None
    """Why nobody looked."""
    is_known: bool = False
    """The device joined before, with another one."""


def holder_finder(credential: CredentialId) -> Finder:
    return Finder(HOLDER, str(credential))


def check_files(way: PrivatePassphrase) -> None:
    """Invalid for names that are none: they never lead out of their folders."""
    for one in way.files:
        for name in (one.file, one.interface):
            if not _NAME.fullmatch(name):
                mend = (
                    "A file and an interface are plain names: letters, digits, dashes, dots and underscores."
                )
                raise Invalid("key_files", field="ways", mend=mend)
    if len({one.file for one in way.files}) < len(way.files):
        raise Invalid("key_files", field="ways", mend="Each access point has a file of its own.")


def check_groups(way: PrivatePassphrase) -> None:
    """Invalid for a pool that is none."""
    if (way.first_vlan is None) != (way.last_vlan is None):
        raise Invalid("groups", field="ways", mend="A first and a last VLAN, or neither.")
    if way.groups and not FIRST_VLAN <= way.groups[0] <= way.groups[-1] <= LAST_VLAN:
        raise Invalid("groups", field="ways", mend=f"VLANs from {FIRST_VLAN} to {LAST_VLAN}.")
    if way.first_vlan is not None and not way.groups:
        raise Invalid("groups", field="ways", mend="The last VLAN is before the first.")
