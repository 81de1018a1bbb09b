"""A house on disk without servers: jobs run in transactions, time stands still until it is moved."""

import itertools
from collections.abc import Callable, Iterator
from contextlib import contextmanager, nullcontext
from dataclasses import replace
from pathlib import Path
from typing import NamedTuple, TypeVar

from lauschen.acts.arriving.arrivals import answer_arrival
from lauschen.acts.desk import issuing
from lauschen.acts.page import trying as page_acts
from lauschen.acts.page import visiting
from lauschen.acts.staying import reports as accounting
from lauschen.acts.staying.reports import Event, Report
from lauschen.core.actor import GUEST, Actor, person
from lauschen.core.decide.arrival import Arrival, Medium
from lauschen.core.decide.decision import Decision
from lauschen.core.decide.grant import Grant
from lauschen.core.decide.picture import Picture
from lauschen.core.decide.standing import Standing
from lauschen.core.decide.wanted import Place as At
from lauschen.core.ids import AccessDeviceId, CredentialId, Mac, NetworkId, PlanId, StaffId
from lauschen.core.ways.lead import Finder
from lauschen.core.ways.offers.code import Code
from lauschen.core.words.codes import Typo, read_code
from lauschen.core.words.tokens import PortalToken
from lauschen.demo.site import SSID
from lauschen.road.faults import Faults
from lauschen.road.memory import Memory
from lauschen.road.touched import Touched
from lauschen.road.tx import Tx
from lauschen.serve.first_run import open_data
from lauschen.store import credentials, devices, log
from lauschen.store.batches import Said
from lauschen.store.config.settings import load_config
from lauschen.store.db import atomic
from lauschen.store.moving import places, wanted
from tests.twice import COIN, unchanged

T = TypeVar("T")
T0 = 1_780_000_000.0
GARDEN, WEST, BARN = NetworkId(1), AccessDeviceId(1), AccessDeviceId(2)
PHONE, OTHER = Mac(0x020000AABB01), Mac(0x020000AABB02)
DAY_VISIT, POSTCARD = PlanId(1), PlanId(2)
DESK = StaffId(1)


class CountedChance:
    """Random values that are different each time and the same in each run."""

    def __init__(self) -> None:
        self._numbers = itertools.count(1)

    def below(self, limit: int) -> int:
        return next(self._numbers) * 7_919_000_003 % limit

    def name(self, octets: int) -> str:
        return f"{next(self._numbers):0{octets * 2}x}"


class Wish(NamedTuple):
    """What is to be changed at one place."""

    what: str
    session_id: str | None
    tries: int
    next_at: float
    last_answer: str | None
    at: At


