"""Lists that are taken in line by line: good ones at once, bad ones come back with their reason, and none is lost."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Generic, Protocol, TypeVar

from pydantic import Field

from lauschen.acts.config.configuring import configured
from lauschen.api.door.office import Office
from lauschen.api.model import Model
from lauschen.core.actor import Actor
from lauschen.core.config.config import Config
from lauschen.core.errors import Invalid
from lauschen.road.tx import Tx

MOST_LINES = 2000
AT_ONCE = 100
"""Lines in one job of the road; packets are served between them."""
T = TypeVar("T")


class ListText(Model):
    """Lines, with commas, semicolons or tabs between what stands in each."""

    text: str = Field(max_length=400_000)


class BadLine(Model):
    """One that could not be taken in."""

    number: int
    text: str
    why: str


class LinesTaken(Model):
    """What became of a list: good lines are taken, bad ones come back."""

    added: int
    changed: int
    bad: list[BadLine]


@dataclass(frozen=True, slots=True)
class Entry(Generic[T]):
    """What a line says."""

    key: str
    """By which one that is there already is known again."""
    shown: str
    """The same, as it is written."""
    wanted: T


class Listing(Protocol[T]):
    """One kind of list."""

    def known(self, config: Config) -> Mapping[str, int]:
        """Ids of those that are there, by key."""

    def read(self, config: Config, line: str) -> Entry[T] | None:
        """None of a line of headings; Invalid says what is wrong with a line."""

    def save(self, tx: Tx, wanted: T, there: int) -> None:
        """`there`: the id of the one that is changed; 0 adds one."""


async def take_in(office: Office, actor: Actor, text: str, listing: Listing[T]) -> LinesTaken:
    """Each line is an act of its own; Invalid when there are too many."""
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(lines) > MOST_LINES:
        raise Invalid("lines_many", field="text", mend=f"At most {MOST_LINES} lines at once.")
    whole = LinesTaken(added=0, changed=0, bad=[])
    seen: dict[str, int] = {}
    for start in range(0, len(lines), AT_ONCE):
        part = lines[start : start + AT_ONCE]
        taken, seen = await office.road.act(
            configured(lambda tx, part=part, seen=seen: _take(tx, part, seen, listing)),  # type: ignore[misc]
            by=actor,
        )
        whole = LinesTaken(
            added=whole.added + taken.added, changed=whole.changed + taken.changed, bad=whole.bad + taken.bad
        )
    return whole


def _take(
    tx: Tx, lines: list[tuple[int, str]], before: Mapping[str, int], listing: Listing[T]
) -> tuple[LinesTaken, dict[str, int]]:
    """With the line in which each key stood; `before`: those of the parts before. Run again, it is the same."""
    known = listing.known(tx.config)
    taken, seen = LinesTaken(added=0, changed=0, bad=[]), dict(before)
    by = tx.actor  # each line is an act of its own, which forgets it
    for number, line in lines:
        try:
            entry = listing.read(tx.config, line)
            if entry is None:
                continue
            if entry.key in seen:
                mend = f"{entry.shown} stands in line {seen[entry.key]} already."
                raise Invalid("line_twice", field="text", mend=mend)
            with tx.inner(by=by):
                listing.save(tx, entry.wanted, known.get(entry.key, 0))
            seen[entry.key] = number
            taken.changed += entry.key in known
            taken.added += entry.key not in known
        except Invalid as exc:
            taken.bad.append(BadLine(number=number, text=line, why=exc.mend))
    return taken, seen
