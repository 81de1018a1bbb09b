"""Text of strangers: what nobody sees is shown, what looks the same is marked, and nothing becomes a link."""

import pytest

from lauschen.core.words.text import unlinked, visible


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("Ines Harwood", "Ines Harwood"),
        ("Zoë Müller-Łuk", "Zoë Müller-Łuk"),
        ("Анна Иванова", "Анна Иванова"),
        ("Νίκος", "Νίκος"),
        ("Anna Иванова", "Anna Иванова"),
        ("李 Ming 山", "李 Ming 山"),
        ("Ad\u0430", "Ad[0430]"),
        ("\u0410da", "\u0410[0064][0061]"),
        ("gateh\u043euse and Ada", "gateh[043E]use and Ada"),
        ("a\u200bb", "a[200B]b"),
        ("\u202eadA", "[202E]adA"),
        ("", ""),
    ],
)
def test_what_cannot_be_told_apart_is_marked(text: str, shown: str) -> None:
    assert visible(text) == shown


@pytest.mark.parametrize(
    ("text", "sent"),
    [
        ("Ines Harwood", "Ines Harwood"),
        ("J. R. Harwood", "J. R. Harwood"),
        ("https://evil.example/a?b=c.d", "https: //evil. example/a?b=c.d"),
        ("see www.evil.example now", "see www. evil. example now"),
        ("ines@evil.example", "ines@evil. example"),
        ("ftp://x", "ftp: //x"),
        ("Room 3.14", "Room 3.14"),
        ("bücher.example", "bücher. example"),
    ],
)
def test_nothing_that_a_guest_writes_is_a_link_in_a_mail(text: str, sent: str) -> None:
    assert unlinked(text) == sent
