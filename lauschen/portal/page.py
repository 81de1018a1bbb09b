"""One page, typed: what stands at its top and foot, and the parts between them, each with a template of its own."""

import base64
import hashlib
from dataclasses import dataclass, field
from functools import lru_cache
from importlib import resources
from typing import ClassVar, Protocol

from jinja2 import Environment, FunctionLoader, select_autoescape
from markupsafe import Markup, escape

from lauschen.portal.words import catalogue
from lauschen.sentences.catalogue import Sentences


class Part(Protocol):
    """Something that the guest can do here; two that are equal look the same."""

    template: ClassVar[str]

    def __hash__(self) -> int: ...


@dataclass(frozen=True, slots=True)
class Choice:
    """A way in among others: its part, and what it is called while it is closed."""

    form: str
    title: str
    part: Part
    is_open: bool


@dataclass(frozen=True, slots=True)
class Onward:
    """Where the guest was going, and the host that the link really leads to."""

    url: str
    host: str


@dataclass(slots=True)
class Page:
    """Everything that is shown; sentences are in the guest's language already."""

    lang: str
    site: str
    heading: str = ""
    notes: list[str] = field(default_factory=list)
    here: str = "/"
    """The address of the visit; its forms post below it."""
    csrf: str = ""
    other_lang: str | None = None
    network: str | None = None
    fault: str | None = None
    """What is wrong with what was just done."""
    until: str | None = None
    left: list[str] = field(default_factory=list)
    going: Onward | None = None
    tops: list[Part] = field(default_factory=list)
    """Parts that come before the ways in."""
    choices: list[Choice] = field(default_factory=list)
    """The ways in."""
    parts: list[Part] = field(default_factory=list)
    small: list[str] = field(default_factory=list)
    """Said at last, for whoever wonders."""
    facts: list[tuple[str, str]] = field(default_factory=list)
    """What the guest shows at the desk when nothing helps."""
    jumps_to: str | None = None
    """Where it leads by itself a moment later: only ever to what the house configured (rulings 6.6)."""
    refresh_s: int | None = None
    """It comes again by itself."""
    has_privacy: bool = False
    """The house has written what becomes of what guests say."""
    posts_elsewhere: bool = False
    """Its form goes to an access device, which may redirect anywhere."""
    is_common: bool = False
    """Heading, notes, ways in and foot are all there is: whoever comes to this door sees the same, but for whose
    visit it is and what the foot says of the device."""

    @property
    def ours(self) -> Markup:
        """What each form of a visit carries: that it came from our page, and in which language."""
        hidden = '<input type="hidden" name="{}" value="{}">'
        said = (("csrf", self.csrf), ("lang", self.lang))
        return Markup("\n".join(hidden.format(name, escape(value)) for name, value in said))  # noqa: S704

    @property
    def words(self) -> Sentences:
        return catalogue(self.lang)


def render(page: Page) -> str:
    """As HTML. What all see alike is written for the first of them, and kept."""
    if not page.is_common:
        return _write(page)
    names = tuple(name for name, _ in page.facts)
    shown = page.lang, page.site, page.heading, page.other_lang, page.network, page.has_privacy
    text = _common(shown, tuple(page.notes), tuple(page.choices), names)
    for mark, value in (
        (_HERE, page.here),
        (_CSRF, page.csrf),
        *((_mark(name), said) for name, said in page.facts),
    ):
        text = text.replace(mark, escape(value))
    return text


def _write(page: Page) -> str:
    return _PAGE.render(page=page, words=page.words, css=Markup(CSS))  # noqa: S704 - a file of ours


@lru_cache(maxsize=64)
def _common(
    shown: tuple[str, str, str, str | None, str | None, bool],
    notes: tuple[str, ...],
    choices: tuple[Choice, ...],
    names: tuple[str, ...],
) -> str:
    """With marks in place of what is of one guest alone."""
    lang, site, heading, other_lang, network, has_privacy = shown
    page = Page(
        lang,
        site,
        heading,
        list(notes),
        here=_HERE,
        csrf=_CSRF,
        other_lang=other_lang,
        network=network,
        has_privacy=has_privacy,
        choices=list(choices),
        facts=[(name, _mark(name)) for name in names],
    )
    return _write(page)


def _mark(name: str) -> str:
    """No text that is shown has such a character: it is made visible first."""
    return f"\x00{name}\x00"


def _page_file(name: str) -> str:
    return resources.files("lauschen.portal").joinpath("pages", name).read_text("utf-8")


_HERE, _CSRF = _mark("here"), _mark("csrf")
CSS = _page_file("page.css")
STYLE_HASH = "sha256-" + base64.b64encode(hashlib.sha256(CSS.encode()).digest()).decode()
_TEMPLATES = Environment(
    loader=FunctionLoader(_page_file), autoescape=select_autoescape(["html"]), trim_blocks=True
)
_PAGE = _TEMPLATES.get_template("page.html")  # compiled here: the first guest does not wait for it
for _name in (
    "code",
    "login",
    "click_through",
    "register",
    "sponsor",
    "waiting",
    "paragraphs",
    "hosts/answer",
    "hosts/own_link",
    "hosts/guests",
    "registered",
    "confirm",
    "confirm_button",
    "last_step",
    "once_more",
    "log_out",
    "password",
    "own_devices",
):
    _TEMPLATES.get_template(f"parts/{_name}.html")
