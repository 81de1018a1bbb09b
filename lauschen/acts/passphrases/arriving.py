"""An access point asks for a device on a network of private passphrases: with its handshake, or by its MAC alone."""

from lauschen.acts.arriving.admitting import admit
from lauschen.acts.arriving.facts import load_picture, put_offer
from lauschen.acts.arriving.placing import move, refuse
from lauschen.acts.passphrases.trying import Tried, are_too_many, fitting, keys_to_try
from lauschen.core.config.dialect import KeysBy
from lauschen.core.config.network import GuestNetwork
from lauschen.core.decide.again import decide_again
from lauschen.core.decide.arrival import Arrival
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.decide.steps import decide
from lauschen.core.ids import NetworkId
from lauschen.core.ways.passphrase import Key, Signed
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.passphrases import bound, keys, wrong
from lauschen.store.passphrases.keys import HolderKey

OVER_FOR_GOOD = (Reason.CODE_WITHDRAWN, Reason.DATE_OVER, Reason.CODE_EXPIRED)
"""What its device had is nothing any more; it may have got another passphrase since."""


def answer_keyed(tx: Tx, arrival: Arrival, network: GuestNetwork) -> tuple[Decision, Picture]:
    """Decides what it gets; the passphrases that go back are in the picture."""
    if not arrival.is_signed:
        arrival.refusal = Reason.KEY_UNSIGNED
    elif arrival.offer is not None and not isinstance(arrival.offer, Signed):
        arrival.refusal = Reason.NOT_OFFERED
    elif arrival.offer is None and _passes_handshakes(tx, arrival) and not _is_here(tx, arrival, network.id):
        arrival.refusal = Reason.KEY_NO_HANDSHAKE
    if arrival.refusal is not None:
        return refuse(tx, arrival)
    if isinstance(arrival.offer, Signed):
        return _answer_signed(tx, arrival, arrival.offer, network.id)
    return _again(tx, arrival, network.id) or _answer_by_mac(tx, arrival, network.id)


def _passes_handshakes(tx: Tx, arrival: Arrival) -> bool:
    dialect = tx.config.dialect_of(arrival.access_device)
    return dialect is not None and dialect.keys_by is KeysBy.HANDSHAKE


def _is_here(tx: Tx, arrival: Arrival, network: NetworkId) -> bool:
    """Whether it is inside at this access device, which asks about it once more: it needs no key then."""
    standing = tx.read_standing(arrival.mac, network)
    return (
        standing is not None
        and standing.access_device == arrival.access_device
        and State.INSIDE in (standing.state, standing.wanted)
    )


def _again(tx: Tx, arrival: Arrival, network: NetworkId) -> tuple[Decision, Picture] | None:
    """The same device within a minute, while nothing has changed."""
    kept = tx.memory.find(arrival.mac, network)
    if kept is None or kept.config is not tx.config or not kept.keys:
        return None
    again = decide_again(arrival, kept, tx.now)
    return (again, kept) if again is not None and tx.repeats(kept) else None


def _answer_signed(tx: Tx, arrival: Arrival, signed: Signed, network: NetworkId) -> tuple[Decision, Picture]:
    """Its handshake says which key it has."""
    picture = load_picture(tx, arrival.mac, network)[0]
    key = None if signed.key is None else keys.get_key(tx.conn, tx.keys, signed.key)
    picture.offer_fault = _fault(tx, arrival, network, key, looked=signed.fault)
    if picture.offer_fault is None and key is not None:
        _put(tx, arrival, network, picture, key)
    decision = decide(arrival, picture, tx.now)
    if decision.answer is Answer.ADMIT and key is not None:
        _let_in(tx, arrival, network, picture, decision, is_proven=True)
        bound.bind(tx.conn, arrival.mac, network, key.id, arrival.access_device, tx.now)
        wrong.forget_of(tx.conn, arrival.mac, network)
        picture.keys = (key.text,)
    else:
        if key is not None and decision.reason in (Reason.CODE_WITHDRAWN, Reason.CODE_PAUSED):
            wrong.count(tx.conn, network, arrival.mac, arrival.access_device, key.id, tx.now)
        # One with a wrong key may be another device with a copied address: it puts nobody out.
        _keep_out(tx, arrival, network, picture, decision, is_foreign=picture.offer_fault is not None)
    return decision, picture


