"""Mail addresses and phone numbers as people type them; by their form alone, without asking anybody."""

import phonenumbers
from email_validator import EmailNotValidError, validate_email
from phonenumbers import NumberParseException, PhoneNumber, PhoneNumberFormat, PhoneNumberType

from lauschen.core.errors import Invalid

LONGEST = 254
SHORTEST_NUMBER = 7
"""Digits behind the country: a prefix alone is no number, though some plans have room for such."""
_COSTLY = frozenset({PhoneNumberType.PREMIUM_RATE, PhoneNumberType.SHARED_COST})
_UNREACHED = frozenset({PhoneNumberType.TOLL_FREE, PhoneNumberType.UAN, PhoneNumberType.VOICEMAIL})


def read_mail(text: str, field: str = "mail") -> str:
    """As it is written to (RFC 5321); Invalid says what of its form is wrong."""
    text = text.strip()
    try:
        if len(text) > LONGEST:
            raise EmailNotValidError(f"It is longer than {LONGEST} signs.")
        # `test_environment` lets names through that are kept for examples, such as those of the demo.
        found = validate_email(text, check_deliverability=False, test_environment=True)
    except EmailNotValidError as exc:
        raise Invalid("mail_form", field=field, mend=f"That is no mail address. {exc}") from exc
    if "=?" in found.local_part:
        raise Invalid("mail_form", field=field, mend="No mail address that anybody has looks like that.")
    if not found.local_part.isascii():
        raise Invalid(
            "mail_form", field=field, mend="The part before the @ has letters that few servers take."
        )
    return found.ascii_email or found.normalized


def mailbox_of(to: str) -> str:
    """What mails to an address end up in, as far as its form says: without case, a tag behind `+`, and dots.

    For counting alone: to some servers these are different addresses. A phone number is what it is.
    """
    local, at, domain = to.casefold().rpartition("@")
    return f"{local.partition('+')[0].replace('.', '')}{at}{domain}" if at else to


def domain_of(to: str) -> str:
    """Of a mail address; empty for a phone number."""
    return to.casefold().rpartition("@")[2] if "@" in to else ""


def read_phone(text: str, countries: tuple[str, ...], field: str = "phone") -> str:
    """In E.164, as +43664123456; the first country is assumed where none is said.

    Invalid: no number, of a country that is not listed, or one that costs whoever writes to it.
    """
    try:
        number = phonenumbers.parse(text.strip()[:60], countries[0] if countries else None)
    except NumberParseException as exc:
        raise Invalid("phone_form", field=field, mend="That is no phone number.") from exc
    digits = phonenumbers.national_significant_number(number)
    if not phonenumbers.is_possible_number(number) or len(digits) < SHORTEST_NUMBER:
        raise Invalid("phone_form", field=field, mend="That is no phone number: it is too short or too long.")
    if not set(_regions(number)) & set(countries):
        mend = f"Text messages go to {', '.join(countries) or 'no country'} only, and this is +{number.country_code}."
        raise Invalid("phone_country", field=field, mend=mend)
    if phonenumbers.number_type(number) in _COSTLY | _UNREACHED:
        raise Invalid("phone_kind", field=field, mend="That is no number that text messages reach.")
    return phonenumbers.format_number(number, PhoneNumberFormat.E164)


def shown_phone(number: str) -> str:
    """As people write it, +43 664 123456."""
    try:
        return phonenumbers.format_number(phonenumbers.parse(number), PhoneNumberFormat.INTERNATIONAL)
    except NumberParseException:
        return number


def is_country(text: str) -> bool:
    """Whether these two letters are a country with a calling code."""
    return text in phonenumbers.SUPPORTED_REGIONS


def _regions(number: PhoneNumber) -> tuple[str, ...]:
    """That of the number; of one that nobody has, all that share its calling code."""
    one = phonenumbers.region_code_for_number(number)
    return (one,) if one else tuple(phonenumbers.region_codes_for_country_code(number.country_code or 0))
