"""From what is stored to what the room Desk says."""

from lauschen.api.desk.models import BatchOut, JobOut, PlanOut, VoucherOut
from lauschen.api.desk.sheet import slip_limits
from lauschen.api.shaping import Shaper
from lauschen.api.words.plans import plan_words
from lauschen.core.decide.grant import Grant
from lauschen.core.ids import BatchId, CredentialId
from lauschen.core.limits.left import credential_state, left, must_start_by
from lauschen.core.limits.plan import Plan
from lauschen.core.words.codes import group_code
from lauschen.core.words.text import visible
from lauschen.road.jobs import LongJob
from lauschen.store import credentials
from lauschen.store.credentials import Batch


def plan_out(plan: Plan) -> PlanOut:
    return PlanOut(id=plan.id, name=plan.name, sentence=plan_words(plan), slip=slip_limits(plan))


def job_out(job: LongJob) -> JobOut:
    return JobOut(
        id=job.id, done=job.done, of=job.of, state=job.state.value, error=job.error, batch=job.result
    )


def voucher_out(
    shaper: Shaper, credential: CredentialId, grant: Grant, code: str, devices_in: int
) -> VoucherOut:
    plan = shaper.house.plans[grant.plan]
    remains = left(plan, grant.use, shaper.now)
    is_begun = grant.use.first_used is not None
    return VoucherOut(
        id=credential,
        code=group_code(code),
        plan=plan.name,
        state=credential_state(plan, grant.use, shaper.now),
        first_used=grant.use.first_used,
        until=remains.until if is_begun else None,
        must_start_by=must_start_by(plan, grant.use),
        seconds_left=remains.seconds if is_begun else None,
        octets_used=grant.use.octets,
        octets_left=remains.octets,
        devices_in=devices_in,
    )


def vouchers_out(shaper: Shaper, batch: BatchId, *, after: int, at_most: int) -> list[VoucherOut]:
    found = credentials.vouchers_of(shaper.conn, shaper.keys, batch, after=after, at_most=at_most)
    return [voucher_out(shaper, v.id, v.grant, v.code, v.devices_in) for v in found]


def batch_out(shaper: Shaper, batch: Batch, vouchers: list[VoucherOut] | None = None) -> BatchOut:
    if vouchers is None:
        vouchers = vouchers_out(shaper, batch.id, after=0, at_most=1) if batch.size == 1 else []
    return BatchOut(
        id=batch.id,
        label=visible(batch.label),
        plan=shaper.house.plans[batch.plan].name,
        size=batch.size,
        used=batch.used,
        withdrawn=batch.withdrawn,
        issued_at=batch.issued_at,
        issued_by=batch.issued_by,
        vouchers=vouchers,
    )
