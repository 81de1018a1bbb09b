"""Issuing private passphrases: drawn or chosen, their PMKs made beside the road, and stored for all or for nobody."""

import asyncio
import os
import secrets
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial

from lauschen.acts.config.changes import check_guest_role
from lauschen.acts.desk.issuing import begin_batch, check_batch, check_terms, issue_once
from lauschen.acts.desk.listed import Listed
from lauschen.acts.desk.within import limits_of
from lauschen.acts.messages.passes import Address, send_issued
from lauschen.acts.passphrases.changing import reveal
from lauschen.acts.passphrases.grouping import free_vlans
from lauschen.beside.worker import LAST, Worker
from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid, Unavailable
from lauschen.core.ids import BatchId, CredentialId, NetworkId, PlanId
from lauschen.core.limits.terms import Terms
from lauschen.core.passphrases.derive import pmks_of
from lauschen.core.passphrases.guessable import why_guessable
from lauschen.core.passphrases.holder import HolderKind
from lauschen.core.passphrases.passphrase import USUAL_BITS, Style, check_passphrase, draw
from lauschen.core.people.limits import check_given
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.passphrase import PrivatePassphrase
from lauschen.road.road import Road
from lauschen.road.tx import Tx
from lauschen.store import batches, credentials
from lauschen.store.batches import Said
from lauschen.store.passphrases import groups, keys
from lauschen.store.passphrases.keys import NewKey
from lauschen.store.people.issued_once import Once

MOST_AT_ONCE = 10_000
LONGEST_NAME = 80
PIECE = 10
"""Stored by one act of the road: two milliseconds."""
PAUSE_S = 0.05
MADE_AT_ONCE = 64
"""PMKs of one task of a worker: a tenth of a second."""
FEW = 4
TAKEN_BACK = 200


@dataclass(frozen=True, slots=True)
class Wish:
    """One to be issued."""

    name: str
    """For whom or what."""
    text: str | None = None
    """As it was chosen; None draws one."""
    until: float | None = None
    """Of this one, in place of what all have in common; so are its devices."""
    devices: int | None = None
    note: str = ""
    to: Address | None = None
    """Where it is sent once all are there."""


def wishes_of(listed: Sequence[Listed]) -> list[Wish]:
    """As a list names them."""
    return [
        Wish(one.name, until=one.until, devices=one.devices, note=one.note, to=one.address) for one in listed
    ]


@dataclass(frozen=True, slots=True)
class Kind:
    """What those that are issued together have in common."""

    network: NetworkId
    plan: PlanId
    holder: HolderKind
    terms: Terms
    style: Style = Style.WORDS
    bits: int = USUAL_BITS
    lang: str = "en"
    is_group: bool = False
    """Each has a private group: its devices see each other, and nobody else's."""

    def terms_of(self, wish: Wish) -> Terms:
        """Its own, where it has any."""
        if wish.until is None and wish.devices is None:
            return self.terms
        until = self.terms.valid_until if wish.until is None else wish.until
        return replace(self.terms, valid_until=until, devices=wish.devices or self.terms.devices)


class KeyMakers:
    """As many processes as there are processors: a PMK takes two milliseconds of one."""

    def __init__(self) -> None:
        self._workers = [Worker(LAST) for _ in range(os.cpu_count() or 1)]
        self._next = 0

    async def make(self, texts: Sequence[str], ssid: bytes) -> list[NewKey]:
        """A few are made in a thread, which needs no process to begin; hashing lets go of the interpreter."""
        if len(texts) <= FEW:
            pmks = await asyncio.to_thread(pmks_of, tuple(texts), ssid)
        else:
            self._next = (self._next + 1) % len(self._workers)
            pmks = await self._workers[self._next].run(pmks_of, tuple(texts), ssid)
        return [NewKey(text, pmk, ssid) for text, pmk in zip(texts, pmks, strict=True)]

    @property
    def count(self) -> int:
        return len(self._workers)

    def close(self) -> None:
        for worker in self._workers:
            worker.close()


def way_of(config: Config, network: NetworkId) -> tuple[PrivatePassphrase, bytes]:
    """How a network takes passphrases, and its SSID. Invalid where it takes none."""
    found = config.networks.get(network)
    way = None if found is None else found.way(WayIn.PASSPHRASE)
    if found is None or not isinstance(way, PrivatePassphrase):
        mend = "Choose a network whose devices have private passphrases."
        raise Invalid("network", field="network", mend=mend)
    return way, found.ssid.value


