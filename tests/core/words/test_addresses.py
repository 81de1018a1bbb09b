"""Mail addresses and phone numbers as people type them."""

import pytest

from lauschen.core.errors import Invalid
from lauschen.core.words.addresses import is_country, read_mail, read_phone, shown_phone

HERE = ("AT", "GB")


@pytest.mark.parametrize(
    ("typed", "read"),
    [
        ("ines@hollerau.example", "ines@hollerau.example"),
        (" Ines.Harwood+wifi@HOLLERAU.example ", "Ines.Harwood+wifi@hollerau.example"),
        ("ines@höllerau.example", "ines@xn--hllerau-90a.example"),
        ("ines@localhost.test", "ines@localhost.test"),
    ],
)
def test_mail_addresses(typed: str, read: str) -> None:
    assert read_mail(typed) == read


@pytest.mark.parametrize(
    "typed",
    ["", "ines", "@hollerau.example", "ines@", "ines@@x.example", "i nes@x.example", '"x"@y.example', "ü@x.example",
     "a@b\r\nBcc: c@d.example", "a@[127.0.0.1]", "a@x.example, b@y.example", "a" * 250 + "@x.example",
     "a@x\x00.example"],
)  # fmt: skip
def test_what_is_no_mail_address(typed: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_mail(typed)
    assert refused.value.code == "mail_form"


@pytest.mark.parametrize(
    ("typed", "read"),
    [
        ("0664 1234567", "+436641234567"),
        ("+43 (0)664 / 123 45 67", "+436641234567"),
        ("0043 664 1234567", "+436641234567"),
        ("+44 7700 900123", "+447700900123"),
        ("٠٦٦٤١٢٣٤٥٦٧", "+436641234567"),
    ],
)
def test_phone_numbers_in_any_usual_spelling(typed: str, read: str) -> None:
    assert read_phone(typed, HERE) == read
    assert read_phone(shown_phone(read), HERE) == read


@pytest.mark.parametrize(
    ("typed", "countries", "code"),
    [
        ("", HERE, "phone_form"),
        ("no number", HERE, "phone_form"),
        ("12", HERE, "phone_form"),
        ("+43 664 12345678901234567", HERE, "phone_form"),
        ("+1 202 555 0143", HERE, "phone_country"),
        ("+44 7700 900123", ("AT",), "phone_country"),
        ("0664 1234567", (), "phone_form"),
        ("+43 900 123456", HERE, "phone_kind"),
        ("0800 123456", HERE, "phone_kind"),
    ],
)
def test_numbers_that_cost_or_are_far_are_refused(typed: str, countries: tuple[str, ...], code: str) -> None:
    with pytest.raises(Invalid) as refused:
        read_phone(typed, countries)
    assert refused.value.code == code


def test_countries_have_two_letters() -> None:
    assert is_country("AT")
    assert not is_country("at")
    assert not is_country("XX")
    assert not is_country("001")


@pytest.mark.parametrize("text", ["0664", "+43664", "066412"])
def test_a_prefix_alone_is_no_number(text: str) -> None:
    with pytest.raises(Invalid, match="phone_form"):
        read_phone(text, ("AT",))
