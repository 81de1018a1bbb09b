"""What follows from an offer, at the page or in an access device's own form: an admission, or a wrong try."""

from lauschen.acts.arriving.placing import enter
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import AdmissionFacts, Picture
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ids import Mac, NetworkId
from lauschen.core.limits.tries import BARRED_S, DEVICE_TRIES, WINDOW_S, barred_until, slow_down
from lauschen.core.ways.ways import Offer
from lauschen.core.words.ip import group_of
from lauschen.road.tx import Tx
from lauschen.store import admissions, allowances, credentials, devices, visits
from lauschen.store.visits import TOKEN, Visit


def admit(tx: Tx, picture: Picture, mac: Mac, network: NetworkId, offer: Offer) -> AdmissionFacts:
    """Begins an admission by what was offered, in place of an earlier one."""
    grant = picture.offered
    assert grant is not None
    if picture.admission is not None:
        admissions.end_admission(tx.conn, picture.admission.id, Reason.OTHER_CODE, tx.now)
    if grant.credential is None:
        assert grant.finder is not None
        grant.credential = credentials.issue_at_door(
            tx.conn,
            tx.keys,
            grant.finder,
            way=grant.way,
            plan=grant.plan,
            now=tx.now,
            role=grant.role,
            trusted=grant.trusted,
        )
    if grant.allowance is None:
        way = tx.config.networks[network].way(grant.way)
        whose = mac if way is not None and way.counts_per_device else None
        grant.allowance = allowances.begin_allowance(tx.conn, grant.credential, whose)
    allowances.start_use(tx.conn, grant.allowance, tx.now)
    if grant.use.first_used is None:
        grant.use.first_used = tx.now
    tx.memory.forget_allowance(grant.allowance)
    picture.admission = begin_admission(tx, mac, network, grant, offer.record())
    return picture.admission


def begin_admission(
    tx: Tx, mac: Mac, network: NetworkId, grant: Grant, offered: dict[str, str | int] | None = None
) -> AdmissionFacts:
    """An admission with a token of its own; it has its seat at once (rulings 4.8)."""
    assert grant.allowance is not None
    token = tx.chance.name(8)
    admission = admissions.add_admission(
        tx.conn, mac=mac, network=network, allowance=grant.allowance, token=token, now=tx.now, offered=offered
    )
    rules = None if offered is None else offered.get("rules")
    return AdmissionFacts(admission, grant, True, tx.now, None if rules is None else int(rules), token)


def who_is_in(tx: Tx, mac: Mac) -> str:
    """For whom that was issued by which a device is in, or what a trusted one is called; empty for nobody by name."""
    return admissions.holder_at(tx.conn, mac, tx.now) or tx.config.name_of(mac)


def count_wrong_at_page(tx: Tx, digest: bytes, visit: Visit, source: str) -> tuple[float | None, float]:
    """Counts a wrong code against the visit it was typed in and its device, and nobody else (rulings 8.2 and 9.6).

    Until when that visit's typing is barred now, and how long its answer should be held back.
    """
    network, source = visit.network, group_of(source)
    visits.add_wrong_try(tx.conn, visit=digest, source=source, network=network, now=tx.now)
    until = barred_until(visits.wrong_tries_in(tx.conn, digest, tx.now - WINDOW_S - BARRED_S), tx.now)
    if until is not None:
        visits.bar_visit(tx.conn, digest, until)
    of_device = device_barred_until(tx, visit.mac) if visit.proof == TOKEN else None
    if of_device is not None:
        visits.bar_visits_of(tx.conn, visit.mac, TOKEN, of_device)
        until = max(until or 0.0, of_device)
    since = tx.now - WINDOW_S
    from_source = visits.count_tries_from(tx.conn, source, since)
    return until, slow_down(from_source, visits.count_tries_on(tx.conn, network, since))


def device_barred_until(tx: Tx, mac: Mac) -> float | None:
    """Until when nothing may be typed for a device, in whichever visit of a token of ours; None: it may."""
    tries = visits.wrong_tries_at_page(tx.conn, mac, TOKEN, tx.now - WINDOW_S - BARRED_S)
    return barred_until(tries, tx.now, DEVICE_TRIES)


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
