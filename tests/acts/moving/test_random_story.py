"""After a random story, once all packets arrive again, each access device holds what is wanted of it and no more."""

import random
from collections.abc import Callable
from dataclasses import dataclass, field

import pytest

from lauschen.acts.desk import helping, pausing
from lauschen.acts.mass.slices import do_slice
from lauschen.acts.moving import errands
from lauschen.acts.moving.errands import Errand, Saw, Seen
from lauschen.acts.staying.reports import Event
from lauschen.acts.staying.sweep import Sweeper
from lauschen.core.config.dialect import Move
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.standing import State
from lauschen.core.decide.wanted import Place as At
from lauschen.core.errors import LauschenError
from lauschen.core.ids import AccessDeviceId, Mac, RoleId
from lauschen.demo.site import SSID
from lauschen.road.tx import Tx
from lauschen.store import devices
from lauschen.store.moving import places
from tests.place import BARN, GARDEN, PHONE, WEST, Place

NAMES = {WEST: "west", BARN: "barn"}
MACS = [Mac(PHONE + number) for number in range(3)]
STEPS = 100
SEEDS = (3, 11, 23, 25, 40, 51)
LOST = 0.3

Key = tuple[Mac, AccessDeviceId, str]


@dataclass
class Session:
    """What an access device really holds."""

    role: RoleId
    began: float
    octets: int = 0


@dataclass
class Story:
    """Two access devices whose packets get lost, three devices, and somebody at the desk."""

    place: Place
    random: random.Random
    sweeper: Sweeper = field(default_factory=Sweeper)
    sessions: dict[Key, Session] = field(default_factory=dict)
    number: int = 0
    codes: list[str] = field(default_factory=list)
    lost: float = LOST

    def happens(self, chance: float) -> bool:
        return self.random.random() < chance

    def job(self, what: Callable[[Tx], object]) -> None:
        self.place.run(what, is_act=False)

    def ask(self, key: Key, medium: Medium) -> None:
        mac, at, session_id = key
        arrival = Arrival(medium, mac, at, ssid=SSID.encode(), spelled=f"{mac:012X}", session_id=session_id)
        role = self.place.answer(arrival)[0].role
        if role is None:
            self.leave(key, tells=key in self.sessions)
        else:
            self.sessions.setdefault(key, Session(role, self.place.now)).role = role

    def report(self, event: Event, key: Key) -> None:
        mac, at, session_id = key
        held = self.sessions[key]
        seconds = int(self.place.now - held.began)
        self.place.report(
            event, mac, session_id,
            access_device=at, nas_identifier=NAMES[at], session_time=seconds, octets_in=held.octets,
        )  # fmt: skip

    def join(self, mac: Mac) -> None:
        at = self.random.choice([WEST, BARN])
        for key in [key for key in self.sessions if key[0] == mac]:
            if key[1] == at or self.happens(0.5):
                self.leave(key, tells=self.happens(0.8))
        self.number += 1
        key = mac, at, f"S{self.number}"
        self.ask(key, Medium.ASKED)
        if key in self.sessions and self.happens(0.9):
            self.report(Event.START, key)

    def leave(self, key: Key, *, tells: bool) -> None:
        if tells:
            self.report(Event.STOP, key)
        self.sessions.pop(key, None)

    def restart(self, at: AccessDeviceId) -> None:
        for key in [key for key in self.sessions if key[1] == at]:
            del self.sessions[key]
        self.place.report(Event.ON, None, "", access_device=at, nas_identifier=NAMES[at])  # type: ignore[arg-type]

    def type_code(self, mac: Mac) -> None:
        visit = f"v{mac}"
        self.place.open_page(mac, visit, f"127.77.1.{mac & 0xFF}")
        self.place.try_code(self.random.choice(self.codes), visit)

    def act(self, mac: Mac) -> None:
        """Somebody at the desk does something about a device or a code."""
        credential = self.place.voucher(self.random.choice(self.codes))
        acts: list[Callable[[Tx], object]] = [
            lambda tx: helping.end_device_stay(tx, mac, GARDEN),
            lambda tx: helping.bar(tx, mac, GARDEN),
            lambda tx: helping.let_try_again(tx, mac, GARDEN),
            lambda tx: pausing.pause(tx, credential),
            lambda tx: pausing.resume(tx, credential),
            lambda tx: helping.give_time(tx, credential, 600),
        ]
        self.place.run(self.random.choice(acts))

    def step(self) -> None:
        mac, chance = self.random.choice(MACS), self.random.random()
        here = [key for key in self.sessions if key[0] == mac]
        try:
            if chance < 0.25:
                self.join(mac)
            elif chance < 0.35 and here:
                self.leave(here[0], tells=self.happens(0.8))
            elif chance < 0.6 and here:
                self.type_code(mac)
            elif chance < 0.8:
                self.act(mac)
            elif chance < 0.83:
                self.restart(self.random.choice([WEST, BARN]))
            elif chance < 0.86:
                self.place.restart()
        except LauschenError:
            pass  # there is nothing to do it to
        self.pass_time(self.random.choice([0.5, 1, 3, 30, 300]), reports=self.happens(0.4))

    def pass_time(self, seconds: float, *, reports: bool) -> None:
        self.place.now += seconds
        for key in list(self.sessions) if reports else ():
            self.sessions[key].octets += self.random.randrange(10_000)
            if not self.happens(self.lost / 6):
                self.report(Event.INTERIM, key)
        for _ in range(3):
            self.job(self.sweeper.sweep)
            self.job(do_slice)
            self.send()

    def send(self) -> None:
        """Everything that is due goes to the access devices; requests and answers get lost."""
        for at in self.place.run(lambda tx: places.due(tx.conn, tx.now, 50), is_act=False):
            errand = self.place.run(lambda tx, at=at: _take(tx, at), is_act=False)  # type: ignore[misc]
            if errand is None:
                continue
            key = at.mac, at.access_device, at.session_id
            is_heard, is_answered = not self.happens(self.lost), not self.happens(self.lost)
            saw = Saw("accepted")
            if is_heard and key not in self.sessions:
                saw = Saw("Session-Context-Not-Found", Seen.GONE)
            elif is_heard and errand.how is Move.ATTRIBUTES:
                self.sessions[key].role = errand.role
                saw = Saw("accepted", Seen.HOLDS)
            if not (is_heard and is_answered):
                saw = Saw("silent")
            self.job(lambda tx, errand=errand, saw=saw: errands.note_answer(tx, errand, saw))  # type: ignore[misc]
            if is_heard and key in self.sessions:
                self.obey(key, errand.how)

    def obey(self, key: Key, how: Move) -> None:
        if how is Move.DISCONNECT:
            self.leave(key, tells=self.happens(0.9))
        elif how is Move.REAUTHORISE:
            self.ask(key, Medium.REAUTHORISED)

    def settle(self) -> None:
        """Nothing is lost for an hour, and each access device asks again at the time-out before login."""
        self.lost = 0.0
        for minute in range(60):
            self.pass_time(60, reports=True)
            for key in list(self.sessions) if minute % 20 == 19 else ():
                self.ask(key, Medium.ASKED)


