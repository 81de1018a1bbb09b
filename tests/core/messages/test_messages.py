"""What messages say, when they are tried again, how many there may be, and how long a text is."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lauschen.core.config.dialect import Call
from lauschen.core.errors import Invalid
from lauschen.core.messages.budgets import ADDRESS_DAY, DEVICE_DAY, HOST_DAY, NETWORK_DAY, Spent, budget_over
from lauschen.core.messages.channels import TextGateway, check_gateway, check_host
from lauschen.core.messages.message import Channel, Kind
from lauschen.core.messages.template import Template
from lauschen.core.messages.templates import WORDS, check_message, render
from lauschen.core.messages.text_parts import count_parts
from lauschen.core.messages.waits import GIVEN_UP_S, WAITS_S, next_try
from lauschen.sentences.messages import own_templates

T0 = 1_780_000_000.0
WHOLE = {word: f"<{word}>" for known in WORDS.values() for word in known}


@pytest.mark.parametrize("key", own_templates(), ids=str)
def test_our_own_words_are_such_as_we_ask_for(key: tuple[Kind, Channel, str]) -> None:
    kind, channel, _ = key
    check_message(kind, channel, own_templates()[key])
    shown = render(own_templates()[key], channel, {word: WHOLE[word] for word in WORDS[kind]})
    assert "{" not in shown.plain + shown.subject
    assert "<site>" not in shown.html


def test_every_message_has_both_languages() -> None:
    assert {key[:2] for key in own_templates() if key[2] == "en"} == {
        key[:2] for key in own_templates() if key[2] == "de"
    }


def test_a_line_of_which_nothing_is_left_is_left_out() -> None:
    words = {
        "name": "",
        "login": "mirela",
        "password": "",
        "wifi": "Garden",
        "limits": "8 h",
        "page": "p",
        "site": "S",
    }
    plain = render(own_templates()[Kind.ACCOUNT, Channel.MAIL, "en"], Channel.MAIL, words).plain
    assert plain.startswith("here is your Wi-Fi account at S.")
    assert "Password" not in plain
    assert "\n\n\n" not in plain


def test_what_a_guest_is_called_breaks_nothing() -> None:
    name = "<b>Ines</b>\r\nBcc: all@x.example \u202eevil {code}"
    words = {"name": name, "code": "3N2D5", "wifi": "", "limits": "", "page": "", "site": "A & B"}
    shown = render(own_templates()[Kind.PASS, Channel.MAIL, "en"], Channel.MAIL, words, code_in_subject=True)
    assert "<b>" not in shown.html
    assert "&lt;b&gt;Ines&lt;/b&gt;[000D][000A]Bcc" in shown.html
    assert shown.subject == "Your Wi-Fi access at A & B: 3N2D5"
    assert "[202E]evil {code}" in shown.plain, "a word inside a word is not filled in"
    greeting = Template("For {name}", "{code}")
    assert "\n" not in render(greeting, Channel.MAIL, words).subject


def test_links_lead_where_they_say() -> None:
    shown = render(
        Template("s", "{code} {page}"), Channel.MAIL, {"code": "x", "page": 'a.example/"><script>'}
    )
    assert 'href="http://a.example/&quot;&gt;&lt;script&gt;"' in shown.html


@pytest.mark.parametrize(
    ("channel", "template", "code"),
    [
        (Channel.MAIL, Template("", "{code}"), "subject_missing"),
        (Channel.MAIL, Template("s" * 151, "{code}"), "subject_long"),
        (Channel.MAIL, Template("s", ""), "body_length"),
        (Channel.MAIL, Template("s", "{code}" + "x" * 4000), "body_length"),
        (Channel.TEXT, Template("", "{code}" + "x" * 480), "body_length"),
        (Channel.MAIL, Template("s", "{code} {mac}"), "template_word"),
        (Channel.MAIL, Template("s {until}", "{code}"), "template_word"),
        (Channel.MAIL, Template("s", "no code"), "code_missing"),
        (Channel.MAIL, Template("s {code}", "{code}"), "secret_in_subject"),
    ],
)
def test_words_that_cannot_be(channel: Channel, template: Template, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        check_message(Kind.PASS, channel, template)
    assert refused.value.code == code


@given(st.integers(0, 500), st.integers(0, 2 * 86_400), st.sampled_from(list(Channel)))
def test_waits_grow_and_end(tries: int, age: int, channel: Channel) -> None:
    at = next_try(channel, tries, T0, T0 + age)
    wait = WAITS_S[min(max(tries, 1), len(WAITS_S)) - 1]
    if age + wait > GIVEN_UP_S[channel]:
        assert at is None
    else:
        assert at == T0 + age + wait
    later = next_try(channel, tries + 1, T0, T0 + age)
    assert at is None or later is None or later >= at


@pytest.mark.parametrize(
    ("spent", "texts_day", "over"),
    [
        (Spent(), None, None),
        (Spent(address=ADDRESS_DAY - 1, device=DEVICE_DAY - 1, network=NETWORK_DAY - 1, texts=9), 10, None),
        (Spent(address=ADDRESS_DAY), None, "address"),
        (Spent(device=DEVICE_DAY), None, "device"),
        (Spent(network=NETWORK_DAY), None, "network"),
        (Spent(texts=10), 10, "texts"),
        (Spent(texts=10), None, None),
    ],
)
def test_budgets(spent: Spent, texts_day: int | None, over: str | None) -> None:
    assert budget_over(spent, texts_day) == over


def test_a_host_may_be_written_to_by_many() -> None:
    assert budget_over(Spent(address=HOST_DAY - 1), to_host=True) is None
    assert budget_over(Spent(address=HOST_DAY), to_host=True) == "host"
    assert budget_over(Spent(network=NETWORK_DAY), to_host=True) == "network"


@pytest.mark.parametrize(
    ("text", "parts"),
    [
        ("", 1),
        ("a" * 160, 1),
        ("a" * 161, 2),
        ("a" * 306, 2),
        ("a" * 307, 3),
        ("€" * 80, 1),
        ("€" * 81, 2),
        ("ü" * 160, 1),
        ("ş" * 70, 1),
        ("ş" * 71, 2),
        ("😀" * 35, 1),
        ("😀" * 36, 2),
    ],
)
def test_parts_of_a_text_message(text: str, parts: int) -> None:
    """3GPP TS 23.038: 160 signs of seven bits, or 70 of sixteen."""
    assert count_parts(text) == parts


@pytest.mark.parametrize("host", ["mail.house.example", "127.0.0.1", "a", "_x.example", "2001:db8::1"])
def test_hosts(host: str) -> None:
    check_host(host, 25)


@pytest.mark.parametrize(
    "host", ["", "a b", "-a.example", "a..b", "http://x", "x/y", "a" * 254, "x\ny", "[::1]"]
)
def test_what_is_no_host(host: str) -> None:
    with pytest.raises(Invalid):
        check_host(host, 25)


@pytest.mark.parametrize(
    ("call", "countries", "texts_day", "code"),
    [
        (Call(url="https://x.example", body="{to}"), ("AT",), 1, "gateway_words"),
        (Call(url="https://x.example", body="{text}"), ("AT",), 1, "gateway_words"),
        (Call(url="https://x.example/{to_bare}", body="{text}"), (), 1, "countries"),
        (Call(url="https://x.example/{to}", body="{text}"), ("AT",), 0, "texts_day"),
        *(
            (Call(url="https://x.example/{to}", body="{text}", headers=(header,)), ("AT",), 1, "header")
            for header in (
                ("Transfer-Encoding", "chunked"),
                ("content-length", "0"),
                ("Host", "y.example"),
                ("Connection", "x-key"),
                ("X y", "1"),
                ("X\r\nY", "1"),
                ("X", "1\r\nY: 2"),
                ("", "1"),
            )
        ),
        (Call(url="https://x.example/{to}", body="{text}{mac}"), ("AT",), 1, "template_word"),
        (
            Call(url="https://x.example", headers=(("X", "{mac}"),), body="{to}{text}"),
            ("AT",),
            1,
            "template_word",
        ),
    ],
)
def test_gateways_that_cannot_be(call: Call, countries: tuple[str, ...], texts_day: int, code: str) -> None:
    with pytest.raises(Invalid) as refused:
        check_gateway(TextGateway(call, countries=countries, texts_day=texts_day))
    assert refused.value.code == code
