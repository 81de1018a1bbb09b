"""The SSID of a network of passphrases was changed: the keys of all that hold are made anew, a few at a time."""

from dataclasses import dataclass
from functools import partial

from lauschen.acts.passphrases.issuing import KeyMakers
from lauschen.core.config.config import Config
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store.passphrases import keys
from lauschen.store.passphrases.keys import Remade

AT_ONCE = 32


@dataclass
class KeyMaking:
    """`look` once a second, by the rounds; it does nothing until the house was changed."""

    road: Road
    makers: KeyMakers
    _seen: Config | None = None

    async def look(self) -> None:
        config = self.road.config
        if config is self._seen:
            return
        for network in config.networks.values():
            if network.by_key:
                await self._make(network.id, network.ssid.value)
        self._seen = config

    async def _make(self, network: int, ssid: bytes) -> None:
        ring = self.road.keys
        while stale := await self.road.between_groups(
            lambda conn: keys.made_for_others(conn, ring, network, ssid, AT_ONCE)
        ):
            made = await self.makers.make([text for _, text in stale], ssid)
            remade = [Remade(key, one.pmk) for (key, _), one in zip(stale, made, strict=True)]
            await self.road.act(partial(_store, ssid=ssid, remade=remade))


def _store(tx: Tx, ssid: bytes, remade: list[Remade]) -> None:
    keys.save_remade(tx.conn, tx.keys, ssid, remade)
