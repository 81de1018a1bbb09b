"""A stored password is sent only to the server it was entered for; a changed address must not reveal it."""

from collections.abc import Iterable
from urllib.parse import urlsplit

from lauschen.core.errors import Invalid
from lauschen.core.words.text import visible


def check_kept(field: str, typed_for: str, *, is_same: bool) -> None:
    """Invalid where a password that was kept would go to another place than the one that it was typed for."""
    if not is_same:
        mend = f"It was typed for {visible(typed_for)}. Type it again: a kept one goes nowhere else."
        raise Invalid("kept_for_another", field=field, mend=mend)


def check_kept_at(field: str, before: Iterable[str], after: Iterable[str]) -> None:
    """The same for secrets that go to addresses on the web, whatever their paths."""
    places = {_place(url) for url in before}
    others = {_place(url) for url in after} - places
    check_kept(field, " and ".join(sorted(netloc for _, netloc in places)), is_same=not others)


def _place(url: str) -> tuple[str, str]:
    parts = urlsplit(url)
    return parts.scheme, parts.netloc
