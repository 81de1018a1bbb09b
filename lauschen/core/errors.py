"""The two errors that are raised; being refused is an outcome, not an error."""

from functools import partial


class LauschenError(Exception):
    """Parent of every error that Lauschen raises on purpose. Each can come out of the worker process."""


class Invalid(LauschenError):
    """What someone typed or sent is wrong: `code` names it, `field` says where, `mend` what to do."""

    def __init__(self, code: str, *, field: str, mend: str) -> None:
        super().__init__(f"{code} ({field}): {mend}")
        self.code = code
        self.field = field
        self.mend = mend

    def __reduce__(self) -> tuple[object, tuple[str, ...]]:
        return partial(Invalid, self.code, field=self.field, mend=self.mend), ()


class NotThere(Invalid):
    """The thing named by the address of a request does not exist (any more)."""

    def __init__(self, what: str) -> None:
        super().__init__(
            f"{what}_not_there", field=what, mend="It may have been removed; load the list again."
        )

    def __reduce__(self) -> tuple[object, tuple[str, ...]]:
        return NotThere, (self.field,)


class Unavailable(LauschenError):
    """A thing outside is down: `meanwhile` says what Lauschen does until it is back."""

    def __init__(self, what: str, *, meanwhile: str) -> None:
        super().__init__(f"{what}: {meanwhile}")
        self.what = what
        self.meanwhile = meanwhile

    def __reduce__(self) -> tuple[object, tuple[str, ...]]:
        return partial(Unavailable, self.what, meanwhile=self.meanwhile), ()
