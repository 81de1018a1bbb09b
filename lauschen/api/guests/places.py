"""What should hold for a guest and what was seen of it, side by side for each place where they are."""

from lauschen.api.guests.models import PlaceOut
from lauschen.api.shaping import Shaper
from lauschen.api.words.reasons import answer_words
from lauschen.api.words.speaker import Speaker
from lauschen.core.decide.standing import State
from lauschen.core.decide.wanted import ANSWER, CONFIRMED, REPORT, Place, Wanted
from lauschen.core.ids import RoleId
from lauschen.store import devices
from lauschen.store.guests.lines import GuestLine
from lauschen.store.moving import places, wanted

SEEN_BY = {
    ANSWER: "as it was told at {at}. Whether it does so cannot be seen",
    REPORT: "as its accounting has said since {at}",
    CONFIRMED: "as it confirmed at {at}",
}


def places_out(shaper: Shaper, line: GuestLine) -> list[PlaceOut]:
    """The current place comes first. Empty once the guest has left."""
    should = wanted.find_wanted(shaper.conn, line.mac, line.network)
    standing = devices.find_standing(shaper.conn, line.mac, line.network)
    if should is None or standing is None or line.state is State.LEFT:
        return []
    here, speaker = standing.at, shaper.speaker()
    found = places.places_of(shaper.conn, line.mac, line.network)
    found.sort(key=lambda one: one.at != here)
    return [_place_out(speaker, one, should, is_here=one.at == here) for one in found]


def _place_out(speaker: Speaker, place: Place, should: Wanted, *, is_here: bool) -> PlaceOut:
    device = speaker.config.access_devices.get(place.access_device)
    agrees = place.next_at is None if place.is_left else place.agrees(should)
    return PlaceOut(
        where=device.name if device else "a device that is gone",
        session=place.session_id,
        is_here=is_here,
        should="Nothing: they went on from here"
        if place.is_left
        else _held(speaker, should.role, should.until),
        seen=_seen(speaker, place),
        agrees=agrees,
        doing=_doing(speaker, place),
    )


def _held(speaker: Speaker, role: RoleId | None, until: float | None) -> str:
    if role is None:
        return "Nothing"
    known = speaker.config.roles.get(role)
    name = known.name if known else "a role that is gone"
    return name if until is None else f"{name} until {speaker.clock(until)}"


def _seen(speaker: Speaker, place: Place) -> str:
    if place.seen_at is None:
        since = f" since {speaker.clock(place.under_way)}" if place.under_way is not None else ""
        return f"Not known{since}: a change was asked for"
    how = SEEN_BY[place.seen_by or ANSWER].format(at=speaker.clock(place.seen_at))
    return f"{_held(speaker, place.role, place.until)}, {how}"


def _doing(speaker: Speaker, place: Place) -> str:
    """What is done about it; empty when nothing is."""
    if place.under_way is not None:
        return f"Asked at {speaker.clock(place.under_way)}, not answered yet"
    if place.next_at is None:
        return ""
    said = f"Last answer: {answer_words(place.last_answer)}. " if place.last_answer else ""
    if place.tries and not said:
        said = "Last answer: acknowledged. "
    return f"{said}Next request at {speaker.clock(place.next_at)}"
