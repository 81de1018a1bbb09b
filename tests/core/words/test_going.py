"""Where a guest was going: a link that leads where it says, or none."""

from urllib.parse import urlsplit

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.words.codes import make_code
from lauschen.core.words.going import LONGEST_GOING, going_on, shown_host

SLIPS = "slip.hollerau.example"


@pytest.mark.parametrize(
    ("url", "going", "code"),
    [
        ("http://score-of-the-day.example/a?b=c#d", "http://score-of-the-day.example/a?b=c#d", None),
        ("https://hollerau.example/", "https://hollerau.example/", None),
        ("http://hollerau.example:8080", "http://hollerau.example:8080", None),
        ("http://HOLLERAU.example/A", "http://hollerau.example/A", None),
        ("http://[2001:db8::1]:81/x", "http://[2001:db8::1]:81/x", None),
        ("http://bücher.example/", "http://xn--bcher-kva.example/", None),
        (f"http://{SLIPS}/{make_code(7)}", None, make_code(7)),
        (f"http://{SLIPS}/{make_code(7).lower()}/", None, make_code(7)),
        (f"http://{SLIPS}/<script>", None, None),
    ],
)
def test_what_is_shown_and_where_it_leads(url: str, going: str | None, code: str | None) -> None:
    assert going_on(url, SLIPS) == (going, code)


@pytest.mark.parametrize(
    "url",
    [
        "javascript:alert(1)",
        "data:text/html,x",
        "//evil.example/",
        "ftp://hollerau.example/",
        "http://[bad/",
        "http://",
        "",
        # What browsers read as a slash, and we would not.
        "http://evil.example\\@good.example/",
        "http://evil.example\\good.example/",
        "http:\\\\evil.example/",
        # Somebody before the host.
        "http://good.example@evil.example/",
        "http://good.example:80@evil.example/",
        "http://@evil.example/",
        # What browsers leave out.
        "http://good.example\t.evil.example/",
        "http://good.example/\n",
        "http://good .example/",
        "http://good.example/a\u202eb",
        "http://good.example/\x00",
        # Ports and hosts that are none.
        "http://good.example:x/",
        "http://good.example:99999/",
        "http://good%2eevil.example/",
        "http://[fe80::1%25eth0]/",
        "http://[v1.x]/",
        "http://x.example/" + "a" * (LONGEST_GOING - 16),
        "http://-a.example/",
        "http://a..b/",
        "http://" + "a" * 64 + ".example/",
        "http://x.example/" + "a" * LONGEST_GOING,
    ],
)
def test_nothing_is_made_of_what_could_be_read_in_two_ways(url: str) -> None:
    assert going_on(url, SLIPS) == (None, None)


@given(st.text(alphabet="htps:/\\@.:%?#[]aé аx1-_ \t", max_size=40).map(lambda rest: f"http://{rest}"))
def test_the_host_of_a_link_is_plain_whatever_was_given(url: str) -> None:
    going, _ = going_on(url, SLIPS)
    if going is None:
        return
    parts = urlsplit(going)
    assert parts.hostname
    assert parts.hostname.isascii()
    assert "\\" not in going
    assert "@" not in parts.netloc
    assert going_on(going, SLIPS) == (going, None)


@pytest.mark.parametrize(
    ("url", "host"),
    [
        ("http://score-of-the-day.example/", "score-of-the-day.example"),
        ("http://bücher.example/", "bücher.example"),
        ("http://аpple.example/", "xn--pple-43d.example"),  # the first letter is Cyrillic
        ("http://ѕсоре.example/", "xn--e1argc3h.example"),  # all of the name is, but not its end
        ("http://[2001:db8::1]/", "2001:db8::1"),
        ("http://bücher.hollerau.example/", "bücher.hollerau.example"),
        ("http://192.0.2.7/", "192.0.2.7"),
    ],
)
def test_letters_of_several_scripts_are_shown_as_they_are_on_the_wire(url: str, host: str) -> None:
    going, _ = going_on(url, SLIPS)
    assert going is not None
    assert shown_host(going) == host