def _take(tx: Tx, at: At) -> Errand | None:
    """As the sender does."""
    if errands.give_up_when_over(tx, at):
        return None
    errand = errands.make_errand(tx, at)
    if errand is None:
        places.forget(tx.conn, at.mac, at.network, at.access_device, at.session_id)
    else:
        places.set_out(tx.conn, at, tx.now, tx.now + 60)
    return errand


@pytest.mark.parametrize("seed", SEEDS)
def test_each_access_device_holds_what_is_wanted(place: Place, seed: int) -> None:
    drawn = random.Random(seed)
    login = [Move.REAUTHORISE, Move.DISCONNECT, Move.ATTRIBUTES][seed % 3]
    place.set_dialect(login_move=login, end_move=drawn.choice([login, Move.DISCONNECT]))
    story = Story(place, drawn, codes=place.issue(3))
    for _ in range(STEPS):
        story.step()
    story.settle()
    doors = {role.id for role in place.config.roles.values() if role.is_door}
    for mac in MACS:
        standing = devices.find_standing(place.conn, mac, GARDEN)
        if standing is None:
            continue
        held = {key[1:]: one.role not in doors for key, one in story.sessions.items() if key[0] == mac}
        is_inside = standing.state is State.INSIDE
        assert standing.going is None
        assert held.get(standing.at, False) is is_inside
        if devices.open_admission_of(place.conn, mac, GARDEN) is None:
            assert not any(held.values())
        if standing.state is State.LEFT:
            assert (held, place.places(mac)) == ({}, [])
