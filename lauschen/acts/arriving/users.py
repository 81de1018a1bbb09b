"""A person asks through an access device: with a name and a voucher code, or with the one-time login of a visit."""

import hashlib
import os
from collections.abc import Sequence

from lauschen.acts.arriving.admitting import admit, count_wrong_by_radius
from lauschen.acts.arriving.facts import count_seats, load_picture, put_offer
from lauschen.acts.arriving.placing import move
from lauschen.acts.arriving.posted import is_one_time, redeem
from lauschen.core.decide.again import decide_again
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import WRONG_TRIES, Reason
from lauschen.core.decide.steps import decide
from lauschen.core.ids import NetworkId
from lauschen.core.ways.offers.code import Code, read_typed
from lauschen.core.ways.offers.person import NameAndPassword
from lauschen.core.words.codes import USUAL, Typo, group_code
from lauschen.road.tx import Tx
from lauschen.store import devices

_KEY = os.urandom(32)
"""What was typed is remembered by a digest under this key, never as it is."""


def answer_user(tx: Tx, arrival: Arrival, network: NetworkId) -> tuple[Decision, Picture]:
    """Decides what a person's request gets; wrong credentials are refused, not placed at the door (rulings 3.5)."""
    typed = arrival.offer
    assert isinstance(typed, NameAndPassword)
    is_posted = is_one_time(typed)
    again = None if is_posted else _again(tx, arrival, network, typed)
    if again is not None:
        return again
    arrival = arrival.on(network)
    arrival.offer = None
    picture, is_known = load_picture(tx, arrival.mac, network)
    if is_posted:
        arrival.medium = Medium.POSTED
        arrival.refusal = redeem(tx, arrival, typed)
    else:
        _offer(tx, arrival, network, typed, picture)
    decision = decide(arrival, picture, tx.now)
    if not is_known:
        devices.add_device(tx.conn, arrival.mac, tx.now)
    if decision.answer is Answer.REFUSE:
        _refuse(tx, arrival, network, picture, decision)
    elif arrival.offer is not None:
        admit(tx, picture, arrival.mac, network, arrival.offer)
        move(tx, arrival, picture, decision)
        tx.memory.forget(arrival.mac, network)
    else:
        move(tx, arrival, picture, decision)
        tx.memory.keep(arrival.mac, network, picture)
        picture.memo, picture.memo_medium = decision, arrival.medium
        if picture.admission is not None and picture.admission.grant.credential is not None:
            tx.memory.keep_proof(_proof(typed), picture.admission.grant)
    return decision, picture


def _again(
    tx: Tx, arrival: Arrival, network: NetworkId, offered: NameAndPassword
) -> tuple[Decision, Picture] | None:
    """The same person from the same device within a minute, while nothing has changed."""
    kept = tx.memory.find(arrival.mac, network)
    if kept is None or kept.admission is None or kept.config is not tx.config:
        return None
    if offered.login_fault is not None or not tx.memory.is_proven(_proof(offered), kept.admission.grant):
        return None
    if offered.password is None and offered.login is None and isinstance(_code(tx, network, offered), Reason):
        return None  # by CHAP the same name proves nothing
    decision = decide_again(arrival, kept, tx.now)
    return (decision, kept) if decision is not None and tx.repeats(kept) else None


def _proof(offered: NameAndPassword) -> bytes:
    """A digest of what a person typed, to know it again by."""
    text = f"{offered.name}\0{offered.password}" if offered.password is not None else offered.name
    return hashlib.blake2b(text.encode(), digest_size=16, key=_KEY).digest()


def _refuse(tx: Tx, arrival: Arrival, network: NetworkId, picture: Picture, decision: Decision) -> None:
    tx.decided(arrival, decision, None)
    if decision.reason in WRONG_TRIES:
        count_wrong_by_radius(tx, arrival.mac, network, picture.standing)
        tx.memory.forget(arrival.mac, network)


def _offer(tx: Tx, arrival: Arrival, network: NetworkId, typed: NameAndPassword, picture: Picture) -> None:
    what = typed.login or _code(tx, network, typed)
    if isinstance(what, Reason):
        arrival.refusal = what
        return
    put_offer(tx, picture, arrival, network, what, typed.login_fault)
    if picture.offered is None or picture.admission is None:
        return
    if picture.admission.grant.credential == picture.offered.credential:
        # The same person again, from the same device: nothing new begins.
        arrival.offer = picture.offered = None
        count_seats(tx, picture, arrival.mac)


def _code(tx: Tx, network: NetworkId, offered: NameAndPassword) -> Code | Reason:
    takes_words = tx.config.networks[network].takes_words
    return code_of(offered, takes_words=takes_words, lengths=tx.config.code_lengths)


def code_of(offered: NameAndPassword, *, takes_words: bool, lengths: Sequence[int] = USUAL) -> Code | Reason:
    """The code that a person proves to know, or why nothing offered is one.

    By PAP it may stand in either field. CHAP shows no password, so the name must be the code, and the password
    the same in a usual spelling. `takes_words`: codes of this network need not be ten signs.
    """
    if offered.password is not None:
        code = read_typed(offered.password or offered.name, takes_words=takes_words, lengths=lengths)
        return Reason.NOT_A_CODE if isinstance(code, Typo) else code
    code = read_typed(offered.name, takes_words=takes_words, lengths=lengths)
    if isinstance(code, Typo):
        return Reason.CHAP_NAME
    spellings = [offered.name]
    if code.words:
        spellings.append(code.words)
    if code.signs is not None:
        spellings += [code.signs, group_code(code.signs)]
    proven = any(offered.proves(text.encode()) for s in spellings for text in (s, s.lower()))
    return code if proven else Reason.CHAP_PASSWORD
