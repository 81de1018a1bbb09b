"""What staff do to vouchers and devices. Each is one act on the road and reaches the access device at once."""

from collections.abc import Sequence

from lauschen.acts.arriving.placing import hold_again
from lauschen.acts.desk.reaching import Where, let_go, tell_of_more
from lauschen.acts.desk.within import check_guest, check_more_time, check_theirs
from lauschen.acts.moving.moves import end_stay
from lauschen.acts.passphrases.grouping import keep_apart
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import Standing, State
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import CredentialId, Mac, NetworkId
from lauschen.core.limits.left import missing_seconds
from lauschen.road.tx import Tx
from lauschen.store import allowances, credentials, devices, visits
from lauschen.store.log import Facts
from lauschen.store.moving import places

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
    if devices.is_barred(tx.conn, mac):
        # So that nobody who undoes theirs undoes what somebody else did.
        raise Invalid("barred_before", field="state", mend="It was barred before.")
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
    check_theirs(tx, credential)
    check_more_time(tx, credential, seconds)
    grants = allowances.allowances_of(tx.conn, credential)
    if grants[0].use.withdrawn_at is not None:
        raise Invalid("withdrawn", field="voucher", mend="This voucher was withdrawn; issue another one.")
    held, inside = devices.held_by(tx.conn, credential), devices.where_admitted(tx.conn, credential)
    for grant in grants:
        if grant.allowance is None:
            grant.allowance = allowances.begin_allowance(tx.conn, credential, None)
        # Time given to one that ran out counts from now, not from the moment it ran out.
        missing = missing_seconds(tx.config.plan_of(grant), grant.use, tx.now)
        allowances.give(tx.conn, grant.allowance, seconds + missing)
    last = grants[0].use.valid_until
    if last is not None:
        credentials.move_end(tx.conn, credential, max(last, tx.now) + seconds)
        keep_apart(tx, credential)
    tell_of_more(tx, credential, held, inside)
    log_of_credential(tx, "time_given", credential, inside + held, {"seconds": seconds})


def withdraw(tx: Tx, credential: CredentialId) -> bool:
    """*Withdraw*: the voucher lets nobody in any more, and whoever is in by it goes back to the door.

    False, and nothing else, where it was withdrawn before.
    """
    check_theirs(tx, credential)
    if allowances.allowances_of(tx.conn, credential)[0].use.withdrawn_at is not None:
        return False
    credentials.withdraw(tx.conn, credential, tx.now)
    inside = devices.where_admitted(tx.conn, credential)
    let_go(tx, credential, inside, Reason.CODE_WITHDRAWN)
    log_of_credential(tx, "withdrawn", credential, inside, {})
    return True


def forget_away(tx: Tx, credential: CredentialId) -> None:
    """*Forget*: its devices that have left are not let back in without the page; those that are here stay."""
    check_theirs(tx, credential)
    away = devices.where_admitted(tx.conn, credential, State.LEFT)
    if not away:
        mend = "Each of its devices is here; *End stay* sends one out."
        raise Invalid("nobody_away", field="devices", mend=mend)
    let_go(tx, credential, away, Reason.ENDED_BY_STAFF)
    log_of_credential(tx, "forgotten", credential, away, {"count": len(away)})


def try_move_again(tx: Tx, mac: Mac, network: NetworkId) -> None:
    """Sends an unconfirmed change again at once."""
    check_guest(tx, mac, network)
    if not places.hurry(tx.conn, tx.now, mac, network):
        raise NotThere("change")
    tx.has_wishes = True


def _standing(tx: Tx, mac: Mac, network: NetworkId) -> Standing:
    check_guest(tx, mac, network)
    standing = devices.find_standing(tx.conn, mac, network)
    if standing is None:
        raise NotThere("device")
    return standing


def _log(tx: Tx, kind: str, standing: Standing) -> None:
    tx.log(kind, mac=standing.mac, network=standing.network, access_device=standing.access_device)


def log_of_credential(
    tx: Tx, kind: str, credential: CredentialId, concerned: Sequence[Where], facts: Facts
) -> None:
    """An act on a voucher shows in the dossier of the device that it concerns."""
    mac, network = concerned[0] if concerned else (None, None)
    tx.log(kind, mac=mac, network=network, facts={**facts, "voucher": credential})
