"""Accounts: a name and a password for one person, until a moment or for as long as nobody ends it."""

from dataclasses import replace

from lauschen.acts.desk.issuing import begin_batch
from lauschen.acts.desk.within import check_theirs
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import BatchId, CredentialId, PlanId
from lauschen.core.limits.terms import Terms
from lauschen.core.ways.account import check_login_name
from lauschen.road.tx import Tx
from lauschen.store import accounts, batches
from lauschen.store.accounts import NewPassword
from lauschen.store.batches import Said
from lauschen.store.visits import Visit

STAMP_OCTETS = 8


def issue_account(
    tx: Tx, *, said: Said, name: str, password: NewPassword, plan: PlanId, terms: Terms
) -> BatchId:
    """Valid at once. `password` was hashed before, since that takes its time; its stamp is given here."""
    if not said.label.strip():
        raise Invalid("name_missing", field="label", mend="An account is for a person: say for whom.")
    compared = check_login_name(name)
    said = replace(said, label=said.label.strip())
    batch = begin_batch(tx, plan=plan, size=1, said=said, terms=terms)
    made = accounts.add(
        tx.conn,
        tx.keys,
        name=compared,
        shown=name.strip(),
        password=_stamped(tx, password),
        plan=plan,
        batch=batch,
        now=tx.now,
        terms=terms,
    )
    if made is None:
        raise Invalid("login_taken", field="name", mend="There is an account of that name: take another one.")
    if tx.memory.account_names is not None:
        tx.memory.account_names.add(compared)
    batches.make_valid(tx.conn, batch)
    tx.log("account_issued", facts={"name": said.label, "plan": plan, "batch": batch})
    return batch


def set_password(
    tx: Tx, credential: CredentialId, password: NewPassword, *, visit: Visit | None = None
) -> None:
    """Whoever is in by it stays in; from now on only the new one lets somebody in. `visit`: where it was typed."""
    if accounts.name_of(tx.conn, credential) is None:
        raise NotThere("account")
    check_theirs(tx, credential)
    accounts.set_password(tx.conn, tx.keys, credential, _stamped(tx, password), tx.now)
    mac, network = (visit.mac, visit.network) if visit is not None else (None, None)
    tx.log("account_password_set", mac=mac, network=network, facts={"voucher": credential})


def _stamped(tx: Tx, password: NewPassword) -> NewPassword:
    return NewPassword(tx.chance.name(STAMP_OCTETS), password.hashed, password.readable)
