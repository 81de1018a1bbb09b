"""A device joined whose access point was given keys to try: by one of them, so it has that one."""

from lauschen.acts.arriving.admitting import admit
from lauschen.acts.arriving.facts import as_if_asked, load_picture, put_offer
from lauschen.acts.arriving.placing import move
from lauschen.acts.moving.moves import let_in
from lauschen.core.decide.decision import Answer
from lauschen.core.decide.steps import decide
from lauschen.core.ways.passphrase import Key
from lauschen.road.tx import Tx
from lauschen.store.passphrases import bound, keys, wrong
from lauschen.store.stays import Stay


def joined(tx: Tx, stay: Stay) -> None:
    """Its stay began. Where it was one of several keys, that shows when it is asked about again."""
    if stay.network is None or not tx.config.networks[stay.network].by_key:
        return
    trial = bound.find_trial(tx.conn, stay.mac, stay.network)
    if trial is None or not trial.given:
        return
    bound.note_joined(tx.conn, stay.mac, stay.network, tx.now)
    wrong.forget_of(tx.conn, stay.mac, stay.network)
    if len(trial.given) > 1:
        return
    key = keys.get_key(tx.conn, tx.keys, trial.given[0])
    standing = tx.read_standing(stay.mac, stay.network)
    if key is None or standing is None:
        return
    bound.bind(tx.conn, stay.mac, stay.network, key.id, stay.access_device, tx.now)
    picture, _ = load_picture(tx, stay.mac, stay.network)
    arrival = as_if_asked(standing)
    offer = Key(key.credential, key.id)
    put_offer(tx, picture, arrival, stay.network, offer)
    decision = decide(arrival, picture, tx.now)
    if decision.answer is not Answer.ADMIT:
        # It was withdrawn, or its last seat was taken, since it was offered.
        move(tx, arrival, picture, decision)
        return
    admission = admit(tx, picture, stay.mac, stay.network, offer)
    if standing.role == decision.role:
        move(tx, arrival, picture, decision)
        tx.memory.forget(stay.mac, stay.network)
    else:
        device = tx.config.dialect_of(stay.access_device)
        let_in(tx, standing, admission.id, decision.good_until, device.remembers_s if device else 0.0)
