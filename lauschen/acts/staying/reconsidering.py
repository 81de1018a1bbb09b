"""Nobody asked, but the answer may have changed: by the clock, by what was used, by what staff gave."""

from lauschen.acts.arriving.admitting import admit
from lauschen.acts.arriving.facts import as_if_asked, decide_now
from lauschen.acts.arriving.placing import ENDS_ADMISSION, put_wanted
from lauschen.acts.moving.moves import end_stay, keep_out, let_in
from lauschen.core.decide.decision import Answer, Decision
from lauschen.core.decide.reason import FOR_A_WHILE, LIMIT_REASONS
from lauschen.core.decide.standing import Standing, State
from lauschen.core.ways.always import Known
from lauschen.road.tx import Tx


def reconsider(tx: Tx, standing: Standing, *, tell: bool = False) -> Decision:
    """Asks the judge again about whoever is in, and ends the stay if the answer is no any more.

    A role that has changed, and with `tell` a new end too, is brought to the access device.
    """
    decision, picture = decide_now(tx, standing)
    trusted = tx.config.trusts(standing.mac, standing.access_device, None)
    if decision.answer is Answer.ADMIT and picture.offered is not None and trusted is not None:
        admission = admit(tx, picture, standing.mac, standing.network, Known(trusted))
        let_in(tx, standing, admission.id, decision.good_until, 0.0)
        return decision
    if standing.admission is None:
        standing.reconsider_at = None  # it was looked at whether it is trusted now
        tx.write_standing(standing)
        return decision
    is_at_door = standing.state is standing.wanted is State.AT_DOOR
    if decision.answer is Answer.ADMIT and picture.admission is not None:
        is_elsewhere = standing.state is State.INSIDE and standing.role != decision.role
        # At the door it was kept out for a while until now; one that is gone will ask when it is back.
        if tell or is_elsewhere or is_at_door:
            let_in(tx, standing, picture.admission.id, decision.good_until, 0.0)
        elif standing.reconsider_at != decision.good_until:
            # Its access device knows another end, and is told when this one comes; after an earlier one it asks.
            standing.reconsider_at = decision.good_until
            tx.write_standing(standing)
            put_wanted(tx, standing, decision)
        return decision
    if decision.reason in FOR_A_WHILE or (is_at_door and decision.reason not in ENDS_ADMISSION):
        if State.INSIDE in (standing.state, standing.wanted):
            tx.decided(as_if_asked(standing), decision, standing)
        keep_out(tx, standing, decision.reason, decision.good_until)
        return decision
    if decision.reason not in LIMIT_REASONS:
        tx.decided(as_if_asked(standing), decision, standing)
    end_stay(tx, standing, decision.reason, decision.ended)
    if decision.reason in LIMIT_REASONS:
        tx.log(
            "limit_reached",
            mac=standing.mac,
            network=standing.network,
            access_device=standing.access_device,
            facts={"reason": decision.reason},
        )
    return decision
