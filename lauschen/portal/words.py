"""The guest page's words: the catalogue of each language, and times and amounts as people say them."""

from datetime import datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from babel.dates import format_date

from lauschen.core.words.amounts import FAR_S
from lauschen.sentences.catalogue import LANGUAGES, Sentences, sentences


def catalogue(lang: str) -> Sentences:
    """The guest page's sentences in one language."""
    return sentences("page", lang)


def refusal(lang: str, reason: str, form: str) -> str:
    """Why what was offered by this form of the page did not let the guest in."""
    words = catalogue(lang)
    return words.find(f"{reason}_{form}") or words[reason]


def choose_language(accept_language: str, asked: str | None) -> str:
    """The switch on the page first, then Accept-Language (RFC 9110 section 12.5.4), then English."""
    if asked in LANGUAGES:
        return asked
    best, best_quality = "en", 0.0
    for part in accept_language[:400].split(","):
        tag, _, parameters = part.strip().partition(";")
        name, _, value = parameters.strip().partition("=")
        try:
            quality = float(value) if name.strip() == "q" else 1.0
        except ValueError:
            continue
        primary = tag.split("-")[0].lower()
        if primary in LANGUAGES and quality > best_quality:
            best, best_quality = primary, quality
    return best


def clock_words(at: float, now: float, zone: ZoneInfo, lang: str) -> str:
    """`18:00`, with the day when it is another one, and with the year when that is far away."""
    return _minute_words(int(at // 60), int(now // 60), zone, lang)


@lru_cache(maxsize=512)
def _minute_words(minute: int, now_minute: int, zone: ZoneInfo, lang: str) -> str:
    """Every guest is told the same times, and days begin with a minute."""
    at, now = minute * 60, now_minute * 60
    then, today = datetime.fromtimestamp(at, zone), datetime.fromtimestamp(now, zone).date()
    time = f"{then:%H:%M}"
    if then.date() == today:
        return time
    if then.date() == today + timedelta(days=1):
        return f"{'tomorrow' if lang == 'en' else 'morgen'} {time}"
    day = f"EEE d{'' if lang == 'en' else '.'} MMM{' y' if abs(at - now) > FAR_S else ''}"
    return f"{format_date(then, day, locale=lang)}, {time}"


for _lang in LANGUAGES:  # read at their first use: not while a guest waits
    catalogue(_lang)
    clock_words(0.0, 10 * 86_400.0, ZoneInfo("UTC"), _lang)
