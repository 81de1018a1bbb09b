"""What time alone brings about: somebody is asked, is reminded, is asked in their stead; nobody answered."""

from collections.abc import Callable
from functools import partial

from lauschen.acts.hosts.putting import named_by, person_of, put_question, remind, tell_of
from lauschen.core.config.config import Config
from lauschen.core.errors import NotThere
from lauschen.core.ids import VouchingId
from lauschen.core.messages.message import Kind
from lauschen.core.ways.kinds import WayIn
from lauschen.core.ways.offers.fields import NAME
from lauschen.core.ways.sponsor import Sponsor
from lauschen.core.ways.vouching import Role, VouchingState
from lauschen.road.tx import Tx
from lauschen.store.hosts import questions, vouchings
from lauschen.store.hosts.questions import Person
from lauschen.store.hosts.vouchings import Vouching

AT_ONCE = 20
"""So many in one act; the rest comes with the next."""
AGAIN_S = 600.0


def look_at_vouchings(tx: Tx) -> None:
    """Do what is due. One that raises is put off, and holds up no other."""
    for vouching in vouchings.to_ask(tx.conn, tx.now, AT_ONCE):
        _look_at(tx, vouching, _ask)
    for question in questions.to_remind(tx.conn, tx.now, AT_ONCE):
        questions.note_reminded(tx.conn, question, tx.now)
        tx.attempt("vouching", f"question {question}", partial(remind, tx, question))
    for vouching in vouchings.out_of_time(tx.conn, tx.now, AT_ONCE):
        _look_at(tx, vouching, _out_of_time)


def _look_at(tx: Tx, vouching: VouchingId, work: Callable[[Tx, VouchingId], None]) -> None:
    if not tx.attempt("vouching", f"request {vouching}", partial(work, tx, vouching)):
        vouchings.put_off(tx.conn, vouching, tx.now + AGAIN_S)


def over_at(way: Sponsor, since: float) -> float:
    """When the guest is told at the latest that nobody answered."""
    return since + way.wait_s * (1 if way.stand_in is None else 2)


def _ask(tx: Tx, which: VouchingId) -> None:
    """Who is meant is asked; where there is nobody of that name, the stand-in at once."""
    vouching = _there(tx, which)
    way = way_of(tx.config, vouching)
    if way is None:
        _over(tx, vouching)
        return
    person = named_by(tx, way, vouching)
    if person is not None:
        put_question(tx, vouching, way, person, Role.NAMED)
        return
    tx.log(
        "host_unknown",
        mac=vouching.mac,
        network=vouching.network,
        facts={"name": vouching.answers.get(NAME, ""), "host": vouching.named},
    )
    stand_in = _stand_in(tx, way)
    if stand_in is not None:
        put_question(tx, vouching, way, stand_in, Role.STAND_IN)
    # For the guest it is over no sooner than if there were such a host.
    vouchings.ask_later(tx.conn, vouching.id, None, over_at(way, vouching.at))


def _out_of_time(tx: Tx, which: VouchingId) -> None:
    vouching = _there(tx, which)
    way = way_of(tx.config, vouching)
    stand_in = None if way is None else _stand_in(tx, way)
    asked = questions.questions_of(tx.conn, tx.keys, vouching.id)
    if (
        way is None
        or stand_in is None
        or any(one.role is Role.STAND_IN for one in asked)
        or any(one.person.key == stand_in.key for one in asked)
    ):
        _over(tx, vouching)
    else:
        put_question(tx, vouching, way, stand_in, Role.STAND_IN)


def _over(tx: Tx, vouching: Vouching) -> None:
    asked = questions.questions_of(tx.conn, tx.keys, vouching.id)
    vouchings.settle(tx.conn, tx.keys, vouching, VouchingState.OVER, tx.now)
    hosts = ", ".join(one.person.name for one in asked)
    tx.log(
        "host_silent",
        mac=vouching.mac,
        network=vouching.network,
        facts={"name": vouching.answers.get(NAME, ""), "host": hosts},
    )
    tell_of(tx, vouching, Kind.HOST_SILENT, hosts)


def _there(tx: Tx, which: VouchingId) -> Vouching:
    found = vouchings.get_vouching(tx.conn, tx.keys, which)
    if found is None:
        raise NotThere("vouching")
    return found


def way_of(config: Config, vouching: Vouching) -> Sponsor | None:
    """The way in by which it was asked, if it is still offered."""
    network = config.networks.get(vouching.network)
    way = network.way(WayIn.SPONSOR) if network is not None else None
    return way if isinstance(way, Sponsor) else None


def _stand_in(tx: Tx, way: Sponsor) -> Person | None:
    host = None if way.stand_in is None else tx.config.hosts.get(way.stand_in)
    return None if host is None else person_of(host)
