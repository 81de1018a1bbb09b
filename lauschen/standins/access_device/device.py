"""The stand-in access point: associates phones, asks, applies what it is told, counts, and reports."""

import asyncio
import itertools
import os
from collections.abc import Callable, Coroutine
from dataclasses import dataclass, field
from typing import Any

from lauschen.core.ids import Mac
from lauschen.core.words.mac import read_mac, spell_mac
from lauschen.radius.wire import attributes
from lauschen.radius.wire.codec import Packet
from lauschen.radius.wire.numbers import Code, ErrorCause, Kind, ServiceType, StatusType
from lauschen.radius.wire.signing import chap
from lauschen.road.clock import Clock
from lauschen.standins.access_device.habits import Habits
from lauschen.standins.access_device.radio import Radio, Source
from lauschen.standins.access_device.session import Placement, Session, read_placement

ETHERNET, WIRELESS_802_11 = 15, 19
USER_REQUEST, IDLE_TIMEOUT, SESSION_TIMEOUT, ADMIN_RESET = 1, 4, 5, 6
REJOIN_S = 0.05


@dataclass(slots=True)
class Phone:
    """A simulated phone. It stays on the SSID: when its association is ended for it, it joins anew."""

    mac: Mac
    ip: str
    wants_in: bool = False
    session: Session | None = None
    """None while it is not associated, or not yet answered."""
    last_session_id: str | None = None
    last_placement: Placement | None = None
    asked_at: float = 0.0
    """Monotonic."""
    came: asyncio.Event = field(default_factory=asyncio.Event)
    """Set when it was associated anew; what it wants to send waits for that."""


def port_of(phone: Phone) -> str:
    """The port that a wired device is plugged into, as NAS-Port-Id names it."""
    return f"wall {phone.ip.rpartition('.')[2]}"


