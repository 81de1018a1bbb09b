"""What raised on the road or beside it: caught where it was, counted by kind, shown on Now; all else goes on."""

from collections.abc import Callable
from dataclasses import dataclass

import structlog

from lauschen.core.words.text import visible

LOGGED_EACH_S = 60.0
"""The log has the first of each kind in a minute with its traceback; a flood of faults is no flood of lines."""
LONGEST_REASON = 200

logger = structlog.get_logger()


@dataclass(slots=True)
class Fault:
    """One kind of fault."""

    count: int
    since: float
    last: float
    reason: str
    """What the last one said, and about what."""
    logged: float


class Faults:
    """Times are UTC epoch seconds."""

    def __init__(self, now: Callable[[], float]) -> None:
        self._now = now
        self.kinds: dict[str, Fault] = {}

    def note(self, kind: str, error: BaseException, about: str = "") -> None:
        """Count it. `about`: which of many it was."""
        now = self._now()
        said = f"{type(error).__name__}: {error}"[:LONGEST_REASON]
        reason = visible(f"{about}: {said}" if about else said)
        known = self.kinds.get(kind)
        if known is None:
            known = self.kinds[kind] = Fault(0, now, now, reason, now - LOGGED_EACH_S)
        known.count += 1
        known.last, known.reason = now, reason
        if now - known.logged >= LOGGED_EACH_S:
            known.logged = now
            logger.error("raised", kind=kind, count=known.count, exc_info=error)

    def run(self, kind: str, call: Callable[[], object]) -> None:
        """Calls it; whatever it raises is noted and goes no further."""
        try:
            call()
        except Exception as exc:
            self.note(kind, exc)

    def shown(self, since: float) -> dict[str, Fault]:
        """Those that came again after `since`."""
        return {kind: fault for kind, fault in self.kinds.items() if fault.last >= since}
