"""One guest's story: all on one time line, their other devices, and why they cannot get on."""

from dataclasses import replace

from lauschen.api.guests.models import OtherDevice, WhyOut
from lauschen.api.now.models import LogLine
from lauschen.api.now.shapes import log_line_out
from lauschen.api.shaping import Shaper
from lauschen.api.words.why import why_not
from lauschen.core.decide.reason import Reason
from lauschen.core.decide.standing import State
from lauschen.core.messages.message import MessageState
from lauschen.core.words.mac import short_mac, spell_mac
from lauschen.core.words.text import visible
from lauschen.store import batches, devices, log
from lauschen.store.guests.lines import GuestLine
from lauschen.store.log import DecisionRow, LogRow
from lauschen.store.messages import outbox

LINES, MOST_MESSAGES, MOST_OTHERS = 80, 10, 20


def story(shaper: Shaper, line: GuestLine, heard: list[LogRow]) -> list[LogLine]:
    """What was heard, decided and done, with what was issued and sent among it; newest first."""
    speaker = replace(shaper.speaker(), own=line.mac)
    lines = [log_line_out(speaker, one) for one in heard] + _issued(shaper, line) + _sent(shaper, line)
    lines.sort(key=lambda one: (one.at, one.id), reverse=True)
    return lines


def heard_of(shaper: Shaper, line: GuestLine) -> list[LogRow]:
    found = log.log_of_device(shaper.conn, line.mac, LINES)
    # Elsewhere it may have been in by what somebody else issued.
    if shaper.sight.own_only:
        return [one for one in found if one.network == line.network]
    return [one for one in found if shaper.sight.sees(one.network)]


def _issued(shaper: Shaper, line: GuestLine) -> list[LogLine]:
    credential = line.credential
    if credential is None:
        return []
    batch = batches.batch_of(shaper.conn, credential)
    if batch is None:
        return []
    by = f"{visible(batch.issued_by)} issued it" if batch.issued_by else "It was issued at the page"
    plan = visible(shaper.config.plans[batch.plan].name)
    return [LogLine(id=0, at=batch.issued_at, text=f"{by}: {plan}")]


def _sent(shaper: Shaper, line: GuestLine) -> list[LogLine]:
    credential = line.credential
    if credential is None:
        return []
    lines = []
    for number, one in enumerate(outbox.of_credential(shaper.conn, shaper.keys, credential, MOST_MESSAGES)):
        to = f"to {visible(one.to)} by {'text message' if one.channel == 'text' else one.channel}"
        said = {
            MessageState.SENT: f"It was sent {to}",
            MessageState.WAITING: f"It is on its way {to}",
            MessageState.FAILED: f"It could not be sent {to}: {visible(one.answer or '')}",
        }[one.state]
        lines.append(LogLine(id=-1 - number, at=one.answer_at or one.written_at, text=said))
    return lines


def others(shaper: Shaper, line: GuestLine) -> list[OtherDevice]:
    """Devices that are in by the same, or were last."""
    credential = line.credential
    if credential is None:
        return []
    found = [
        *devices.standings_where_admitted(shaper.conn, credential),
        *devices.standings_last_in_by(shaper.conn, credential),
    ]
    return [
        OtherDevice(
            mac=spell_mac(one.mac),
            short=short_mac(one.mac),
            network=one.network,
            state=one.state,
            since=one.since,
        )
        for one in found
        if (one.mac, one.network) != (line.mac, line.network) and shaper.sight.sees(one.network)
    ][:MOST_OTHERS]


_TRIED = ("page", "person", "posted")


def why(line: GuestLine, heard: list[LogRow]) -> WhyOut | None:
    """None of whoever is in, on the way in, or gone."""
    if State.INSIDE in (line.state, line.going) or line.state == State.LEFT:
        return None
    reason = _tried(line, heard) or line.reason
    opened = any(not isinstance(one, DecisionRow) and one.kind == "page_opened" for one in heard)
    found = why_not(reason, has_opened=opened)
    return WhyOut(cause=found.cause, mend=found.mend, link=found.link)


def _tried(line: GuestLine, heard: list[LogRow]) -> str | None:
    """What was refused last of what a guest tried at the door: it says more than why the device stands there."""
    if line.state != State.AT_DOOR:
        return None
    for one in heard:
        if one.at < line.since:
            break
        if not isinstance(one, DecisionRow):
            if one.kind == "code_mistyped":
                return Reason.CODE_UNKNOWN
        elif one.medium in _TRIED:
            return one.reason if one.answer != "admit" else None
        elif one.answer == "refuse":
            return one.reason  # where devices have keys, nobody is at any door without one
    return None
