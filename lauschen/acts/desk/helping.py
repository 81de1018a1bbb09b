"""What staff do to vouchers and devices. Each is one act on the road and reaches the access device at once."""

from lauschen.acts.arriving.placing import hold_again
from lauschen.acts.moving.moves import end_stay, let_in
from lauschen.core.decide.reason import LIMIT_REASONS, Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.limits.left import left
from lauschen.road.tx import Tx
from lauschen.store import admissions, credentials, devices, visits, wanted
from lauschen.store.log import Facts

MOST_GIVEN_S = 31 * 86_400


def end_device_stay(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """*End stay*: the device goes back to the door; its voucher stays what it is."""
    standing = _standing(tx, mac, network)
    if standing.admission is None and standing.state is not State.INSIDE:
        raise Invalid(
            "not_inside", field="state", mend="This device is not inside, so there is no stay to end."
        )
    end_stay(tx, standing, Reason.ENDED_BY_STAFF)
    _log(tx, "stay_ended_by_staff", standing)


def bar(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """*Bar*: the device is refused on every network until somebody lets it try again."""
    pressed_on = _standing(tx, mac, network)
    devices.bar_device(tx.conn, mac, since=tx.now, by=tx.staff)
    for standing in devices.standings_of(tx.conn, mac):
        end_stay(tx, standing, Reason.BARRED_BY_STAFF)
    _log(tx, "barred", pressed_on)


def let_try_again(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """*Let try again*: takes back a bar, whoever or whatever set it, and forgets the wrong tries."""
    pressed_on = _standing(tx, mac, network)
    devices.bar_device(tx.conn, mac, since=None, by=None)
    devices.bar_typing(tx.conn, mac, None)
    visits.forget_tries_of(tx.conn, mac)
    for standing in devices.standings_of(tx.conn, mac):
        if standing.reason in (Reason.BARRED_BY_STAFF, Reason.BARRED_BY_TRIES):
            hold_again(tx, standing)
            tx.write_standing(standing)
    _log(tx, "let_try_again", pressed_on)


def lift_bar_by_tries(tx: Tx, mac: Mac) -> None:
    """The time of a bar by tries is over."""
    devices.bar_typing(tx.conn, mac, None)
    for standing in devices.standings_of(tx.conn, mac):
        if standing.reason is Reason.BARRED_BY_TRIES:
            hold_again(tx, standing)
            tx.write_standing(standing)


def give_time(tx: Tx, credential: CredentialId, seconds: int) -> None:
    """*Give time*: whoever is in by this voucher stays longer, and whom its time held is let in again."""
    if not 60 <= seconds <= MOST_GIVEN_S:
        raise Invalid("seconds_out_of_range", field="seconds", mend="Give between a minute and 31 days.")
    facts = credentials.get_credential(tx.conn, credential)
    if facts.use.withdrawn_at is not None:
        raise Invalid("withdrawn", field="voucher", mend="This voucher was withdrawn; issue another one.")
    held, inside = _held_by(tx, credential), devices.standings_where_admitted(tx.conn, credential)
    plan = tx.house.plans[facts.plan]
    if facts.use.first_used is not None and plan.seconds is not None:
        # Time given to a voucher that ran out counts from now, not from the moment it ran out.
        over = tx.now - (facts.use.first_used + plan.seconds + facts.use.given_seconds)
        credentials.give(tx.conn, credential, seconds + max(0, int(over + 0.999)))
    else:
        credentials.give(tx.conn, credential, seconds)
    facts = credentials.get_credential(tx.conn, credential)
    remains = left(plan, facts.use, tx.now)
    if not remains.is_over:
        for standing in inside:
            if standing.admission is not None and standing.state is State.INSIDE:
                let_in(tx, standing, standing.admission, remains.until, 0.0)
        for standing in held[: plan.devices]:
            _readmit(tx, standing, credential, remains.until)
    _log_of_voucher(tx, "time_given", credential, inside + held, {"seconds": seconds})


def withdraw(tx: Tx, credential: CredentialId) -> None:
    """*Withdraw*: the voucher lets nobody in any more, and whoever is in by it goes back to the door."""
    credentials.get_credential(tx.conn, credential)
    credentials.withdraw(tx.conn, credential, tx.now)
    inside = devices.standings_where_admitted(tx.conn, credential)
    for standing in inside:
        end_stay(tx, standing, Reason.CODE_WITHDRAWN)
    _log_of_voucher(tx, "withdrawn", credential, inside, {})


def try_move_again(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """Sends an unconfirmed change again at once."""
    wish = wanted.find_wanted(tx.conn, mac, network)
    if wish is None:
        raise NotThere("change")
    wanted.note_answer(
        tx.conn,
        wish,
        answer=wish.last_answer,
        at=wish.last_answer_at or tx.now,
        tries=wish.tries,
        next_at=tx.now,
    )
    tx.has_wishes = True


def _standing(tx: Tx, mac: Mac, network: NetworkId) -> Standing:
    standing = devices.find_standing(tx.conn, mac, network)
    if standing is None:
        raise NotThere("device")
    return standing


def _held_by(tx: Tx, credential: CredentialId) -> list[Standing]:
    """Devices that this voucher's time put into *held*, and that are still here."""
    return [
        standing
        for standing in devices.standings_last_in_by(tx.conn, credential)
        if standing.reason in LIMIT_REASONS and State.HELD in (standing.state, standing.going)
    ]


def _readmit(tx: Tx, standing: Standing, credential: CredentialId, until: float | None) -> None:
    admission = admissions.add_admission(
        tx.conn,
        mac=standing.mac,
        network=standing.network,
        credential=credential,
        token=tx.chance.name(8),
        now=tx.now,
    )
    let_in(tx, standing, admission, until, 0.0)


def _log(tx: Tx, kind: str, standing: Standing) -> None:
    tx.log(kind, mac=standing.mac, network=standing.network, access_device=standing.access_device)


def _log_of_voucher(
    tx: Tx, kind: str, credential: CredentialId, concerned: list[Standing], facts: Facts
) -> None:
    """An act on a voucher shows in the dossier of the device that it concerns."""
    first = concerned[0] if concerned else None
    tx.log(
        kind,
        mac=first.mac if first else None,
        network=first.network if first else None,
        facts={**facts, "voucher": credential},
    )
