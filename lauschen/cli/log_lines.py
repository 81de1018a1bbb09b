"""The log of a server: a line of JSON for each event, on standard error."""

import os

import structlog

STANDARD_ERROR = 2


class LogLines:
    """Writes lines to a file descriptor, and never raises.

    Standard error may be a file on the very disk that is full, or a pipe that nobody reads any more: what a server
    does must not depend on it. The next line that can be written says before it how many were lost.
    """

    def __init__(self, descriptor: int) -> None:
        self._descriptor, self._lost = descriptor, 0

    def msg(self, message: str) -> None:
        lost = f'\n{{"event": "lines_lost", "count": {self._lost}}}\n' if self._lost else ""
        line = f"{lost}{message}\n".encode(errors="backslashreplace")
        try:
            is_whole = os.write(self._descriptor, line) == len(line)
        except OSError:
            is_whole = False
        self._lost = 0 if is_whole else self._lost + 1

    debug = info = warning = error = critical = exception = msg


def log_plainly() -> None:
    """Whatever is logged from now on is a line on standard error."""
    lines = LogLines(STANDARD_ERROR)
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso"),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(),
        ],
        logger_factory=lambda *_: lines,
    )