class Place:
    """Everything that the road works with, in plain calls."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.conn, self.keys = open_data(data)
        self.config = load_config(self.conn, self.keys)
        self.now = T0
        self.restart()
        self.wakes = 0
        self.faults = Faults(lambda: self.now)
        self._chance = CountedChance()
        self._log_id = 1
        self.visits: dict[str, tuple[str, str]] = {}
        """By the name that a test gives one: its real name, and the address it came from."""

    def close(self) -> None:
        self.conn.close()

    @contextmanager
    def tx(self, *, is_act: bool = True, by: Actor | None = None) -> Iterator[Tx]:
        """Arrivals and reports are no acts: they keep the facts in memory true by themselves."""
        tx = self._new_tx()
        try:
            with atomic(self.conn):
                with tx.inner(by=by or person(DESK)) if is_act else nullcontext():
                    yield tx
                tx.flush()
        except BaseException:
            self.memory.roll_back()
            raise
        self._log_id = tx.next_log_id
        self.wakes += tx.has_wishes
        self.memory.commit()
        for effect in tx.effects:
            effect()

    def restart(self) -> None:
        """What was in memory is gone."""
        self.memory = Memory()
        self.touched = Touched(self.conn, self.memory)

    def reload(self) -> None:
        """A test changed the configuration."""
        self.config = load_config(self.conn, self.keys)

    def _new_tx(self) -> Tx:
        return Tx(
            self.conn,
            config=self.config,
            keys=self.keys,
            now=self.now,
            chance=self._chance,
            next_log_id=self._log_id,
            memory=self.memory,
            note_fault=self.faults.note,
        )

    def run(self, job: Callable[[Tx], T], *, is_act: bool = True, by: Actor | None = None) -> T:
        """What `job` returns; it may run twice, as on the road."""
        if COIN():
            tx = self._new_tx()
            self.conn.execute("BEGIN IMMEDIATE")
            try:
                with tx.inner(by=by or person(DESK)) if is_act else nullcontext():
                    job(tx)
                tx.flush()
            finally:
                self.memory.roll_back()
                self.conn.execute("ROLLBACK")
        with self.tx(is_act=is_act, by=by) as tx:
            return job(tx)

    def ask(
        self,
        mac: Mac = PHONE,
        session: str | None = "S1",
        at: AccessDeviceId = WEST,
        medium: Medium = Medium.ASKED,
    ) -> tuple[Decision, Picture]:
        arrival = Arrival(medium, mac, at, ssid=SSID.encode(), spelled=f"{mac:012X}", session_id=session)
        return self.answer(arrival)

    def answer(self, arrival: Arrival) -> tuple[Decision, Picture]:
        with unchanged(arrival):
            return self.run(lambda tx: answer_arrival(tx, arrival), is_act=False)

    def take(self, report: Report) -> None:
        with unchanged(report):
            self.run(lambda tx: accounting.take_report(tx, report), is_act=False)

    def report(self, event: Event, mac: Mac = PHONE, session: str = "S1", **more: object) -> None:
        heard = Report(event, WEST, "west", 0, mac, SSID.encode(), session)
        for name, value in more.items():
            setattr(heard, name, value)
        self.take(heard)

    def set_dialect(self, **changes: object) -> None:
        """Changes how the demo's access devices talk."""
        dialect = next(iter(self.config.dialects.values()))
        changed = replace(dialect, **changes)  # type: ignore[arg-type]
        self.config = replace(self.config, dialects={**self.config.dialects, dialect.id: changed})

    def issue(self, count: int = 1, plan: PlanId = DAY_VISIT) -> list[str]:
        def draw(tx: Tx) -> list[str]:
            batch = issuing.begin_batch(tx, plan=plan, size=count, said=Said())
            issuing.draw_vouchers(tx, batch=batch, plan=plan, count=count)
            issuing.finish_batch(tx, batch=batch, plan=plan, size=count)
            return [v.code for v in credentials.all_issued_of(tx.conn, tx.keys, batch)]

        return self.run(draw)

    def voucher(self, code: str) -> CredentialId:
        found = self.grant(code)
        assert found is not None
        assert found.credential is not None
        return found.credential

    def grant(self, code: str) -> Grant | None:
        """What a code leads to, with what was used of it."""
        return credentials.find(self.conn, self.keys, Finder("code", code), None)

    def open_page(
        self, mac: Mac = PHONE, visit: str = "visit-1", source: str = "127.77.1.1", going: str | None = None
    ) -> str:
        token = PortalToken(mac, WEST, GARDEN, int(self.now) + 2400)
        real = self.run(lambda tx: visiting.open_by_token(tx, token, going, source))
        self.visits[visit] = real, source
        return real

    def try_code(
        self, code: str, visit: str = "visit-1", source: str | None = None
    ) -> Typo | page_acts.Tried:
        real, home = self.visits[visit]
        typed = read_code(code)
        if isinstance(typed, Typo):
            self.run(lambda tx: page_acts.note_typo(tx, real, typed, source or home), by=GUEST)
            return typed
        code = Code(typed.signs.lower(), typed.signs)
        return self.run(lambda tx: page_acts.try_offer(tx, real, code, source or home), by=GUEST)

    def log_out(self, visit: str = "visit-1") -> None:
        real, source = self.visits[visit]
        self.run(lambda tx: page_acts.log_out(tx, real, source))

    def let_in(self, code: str, mac: Mac = PHONE, session: str = "S1", visit: str = "visit-1") -> Decision:
        """The whole way in: asks, opens the page, types the code, is asked about again."""
        self.ask(mac, session)
        self.report(Event.START, mac, session)
        self.open_page(mac, visit, f"127.77.1.{mac & 0xFF}")
        tried = self.try_code(code, visit)
        assert isinstance(tried, page_acts.Tried)
        assert tried.reason == "admitted"
        return self.ask(mac, session, medium=Medium.REAUTHORISED)[0]

    def standing(self, mac: Mac = PHONE) -> Standing:
        found = devices.find_standing(self.conn, mac, GARDEN)
        assert found is not None
        return found

    def wish(self, mac: Mac = PHONE) -> Wish | None:
        """What is to be changed for a device, at the one place where something is."""
        due = [one for one in places.places_of(self.conn, mac, GARDEN) if one.next_at is not None]
        if not due:
            return None
        (at,) = due
        should = wanted.find_wanted(self.conn, mac, GARDEN)
        assert should is not None
        assert at.next_at is not None
        what, session = "in" if should.lets_in else "out", at.session_id or None
        return Wish(what, session, at.tries, at.next_at, at.last_answer, at)

    def places(self, mac: Mac = PHONE) -> list[At]:
        return places.places_of(self.conn, mac, GARDEN)

    def kinds(self) -> list[str]:
        """What was heard besides decisions, oldest first."""
        rows = log.log_before(self.conn, None, 1000)
        return [row.kind for row in reversed(rows) if isinstance(row, log.EventRow)]
