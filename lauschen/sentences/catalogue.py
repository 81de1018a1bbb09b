"""Read the gettext catalogues: a sentence by its message id, in the language of its reader.

Each language has a folder here, with one `.po` file for each domain: the guest page, messages, and so on. `make`
compiles them to `.mo` files, which are quick to read. Where one is missing or out of date, the `.po` file is compiled
in memory, so that an edited sentence shows at once.
"""

from functools import cache
from gettext import GNUTranslations, NullTranslations
from io import BytesIO
from pathlib import Path

from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

FOLDER = Path(__file__).parent
LANGUAGES = ("en", "de")
"""English is the source: every other language has the same ids."""


class _Missing(NullTranslations):
    """What gettext asks when an id is in no catalogue: without this it would show the id to the reader."""

    def gettext(self, message: str) -> str:
        raise KeyError(message)

    def ngettext(self, singular: str, plural: str, number: int) -> str:
        raise KeyError(singular)


class Sentences:
    """The sentences of one domain in one language; an unknown id is a KeyError."""

    def __init__(self, compiled: GNUTranslations) -> None:
        compiled.add_fallback(_Missing())
        self._compiled = compiled

    def __getitem__(self, id: str) -> str:
        return self._compiled.gettext(id)

    def find(self, id: str) -> str:
        """Return the sentence, or "" when there is none with this id."""
        try:
            return self[id]
        except KeyError:
            return ""

    def say(self, id: str, **facts: object) -> str:
        """Return the sentence with `facts` in place of the names in braces."""
        return self[id].format(**facts)

    def form(self, id: str, number: int) -> str:
        """Return the form of the sentence for `number`, which it calls `{n}`."""
        return self._compiled.ngettext(id, id, number)

    def count(self, id: str, number: int, **facts: object) -> str:
        """Return the sentence for `number`, with `facts` in their places."""
        return self.form(id, number).format(n=number, **facts)


@cache
def sentences(domain: str, lang: str) -> Sentences:
    """Return a catalogue. English stands in for a language that we don't have."""
    source = FOLDER / (lang if lang in LANGUAGES else LANGUAGES[0]) / f"{domain}.po"
    compiled = source.with_suffix(".mo")
    if compiled.exists() and compiled.stat().st_mtime >= source.stat().st_mtime:
        with compiled.open("rb") as file:
            return Sentences(GNUTranslations(file))
    return Sentences(GNUTranslations(BytesIO(compile_catalogue(source))))


def compile_catalogue(source: Path) -> bytes:
    """Return what belongs in the `.mo` file of a `.po` file."""
    with source.open("rb") as file:
        catalogue = read_po(file, locale=source.parent.name, abort_invalid=True)
    compiled = BytesIO()
    write_mo(compiled, catalogue)
    return compiled.getvalue()