def _fault(
    tx: Tx, arrival: Arrival, network: NetworkId, key: HolderKey | None, *, looked: Reason | None
) -> Reason | None:
    """What is wrong with a key; a wrong one is counted."""
    if looked is not None:
        wrong.count_unseen(tx.conn, network, arrival.mac, arrival.access_device, tx.now)
        return looked
    if key is not None and key.network == network and key.holds(tx.now):
        known = bound.find_bound(tx.conn, arrival.mac, network)
        is_removed = known is not None and known.removed_at is not None and known.key == key.id
        return Reason.KEY_REMOVED if is_removed else None
    old = None if key is None or key.network != network else key.id
    wrong.count(tx.conn, network, arrival.mac, arrival.access_device, old, tx.now)
    return Reason.KEY_UNKNOWN if old is None else Reason.KEY_ENDED


def _answer_by_mac(tx: Tx, arrival: Arrival, network: NetworkId) -> tuple[Decision, Picture]:
    """A known device gets the key that it joined with; others are tried on those that they may have."""
    picture = load_picture(tx, arrival.mac, network)[0]
    known = bound.find_bound(tx.conn, arrival.mac, network)
    holding: list[HolderKey] = []
    if known is not None and known.removed_at is not None:
        arrival.offer, picture.offer_fault = Key(known.credential, known.key), Reason.KEY_REMOVED
    elif known is not None:
        found = keys.holding_of(tx.conn, tx.keys, known.credential, tx.now)
        # The one that it joined with before others: it may have got the newer one by now.
        holding = fitting(sorted(found, key=lambda key: key.id != known.key), lambda key: key.text)
        if holding:
            _put(tx, arrival, network, picture, holding[0])
    decision = decide(arrival, picture, tx.now)
    if decision.answer is Answer.ADMIT and holding:
        _let_in(tx, arrival, network, picture, decision, is_proven=False)
        if not _passes_handshakes(tx, arrival):
            picture.keys = tuple(key.text for key in holding)
        if picture.standing is not None and picture.standing.access_device == arrival.access_device:
            tx.memory.keep(arrival.mac, network, picture)
        picture.memo, picture.memo_medium = decision, arrival.medium
        return decision, picture
    tried = None
    may_try = picture.barred_since is None and not _passes_handshakes(tx, arrival)
    if may_try and (not holding or decision.reason in OVER_FOR_GOOD):
        if picture.offer_fault is None and are_too_many(tx, arrival, network):
            arrival.refusal = Reason.TOO_MANY_NEW
            return refuse(tx, arrival)
        tried = keys_to_try(tx, arrival, network) if picture.offer_fault is None else None
    if tried is None:
        _keep_out(tx, arrival, network, picture, decision, is_foreign=False)
        return decision, picture
    if picture.admission is not None:
        move(tx, arrival, picture, decision)  # what it was in by is over
    return _let_try(tx, arrival, network, picture, tried), picture


def _know(tx: Tx, arrival: Arrival) -> None:
    """From now on; a stranger with a wrong key leaves nothing but that it tried."""
    devices.add_device(tx.conn, arrival.mac, tx.now)


def _put(tx: Tx, arrival: Arrival, network: NetworkId, picture: Picture, key: HolderKey) -> None:
    """Offers what the key leads to, unless it is in by that already."""
    admission = picture.admission
    if admission is not None and admission.grant.credential == key.credential:
        arrival.offer = None
    else:
        put_offer(tx, picture, arrival, network, Key(key.credential, key.id))


def _let_in(
    tx: Tx, arrival: Arrival, network: NetworkId, picture: Picture, decision: Decision, *, is_proven: bool
) -> None:
    _know(tx, arrival)
    if arrival.offer is not None:
        assert isinstance(arrival.offer, Key)
        admit(tx, picture, arrival.mac, network, arrival.offer)
    move(tx, arrival, picture, decision, is_proven=is_proven)
    tx.memory.forget(arrival.mac, network)
    picture.offered = None


def _let_try(tx: Tx, arrival: Arrival, network: NetworkId, picture: Picture, tried: Tried) -> Decision:
    """Its access point is given keys; what it had before is nothing any more."""
    _know(tx, arrival)
    arrival.offer = picture.offered = picture.offer_fault = None
    picture.candidates = tried.grants
    decision = decide(arrival, picture, tx.now)
    if decision.reason is Reason.KEY_TRIED:
        bound.save_trial(tx.conn, arrival.mac, network, tried.trial, tx.now)
        picture.keys = tried.texts
    move(tx, arrival, picture, decision)
    tx.memory.forget(arrival.mac, network)
    return decision


def _keep_out(
    tx: Tx,
    arrival: Arrival,
    network: NetworkId,
    picture: Picture,
    decision: Decision,
    *,
    is_foreign: bool,
) -> None:
    if is_foreign or picture.standing is None:
        tx.decided(arrival, decision, None)
    else:
        move(tx, arrival, picture, decision)
    tx.memory.forget(arrival.mac, network)
