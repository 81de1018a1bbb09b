"""A code that somebody typed, at the page or into an access device's own form: looked up, admitted, or counted."""

from lauschen.acts.arriving.placing import enter
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import AdmissionId, Mac, NetworkId
from lauschen.core.limits.tries import BARRED_S, WINDOW_S, barred_until, slow_down
from lauschen.core.words.codes import TypedCode
from lauschen.road.tx import Tx
from lauschen.store import admissions, credentials, devices, visits


def offer_code(tx: Tx, picture: Picture, mac: Mac, typed: TypedCode) -> None:
    """Puts the code's facts into the picture, unless typing is barred: then nothing is looked up."""
    picture.offers_code = True
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


def count_wrong_at_page(tx: Tx, digest: bytes, network: NetworkId, source: str) -> tuple[float | None, float]:
    """Counts a wrong code against the visit it was typed in, and nobody else (rulings 8.2).

    Until when that visit's typing is barred now, and how long its answer should be held back.
    """
    visits.add_wrong_try(tx.conn, visit=digest, source=source, network=network, now=tx.now)
    until = barred_until(visits.wrong_tries_in(tx.conn, digest, tx.now - WINDOW_S - BARRED_S), tx.now)
    if until is not None:
        visits.bar_visit(tx.conn, digest, until)
    since = tx.now - WINDOW_S
    from_source = visits.count_tries_from(tx.conn, source, since)
    return until, slow_down(from_source, visits.count_tries_on(tx.conn, network, since))


def count_wrong_by_radius(tx: Tx, mac: Mac, network: NetworkId, standing: Standing | None) -> None:
    """Counts a wrong code against the MAC that a person's request names: its access device speaks for many."""
    visits.add_wrong_try(tx.conn, mac=mac, network=network, now=tx.now)
    until = barred_until(visits.wrong_tries_of(tx.conn, mac, tx.now - WINDOW_S - BARRED_S), tx.now)
    if until is None:
        return
    devices.bar_typing(tx.conn, mac, until)
    if standing is not None and standing.state is State.AT_DOOR:
        standing.reason, standing.reason_at = Reason.BARRED_BY_TRIES, tx.now
        enter(standing, State.BARRED, tx.now)
        tx.write_standing(standing)