class AccessPoint:
    """One SSID at one access device, or the wired ports of a switch. All times come from the clock it was given."""

    def __init__(
        self,
        *,
        name: str,
        address: str,
        ssid: str,
        bssid: str,
        secret: bytes,
        clock: Clock,
        habits: Habits | None = None,
    ) -> None:
        self.name = name
        self.address = address
        self.phones: dict[Mac, Phone] = {}
        self.radio = Radio(address, secret, clock=clock, on_change=self._change)
        self.habits = habits or Habits()
        self.is_wired = not ssid
        self._called = f"{bssid}:{ssid}" if ssid else bssid
        self._clock = clock
        self._numbers = itertools.count(1)
        self._tasks: set[asyncio.Task[None]] = set()
        self._changed = asyncio.Event()
        self._is_closing = False

    def start(self, *, auth: Source, acct: Source) -> None:
        """Begins to hear changes, and knows from now on whom to ask."""
        self.radio.start(auth, acct)

    async def close(self) -> None:
        self._is_closing = True
        for phone in self.phones.values():
            if phone.session:
                phone.session.stop_timers()
                phone.session.cut_flows()
        for task in list(self._tasks):
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)
        self.radio.close()

    def add_phone(self, mac: str, ip: str) -> Phone:
        read = read_mac(mac)
        if read is None:
            raise ValueError(mac)
        phone = self.phones[read] = Phone(read, ip)
        return phone

    async def join(self, phone: Phone) -> bool:
        """Associates; False when it was refused or nobody answered."""
        phone.wants_in = True
        if phone.session is not None:
            return True
        session_id = f"{next(self._numbers):08X}{os.urandom(2).hex().upper()}"
        if self.habits.keeps_session_id:
            session_id = phone.last_session_id = phone.last_session_id or session_id
        placement = await self._placement_of(phone, session_id)
        if placement is None or not phone.wants_in:
            return False
        phone.session = Session(session_id, self._clock.monotonic(), placement)
        phone.session.last_traffic = self._clock.monotonic()
        self._set_timers(phone, phone.session)
        phone.came.set()
        await self._report(phone, phone.session, StatusType.START)
        self._notify()
        return True

    async def _placement_of(self, phone: Phone, session_id: str) -> Placement | None:
        """Asks, or remembers what it was told a moment ago."""
        now = self._clock.monotonic()
        if phone.last_placement is not None and now - phone.asked_at < self.habits.remembers_s:
            return phone.last_placement
        accept = await self.radio.ask(self._request(phone, session_id))
        if accept is None or accept.code != Code.ACCESS_ACCEPT:
            return None
        phone.asked_at = now
        phone.last_placement = read_placement(accept)
        return phone.last_placement

    async def log_in(self, phone: Phone, name: str, password: str) -> bool:
        """Its own login page heard a name and a password; False when they were refused."""
        session = phone.session
        if session is None:
            return False
        authenticator = os.urandom(16)
        parts = [attributes.text(Kind.USER_NAME, name), *self._identity(phone)]
        parts.append(attributes.text(Kind.ACCT_SESSION_ID, session.id))
        if self.habits.asks_by_chap:
            parts.append(attributes.octets(Kind.CHAP_PASSWORD, chap(7, password, authenticator)))
        else:
            hidden = self.radio.hide(password.encode(), authenticator)
            parts.append(attributes.octets(Kind.USER_PASSWORD, hidden))
        reply = await self.radio.ask(b"".join(parts), authenticator)
        if reply is None or reply.code != Code.ACCESS_ACCEPT or phone.session is not session:
            return False
        await self.placed_anew(phone, session, read_placement(reply))
        return True

    async def placed_anew(self, phone: Phone, session: Session, placement: Placement) -> None:
        """A running session is put elsewhere; what it carried so far belongs to the placement before."""
        await self._report(phone, session, StatusType.INTERIM_UPDATE)
        if placement.filter_name != session.placement.filter_name:
            session.cut_flows()
        session.placement = placement
        self._set_timers(phone, session)
        self._notify()

    async def leave(self, phone: Phone) -> None:
        """The phone walks away."""
        phone.wants_in = False
        await self.end(phone, USER_REQUEST)

    async def report_now(self, phone: Phone) -> None:
        """Sends an Interim-Update with what was counted so far."""
        if phone.session is not None:
            await self._report(phone, phone.session, StatusType.INTERIM_UPDATE)

    async def until(self, condition: Callable[[], bool]) -> None:
        """Returns once a change at this device made the condition true."""
        while not condition():
            await self._changed.wait()

    def spawn(self, work: Coroutine[Any, Any, Any]) -> None:
        if self._is_closing:  # what is asked for now would find no socket
            work.close()
            return
        task = asyncio.get_running_loop().create_task(work)
        self._tasks.add(task)
        task.add_done_callback(self._finished)

    def _finished(self, task: "asyncio.Task[None]") -> None:
        self._tasks.discard(task)
        if not task.cancelled():
            task.result()

    def _change(self, packet: Packet) -> tuple[Code, int | None]:
        """A CoA- or Disconnect-Request from Lauschen (RFC 5176)."""
        is_disconnect = packet.code == Code.DISCONNECT_REQUEST
        nak = Code.DISCONNECT_NAK if is_disconnect else Code.COA_NAK
        phone = self._find(packet)
        if phone is None or phone.session is None:
            return nak, ErrorCause.SESSION_CONTEXT_NOT_FOUND
        if is_disconnect:
            self.spawn(self.end(phone, ADMIN_RESET))
            return Code.DISCONNECT_ACK, None
        if packet.first(Kind.SERVICE_TYPE) is None and self.habits.takes_attributes:
            self.spawn(self.placed_anew(phone, phone.session, read_placement(packet)))
            return Code.COA_ACK, None
        if not self.habits.supports_reauthorise:
            return nak, ErrorCause.UNSUPPORTED_SERVICE
        state = packet.first(Kind.STATE)
        if packet.integer(Kind.SERVICE_TYPE) != ServiceType.AUTHORIZE_ONLY or state is None:
            return nak, ErrorCause.MISSING_ATTRIBUTE
        self.spawn(self._ask_again(phone, phone.session, state))
        return nak, ErrorCause.REQUEST_INITIATED

    def _find(self, packet: Packet) -> Phone | None:
        session_id = packet.text(Kind.ACCT_SESSION_ID)
        station = read_mac(packet.text(Kind.CALLING_STATION_ID) or "")
        for phone in self.phones.values():
            if phone.session is None:
                continue
            # RFC 5176 section 3: identification attributes are ANDed.
            if session_id not in (None, phone.session.id) or station not in (None, phone.mac):
                continue
            return phone
        return None

    async def _ask_again(self, phone: Phone, session: Session, state: bytes | None) -> None:
        """Re-authorisation: after a CoA-Request (with its State), or at a time-out that says so."""
        reply = await self.radio.ask(self._request(phone, session.id, state))
        if phone.session is not session or reply is None:
            return
        if reply.code != Code.ACCESS_ACCEPT:
            await self.end(phone, ADMIN_RESET)
            return
        await self.placed_anew(phone, session, read_placement(reply))

    async def end(self, phone: Phone, cause: int) -> None:
        session = phone.session
        if session is None:
            return
        phone.session = None
        phone.came.clear()
        session.stop_timers()
        session.cut_flows()
        await self._report(phone, session, StatusType.STOP, cause)
        self._notify()
        if phone.wants_in:
            self._clock.call_later(REJOIN_S, lambda: self.spawn(self.join(phone)))

    def _set_timers(self, phone: Phone, session: Session) -> None:
        session.stop_timers()
        placement = session.placement
        if placement.session_timeout is not None:
            session.timers.append(
                self._clock.call_later(placement.session_timeout, lambda: self._time_out(phone, session))
            )
        if placement.idle_timeout is not None:
            session.timers.append(
                self._clock.call_later(placement.idle_timeout, lambda: self._look_idle(phone, session))
            )

    def _time_out(self, phone: Phone, session: Session) -> None:
        if phone.session is not session:
            return
        if session.placement.asks_again:
            self.spawn(self._ask_anew(phone, session))
        else:
            self.spawn(self.end(phone, SESSION_TIMEOUT))

    async def _ask_anew(self, phone: Phone, session: Session) -> None:
        reply = await self.radio.ask(self._request(phone, session.id))
        if phone.session is not session or reply is None or reply.code != Code.ACCESS_ACCEPT:
            return
        session.placement = read_placement(reply)
        self._set_timers(phone, session)
        self._notify()

    def _look_idle(self, phone: Phone, session: Session) -> None:
        idle = session.placement.idle_timeout
        if phone.session is not session or idle is None:
            return
        rest = session.last_traffic + idle - self._clock.monotonic()
        if rest > 0:
            session.timers.append(self._clock.call_later(rest, lambda: self._look_idle(phone, session)))
            return
        phone.wants_in = False  # an idle phone is asleep; it comes back when somebody uses it
        self.spawn(self.end(phone, IDLE_TIMEOUT))

    def _request(self, phone: Phone, session_id: str, state: bytes | None = None) -> bytes:
        name = f"{phone.mac:012x}"
        service = ServiceType.CALL_CHECK if state is None else ServiceType.AUTHORIZE_ONLY
        parts = [attributes.text(Kind.USER_NAME, name), *self._identity(phone)]
        parts.append(attributes.integer(Kind.SERVICE_TYPE, service))
        parts.append(attributes.text(Kind.ACCT_SESSION_ID, session_id))
        if state is not None:
            parts.append(attributes.octets(Kind.STATE, state))
        return b"".join(parts)

    async def _report(
        self, phone: Phone, session: Session, status: StatusType, cause: int | None = None
    ) -> None:
        parts = [attributes.integer(Kind.ACCT_STATUS_TYPE, status)]
        parts.append(attributes.text(Kind.USER_NAME, f"{phone.mac:012x}"))
        parts += self._identity(phone)
        parts.append(attributes.text(Kind.ACCT_SESSION_ID, session.id))
        parts.append(attributes.integer(Kind.ACCT_DELAY_TIME, 0))
        if session.placement.class_ is not None:
            parts.append(attributes.octets(Kind.CLASS, session.placement.class_))
        if session.placement.user is not None:
            parts.append(attributes.octets(Kind.CHARGEABLE_USER_IDENTITY, session.placement.user))
        if status is not StatusType.START:
            parts.append(
                attributes.integer(Kind.ACCT_SESSION_TIME, int(self._clock.monotonic() - session.began))
            )
            for low, high, octets in (
                (Kind.ACCT_INPUT_OCTETS, Kind.ACCT_INPUT_GIGAWORDS, session.octets_in),
                (Kind.ACCT_OUTPUT_OCTETS, Kind.ACCT_OUTPUT_GIGAWORDS, session.octets_out),
            ):
                parts.append(attributes.integer(low, octets & 0xFFFFFFFF))
                parts.append(attributes.integer(high, octets >> 32))
        if cause is not None:
            parts.append(attributes.integer(Kind.ACCT_TERMINATE_CAUSE, cause))
        await self.radio.report(b"".join(parts))

    def _identity(self, phone: Phone) -> list[bytes]:
        parts = [
            attributes.address(Kind.NAS_IP_ADDRESS, self.address),
            attributes.text(Kind.NAS_IDENTIFIER, self.name),
            attributes.text(Kind.CALLED_STATION_ID, self._called),
            attributes.text(Kind.CALLING_STATION_ID, spell_mac(phone.mac)),
            attributes.integer(Kind.NAS_PORT_TYPE, ETHERNET if self.is_wired else WIRELESS_802_11),
        ]
        if self.is_wired:
            parts.append(attributes.text(Kind.NAS_PORT_ID, port_of(phone)))
        if self.habits.tells_address:
            parts.append(attributes.address(Kind.FRAMED_IP_ADDRESS, phone.ip))
        return parts

    def page_for(self, phone: Phone, going: str) -> str | None:
        """Where plain HTTP of a device before login is sent; None when this make redirects nowhere."""
        if phone.session is None:
            return None
        return self.habits.page_for(phone.mac, going) or phone.session.placement.page_for(going)

    def _notify(self) -> None:
        self._changed.set()
        self._changed.clear()
