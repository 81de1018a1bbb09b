"""Which way a change takes: by RADIUS, or by a call to a controller."""

from dataclasses import dataclass

from lauschen.acts.moving.errands import Errand
from lauschen.core.house.dialect import Move
from lauschen.outgoing.calls import Caller
from lauschen.radius.answer.dynauth import MoveClient
from lauschen.radius.listen.registry import Registry
from lauschen.road.clock import Clock
from lauschen.store.moving import wanted


@dataclass(slots=True)
class Movers:
    """Carries every kind of errand."""

    client: MoveClient
    registry: Registry
    clock: Clock
    caller: Caller

    async def move(self, errand: Errand) -> str:
        if errand.how is not Move.CALLED:
            return await self.client.move(errand)
        answers, now = self.registry.answers, self.clock.now()
        words = answers.words(errand.device, errand.arrival, errand.decision, errand.admission, now)
        words["secret"] = errand.dialect.call_secret
        described = errand.dialect.call_in if errand.wish.what == wanted.IN else errand.dialect.call_out
        return await self.caller.call(described, words)