def check_wish(wish: Wish, config: Config, ssid: bytes) -> None:
    """Invalid for a name that is none, or a passphrase that no device takes or somebody would guess."""
    if not 1 <= len(wish.name.strip()) <= LONGEST_NAME:
        mend = f"Say for whom or what it is, in 1 to {LONGEST_NAME} signs."
        raise Invalid("name_missing", field="label", mend=mend)
    if wish.text is None:
        return
    check_passphrase(wish.text)
    why = why_guessable(wish.text, (wish.name, ssid.decode("utf-8", "replace"), config.site_name))
    if why is not None:
        raise Invalid("passphrase_easy", field="passphrase", mend=why)


async def issue_passphrases(
    road: Road,
    makers: KeyMakers,
    wishes: Sequence[Wish],
    kind: Kind,
    *,
    said: Said,
    by: Actor,
    once: Once | None = None,
    made: Callable[[int], None] = lambda _: None,
) -> BatchId:
    """All of them or, seen from outside, none. `made` is told how many there are so far.

    When it is cancelled or raises, what was made is taken back.
    """
    ssid = _check(road.config, wishes, kind)

    def begin(tx: Tx) -> tuple[BatchId, bool]:
        if kind.is_group:
            free_vlans(tx, kind.network, len(wishes))
        _check_terms(tx, wishes, kind)
        batch, is_new = issue_once(tx, once, partial(_begin, kind=kind, size=len(wishes), said=said))
        if not is_new and len(wishes) == 1:
            # It is answered with once more, and that is one more time that it was seen.
            reveal(tx, credentials.only_of(tx.conn, batch), "shown")
        return batch, is_new

    batch, is_new = await road.act(begin, by=by)
    if not is_new:
        return batch
    try:
        sends = await _make_all(road, makers, wishes, kind, ssid, batch, by, made)
        only = sends if len(wishes) == 1 else []
        finish = partial(_finish, batch=batch, kind=kind, wishes=wishes, only=only)
        await road.act(finish, by=by)
    except BaseException:
        await asyncio.shield(_take_back(road, batch))
        raise
    if not only:  # all are there, whoever cancels now
        await asyncio.shield(_give_out(road, sends, by))
    return batch


def check_many(tx: Tx, wishes: Sequence[Wish], kind: Kind) -> None:
    """Invalid when they could not be issued, as far as that shows before each of them is looked at."""
    if kind.is_group:
        free_vlans(tx, kind.network, len(wishes))
    _check_terms(tx, wishes, kind)
    check_batch(tx, plan=kind.plan, size=len(wishes), terms=kind.terms)


async def _give_out(road: Road, sends: Sequence[tuple[CredentialId, Address]], by: Actor) -> None:
    """Those of many: one that cannot be sent keeps none of the others from it."""

    def give(tx: Tx, part: Sequence[tuple[CredentialId, Address]]) -> None:
        for credential, address in part:
            with suppress(Invalid):
                send_issued(tx, credential, address)

    for start in range(0, len(sends), PIECE):
        await road.act(partial(give, part=sends[start : start + PIECE]), by=by)


def _check_terms(tx: Tx, wishes: Sequence[Wish], kind: Kind) -> None:
    """Invalid where one of them has terms that nobody could use, or whoever acts may not give."""
    plan = tx.config.plans.get(kind.plan)
    if kind.terms.role is not None:
        check_guest_role(tx, kind.terms.role, field="role")
    for terms in {kind.terms_of(wish) for wish in wishes} - {kind.terms}:
        check_terms(tx.config, terms, tx.now)
        if plan is not None:
            check_given(limits_of(tx), plan, terms, 1, tx.now)


def _check(config: Config, wishes: Sequence[Wish], kind: Kind) -> bytes:
    if not 1 <= len(wishes) <= MOST_AT_ONCE:
        raise Invalid("count_out_of_range", field="count", mend=f"Issue 1 to {MOST_AT_ONCE:,} at a time.")
    way, ssid = way_of(config, kind.network)
    if kind.is_group and not way.groups:
        mend = "This network has no pool of private groups: it is set in *Networks*, at *is asked*."
        raise Invalid("groups_none", field="is_group", mend=mend)
    for wish in wishes:
        check_wish(wish, config, ssid)
    draw(kind.style, kind.bits, lambda _: 0, kind.lang)  # Invalid for a strength that is none
    return ssid


def _begin(tx: Tx, *, kind: Kind, size: int, said: Said) -> BatchId:
    return begin_batch(tx, plan=kind.plan, size=size, said=said, terms=kind.terms)


