"""What Now says of guests who wait for a host."""

from collections import Counter
from sqlite3 import Connection

from lauschen.api.now.models import Attention
from lauschen.api.words.speaker import Speaker
from lauschen.core.words.text import visible
from lauschen.store.hosts import questions, vouchings
from lauschen.store.keys import KeyRing

SHOWN_S = 4 * 3600.0
MOST = 200
MOST_NAMED = 3


def hosts_silent(conn: Connection, keys: KeyRing, speaker: Speaker) -> list[Attention]:
    """Who did not answer lately, and who waits for somebody that nobody could ask."""
    found = []
    over = vouchings.unanswered(conn, keys, speaker.now - SHOWN_S, MOST)
    asked = [one for vouching in over for one in questions.questions_of(conn, keys, vouching.id)]
    if over:
        names = Counter(visible(one.person.name) for one in asked)
        who = ", ".join(name for name, _ in names.most_common(MOST_NAMED)) or "nobody of that name is there"
        guests = "One guest was" if len(over) == 1 else f"{len(over)} guests were"
        text = f"{guests} told in the last hours that no host answered; asked: {who}"
        mend = "A stand-in, or more time, is set in Networks, stage *is asked*."
        found.append(Attention(kind="hosts", grave=False, text=text, mend=mend, link="/desk"))
    for vouching in vouchings.waiting(conn, keys, MOST):
        put = questions.questions_of(conn, keys, vouching.id)
        if vouching.ask_at is not None or any(one.fault is None for one in put):
            continue
        name = visible(vouching.answers.get("name", "")) or "A guest"
        why = visible(put[-1].fault or "") if put else f"there is no host called {visible(vouching.named)}"
        mend = "Desk can ask another host, or decide in their stead."
        text = f"{name} waits since {speaker.clock(vouching.at)} for a host whom nobody asked: {why}"
        found.append(
            Attention(kind="hosts", grave=True, text=text, mend=mend, link="/desk", network=vouching.network)
        )
    return found
