"""What staff read about a device that tries a withdrawn or paused passphrase."""

from collections.abc import Callable

import pytest

from lauschen.acts.desk.helping import withdraw
from lauschen.acts.desk.pausing import pause, resume
from lauschen.acts.desk.undoing import restore
from lauschen.api.words.speaker import Speaker
from lauschen.api.words.tried import tried_words
from lauschen.core.decide.decision import Answer
from lauschen.core.ids import CredentialId
from lauschen.road.tx import Tx
from lauschen.store.passphrases import wrong
from tests.cloister import EAST, Cloister
from tests.place import Place


@pytest.fixture
def cloister(place: Place) -> Cloister:
    return Cloister(place)


@pytest.mark.parametrize(
    ("act", "said"),
    [(withdraw, "Ines Harwood, which was withdrawn "), (pause, "Ines Harwood, paused since ")],
)
def test_who_tries_a_withdrawn_or_a_paused_passphrase_is_said_to_have_it(
    cloister: Cloister, act: Callable[[Tx, CredentialId], None], said: str
) -> None:
    ines = cloister.issue()
    key = cloister.key(ines)
    with cloister.place.tx() as tx:
        act(tx, ines)
    assert cloister.ask(at=EAST, signed=key.id)[0].answer is Answer.REFUSE
    (tried,) = wrong.wrong_since(cloister.place.conn, 0.0, 9)
    speaker = Speaker(cloister.place.config, {}, cloister.place.now)
    assert f"with the passphrase of {said}" in tried_words(speaker, tried)
    # Undone, it joins, and that it tried is forgotten.
    with cloister.place.tx() as tx:
        restore(tx, ines) if act is withdraw else resume(tx, ines)
    assert cloister.ask(at=EAST, signed=key.id)[0].answer is Answer.ADMIT
    assert wrong.wrong_since(cloister.place.conn, 0.0, 9) == []