async def _make_all(
    road: Road,
    makers: KeyMakers,
    wishes: Sequence[Wish],
    kind: Kind,
    ssid: bytes,
    batch: BatchId,
    by: Actor,
    tell: Callable[[int], None],
) -> list[tuple[CredentialId, Address]]:
    """All processors make PMKs while the road stores those before, a few at a time."""

    async def prepare(part: Sequence[Wish]) -> list[tuple[Wish, NewKey]]:
        texts = [wish.text if wish.text is not None else _drawn(kind) for wish in part]
        return list(zip(part, await makers.make(texts, ssid), strict=True))

    parts = [wishes[at : at + MADE_AT_ONCE] for at in range(0, len(wishes), MADE_AT_ONCE)]
    coming = [asyncio.ensure_future(prepare(part)) for part in parts[: makers.count + 1]]
    done, sends = 0, list[tuple[CredentialId, Address]]()
    try:
        for at in range(len(parts)):
            ready = await coming[at]
            if len(coming) < len(parts):
                coming.append(asyncio.ensure_future(prepare(parts[len(coming)])))
            for start in range(0, len(ready), PIECE):
                piece = ready[start : start + PIECE]
                while piece:
                    store = partial(store_pieces, batch=batch, kind=kind, piece=piece)
                    again, new = await road.act(store, by=by)
                    sends += new
                    done += len(piece) - len(again)
                    if road.is_pressed:
                        await asyncio.sleep(PAUSE_S)  # packets wait: there is all the time in the world
                    # Drawn, and somebody has it: one chance in very many.
                    piece = await prepare(again) if again else []
                tell(done)
    finally:
        for one in coming:
            one.cancel()
    return sends


def _drawn(kind: Kind) -> str:
    return draw(kind.style, kind.bits, secrets.randbelow, kind.lang).text


def store_pieces(
    tx: Tx,
    *,
    batch: BatchId,
    kind: Kind,
    piece: Sequence[tuple[Wish, NewKey]],
) -> tuple[list[Wish], list[tuple[CredentialId, Address]]]:
    """Return those whose drawn passphrase somebody has, and where those that were stored are to be sent.

    Invalid for a chosen one that somebody has, not saying who.
    """
    sends: list[tuple[CredentialId, Address]] = []
    again, vlans = [], free_vlans(tx, kind.network, len(piece)) if kind.is_group else []
    for wish, new in piece:
        if keys.is_taken(tx.conn, tx.keys, kind.network, new.text):
            if wish.text is not None:
                mend = "Somebody has this passphrase, or had it: choose another one."
                raise Invalid("passphrase_taken", field="passphrase", mend=mend)
            again.append(wish)
            continue
        credential = credentials.add_bare(
            tx.conn, way=WayIn.PASSPHRASE, plan=kind.plan, batch=batch, now=tx.now, terms=kind.terms_of(wish)
        )
        holder = (kind.network, kind.holder, wish.name.strip(), wish.note)
        keys.add_holder(tx.conn, tx.keys, credential, *holder)
        if wish.to is not None:
            sends.append((credential, wish.to))
        keys.add_key(tx.conn, tx.keys, credential, kind.network, new, tx.now)
        if kind.is_group:
            groups.give(tx.conn, credential, vlans.pop(0))
    return again, sends


def _finish(
    tx: Tx,
    *,
    batch: BatchId,
    kind: Kind,
    wishes: Sequence[Wish],
    only: Sequence[tuple[CredentialId, Address]],
) -> None:
    """`only`: where the only one is sent; when it cannot be, nothing was issued."""
    batches.make_valid(tx.conn, batch)
    for credential, address in only:
        send_issued(tx, credential, address)
    name = wishes[0].name.strip() if len(wishes) == 1 else None
    facts: dict[str, str | int | float | None] = {"count": len(wishes), "plan": kind.plan, "batch": batch}
    if name is not None:
        facts["name"] = name
    tx.log("passphrase_issued", network=kind.network, facts=facts)


async def _take_back(road: Road, batch: BatchId) -> None:
    with suppress(Unavailable):
        while await road.act(lambda tx: batches.forget_unfinished(tx.conn, batch, TAKEN_BACK)):
            pass


async def make_key(makers: KeyMakers, config: Config, network: NetworkId, wish: Wish, drawn: str) -> NewKey:
    """One more passphrase for somebody who has one: as it was chosen, or as it was drawn."""
    _, ssid = way_of(config, network)
    check_wish(wish, config, ssid)
    return (await makers.make([drawn if wish.text is None else wish.text], ssid))[0]
