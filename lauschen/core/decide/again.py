"""A decision that repeats another one, found without asking every step again."""

from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.judge import judge
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.reason import LIMIT_REASONS, Reason

# Looked up once: a member of an enumeration costs a call, for each packet (rulings 1.3).
_ADMIT = Answer.ADMIT
_ASKING = (Medium.ASKED, Medium.PERSON)


def decide_again(arrival: Arrival, picture: Picture, now: float) -> Decision | None:
    """What `decide` would say again, without its trace; None when it must be asked.

    For a request that repeats another one while nothing that was looked at has changed: the facts are the same
    object, so only time and use can make a difference.
    """
    before, standing = picture.memo, picture.standing
    if before is None or standing is None or picture.is_wanted:
        return None
    if arrival.medium is not picture.memo_medium or arrival.medium not in _ASKING:
        return None
    if (
        standing.session_id != arrival.session_id
        or standing.access_device != arrival.access_device
        or standing.source != arrival.source
        or standing.spelled != arrival.spelled
        or standing.wanted is not standing.state
        or (arrival.framed_ip is not None and standing.framed_ip != arrival.framed_ip)
        or picture.barred_since is not None
        or picture.typing_barred_until is not None
    ):
        return None
    admission = picture.admission
    if admission is None:
        # Other reasons are said once: what they ended is not there any more.
        is_lasting = before.reason is Reason.NEEDS_CODE or before.reason in LIMIT_REASONS
        return before if is_lasting and before.answer is Answer.DOOR and before.left is None else None
    if before.answer is not _ADMIT or not admission.has_seat or standing.admission != admission.id:
        return None
    grant = admission.grant
    verdict = judge(picture.config.plan_of(grant), grant, now)
    until = verdict.left.until
    if verdict.reason is not None or standing.reconsider_at != until:
        return None
    # The same decision, with what is left now: it is not made anew for each packet (rulings 1.3).
    before.left, before.good_until = verdict.left, until
    return before
