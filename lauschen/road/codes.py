"""A code that somebody typed, at the page or into an access device's own form: looked up, admitted, or counted."""

from lauschen.core.codes import TypedCode
from lauschen.core.ids import AdmissionId, Mac, NetworkId
from lauschen.core.picture import Picture, Reason, Standing, State
from lauschen.core.tries import BARRED_S, DEVICE_TRIES, SOURCE_TRIES, WINDOW_S, barred_until, slow_down
from lauschen.road.placing import enter
from lauschen.road.tx import Tx
from lauschen.store import admissions, credentials, devices, visits


def offer_code(tx: Tx, picture: Picture, mac: Mac, source: str, typed: TypedCode) -> None:
    """Puts the code's facts into the picture, unless typing is barred: then nothing is looked up."""
    picture.offers_code = True
    since = tx.now - WINDOW_S - BARRED_S
    from_source = barred_until(visits.wrong_tries_from(tx.conn, source, since), SOURCE_TRIES, tx.now)
    if from_source is not None:
        picture.typing_barred_until = max(picture.typing_barred_until or 0.0, from_source)
    may_type = picture.typing_barred_until is None or picture.typing_barred_until <= tx.now
    if picture.barred_since is None and may_type:
        picture.offered = credentials.find_by_code(tx.conn, tx.keys, typed.signs)
        if picture.offered is not None:
            picture.seats_taken = admissions.seats_taken(tx.conn, picture.offered.id, mac)


def admit(tx: Tx, picture: Picture, mac: Mac, network: NetworkId) -> tuple[AdmissionId, str]:
    """Begins an admission by the code in the picture, in place of an earlier one; also its token."""
    assert picture.offered is not None
    if picture.admission is not None:
        admissions.end_admission(tx.conn, picture.admission.id, Reason.OTHER_CODE, tx.now)
    credentials.start_use(tx.conn, picture.offered.id, tx.now)
    token = tx.chance.name(8)
    admission = admissions.add_admission(
        tx.conn, mac=mac, network=network, credential=picture.offered.id, token=token, now=tx.now
    )
    return admission, token


def count_wrong(
    tx: Tx, mac: Mac, network: NetworkId, standing: Standing | None, source: str, *, is_device_proven: bool
) -> float:
    """Counts a wrong code; returns how long its answer should be held back (rulings 6.4).

    A claimed address is not charged with the tries of whoever claims it (rulings 6.2).
    """
    visits.add_wrong_try(
        tx.conn, mac=mac if is_device_proven else Mac(0), network=network, source=source, now=tx.now
    )
    if is_device_proven:
        since = tx.now - WINDOW_S - BARRED_S
        until = barred_until(visits.wrong_tries_of(tx.conn, mac, since), DEVICE_TRIES, tx.now)
        if until is not None:
            devices.bar_typing(tx.conn, mac, until)
            if standing is not None and standing.state in (State.AT_DOOR, State.HELD):
                standing.reason = Reason.BARRED_BY_TRIES
                enter(standing, State.BARRED, tx.now)
                tx.write_standing(standing)
    return slow_down(visits.count_wrong_tries(tx.conn, network, tx.now - WINDOW_S))
