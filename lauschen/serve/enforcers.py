"""Who brings about what is wanted: an access point on this host, a controller by HTTP, or RADIUS."""

from dataclasses import dataclass

from lauschen.acts.moving.errands import Errand, Saw, Seen
from lauschen.core.config.dialect import Move
from lauschen.core.decide.wanted import ACCEPTED
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import KeyFile, PrivatePassphrase
from lauschen.hostapd.control import opened
from lauschen.outgoing.calls import Caller
from lauschen.radius.listen.registry import Registry
from lauschen.road.clock import Clock
from lauschen.serve.keyfiles import KeyFiles


@dataclass(slots=True)
class CallingEnforcer:
    """Calls a controller as the dialect describes; its answer is all there will be (rulings 2.2)."""

    registry: Registry
    clock: Clock
    caller: Caller

    def takes(self, errand: Errand) -> bool:
        return errand.how is Move.CALLED

    async def bring_about(self, errand: Errand) -> Saw:
        answers, now = self.registry.answers, self.clock.now()
        words = answers.words(errand.device, errand.arrival, errand.decision, errand.admission, now)
        words["secret"] = errand.dialect.call_secret
        described = errand.dialect.call_in if errand.lets_in else errand.dialect.call_out
        answer = await self.caller.call(described, words)
        return Saw(answer, Seen.HOLDS if answer == ACCEPTED else Seen.NOTHING)


@dataclass(slots=True)
class HostapdEnforcer:
    """Puts a device off an access point on this host that reads its passphrases from a file.

    It comes back at once if its passphrase is still good. Who is there is looked at every few seconds.
    """

    key_files: KeyFiles
    """Knows the folder of the control sockets, if the command line named one."""

    def takes(self, errand: Errand) -> bool:
        return self.key_files.sockets is not None and not errand.lets_in and _file_of(errand) is not None

    async def bring_about(self, errand: Errand) -> Saw:
        file = _file_of(errand)
        assert file is not None
        assert self.key_files.sockets is not None
        async with opened(self.key_files.sockets / file.interface) as control:
            if all(station.mac != errand.place.mac for station in await control.stations()):
                return Saw(ACCEPTED, Seen.GONE)
            await control.throw_off(errand.place.mac)
        return Saw(ACCEPTED)


def _file_of(errand: Errand) -> KeyFile | None:
    """A session means that the device came by RADIUS, and not by the file."""
    way = errand.config.networks[errand.place.network].way(WayIn.PASSPHRASE)
    if errand.place.session_id or not isinstance(way, PrivatePassphrase):
        return None
    return next((one for one in way.files if one.access_device == errand.device.id), None)
