"""Guest passes: each for a named person, with a code that is proposed or chosen."""

from dataclasses import replace

from lauschen.acts.desk.issuing import begin_batch, draw_one
from lauschen.core.errors import Invalid
from lauschen.core.ids import BatchId, PlanId
from lauschen.core.limits.terms import AS_PLAN, Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.lead import Finder
from lauschen.core.ways.offers.chosen import check_chosen
from lauschen.core.words.codes import TypedCode, read_code
from lauschen.road.tx import Tx
from lauschen.store import batches, credentials
from lauschen.store.batches import Said


def issue_pass(
    tx: Tx, *, said: Said, plan: PlanId, terms: Terms = AS_PLAN, code: str | None = None
) -> BatchId:
    """A pass, valid at once. `code`: what was chosen; None draws one."""
    if not said.label.strip():
        raise Invalid("name_missing", field="label", mend="A guest pass is for a person: say for whom.")
    said = replace(said, label=said.label.strip())
    batch = begin_batch(tx, plan=plan, size=1, said=said, terms=terms)
    if code:
        _add_chosen(tx, batch, plan, terms, code, said.label)
    else:
        draw_one(tx, way=WayIn.GUEST_PASS, batch=batch, plan=plan, terms=terms)
    batches.make_valid(tx.conn, batch)
    tx.log("pass_issued", facts={"name": said.label, "plan": plan, "batch": batch})
    return batch


def _add_chosen(tx: Tx, batch: BatchId, plan: PlanId, terms: Terms, code: str, name: str) -> None:
    seconds = None if terms.valid_until is None else terms.valid_until - tx.now
    words = check_chosen(code, seconds, name)
    drawn = read_code(code, tx.config.code_lengths)
    if isinstance(drawn, TypedCode) and _is_drawn(tx, drawn):
        raise Invalid("code_taken", field="code", mend="A voucher has this code: choose another one.")
    made = credentials.add_chosen(
        tx.conn, tx.keys, words=words, text=code.strip(), plan=plan, batch=batch, now=tx.now, terms=terms
    )
    if made is None:
        raise Invalid("code_taken", field="code", mend="Another pass has this code: choose another one.")


def _is_drawn(tx: Tx, code: TypedCode) -> bool:
    """Whether this code is in use already. If two things had one code, it would be unclear which of them lets in."""
    return credentials.find(tx.conn, tx.keys, Finder(credentials.CODE, code.signs), None) is not None
