"""The catalogues: every language has the same sentences with the same gaps, and nothing is shown that is missing."""

import os
import re
from pathlib import Path
from string import Formatter

import pytest
from babel.messages.pofile import read_po

from lauschen.sentences import catalogue
from lauschen.sentences.catalogue import FOLDER, LANGUAGES, Sentences, compile_catalogue, sentences

DOMAINS = sorted(source.stem for source in (FOLDER / "en").glob("*.po"))
ROOT = FOLDER.parent


def texts(domain: str, lang: str) -> dict[str, tuple[str, ...]]:
    """Each sentence by its id, with all forms of its plural."""
    with (FOLDER / lang / f"{domain}.po").open("rb") as file:
        messages = [message for message in read_po(file, locale=lang, abort_invalid=True) if message.id]
    assert not [message for message in messages if message.fuzzy]
    found = {}
    for message in messages:
        if message.pluralizable:
            found[str(message.id[0])] = tuple(str(form) for form in message.string)
        else:
            found[str(message.id)] = (str(message.string),)
    return found


def gaps(text: str) -> set[str]:
    return {name for _, name, _, _ in Formatter().parse(text) if name is not None} - {"n"}


@pytest.mark.parametrize("domain", DOMAINS)
@pytest.mark.parametrize("lang", LANGUAGES[1:])
def test_each_language_has_the_same_sentences_and_gaps(domain: str, lang: str) -> None:
    english, other = texts(domain, "en"), texts(domain, lang)
    assert english.keys() == other.keys()
    for id, forms in english.items():
        assert len(forms) == len(other[id]), id
        for one, two in zip(forms, other[id], strict=True):
            assert one.strip(), id
            assert two.strip(), id
            assert gaps(one) == gaps(two), id


@pytest.mark.parametrize("domain", DOMAINS)
def test_an_id_stands_there_once(domain: str) -> None:
    for lang in LANGUAGES:
        ids = re.findall(r'^msgid "(.+)"$', (FOLDER / lang / f"{domain}.po").read_text(), re.MULTILINE)
        assert len(ids) == len(set(ids)), lang


def test_an_unknown_id_is_never_shown_to_a_reader() -> None:
    words = sentences("slip", "en")
    with pytest.raises(KeyError, match="no_such_id"):
        words["no_such_id"]
    with pytest.raises(KeyError, match="no_such_id"):
        words.count("no_such_id", 2)
    assert words.find("no_such_id") == ""


def test_a_language_that_we_do_not_have_is_english() -> None:
    assert sentences("slip", "fr")["enter"] == sentences("slip", "en")["enter"]


@pytest.mark.parametrize(
    ("number", "text"), [(0, "0 Geräte"), (1, "ein Gerät"), (2, "2 Geräte"), (21, "21 Geräte")]
)
def test_a_number_chooses_its_form(number: int, text: str) -> None:
    assert sentences("slip", "de").count("devices", number) == text


def test_an_edited_sentence_shows_though_the_compiled_file_is_older(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    source = tmp_path / "en" / "slip.po"
    source.parent.mkdir()
    monkeypatch.setattr(catalogue, "FOLDER", tmp_path)

    def read() -> Sentences:
        return sentences.__wrapped__("slip", "en")

    head = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n\n'
    source.write_text(f'{head}msgid "enter"\nmsgstr "Before"\n')
    assert read()["enter"] == "Before"
    source.with_suffix(".mo").write_bytes(compile_catalogue(source))
    assert read()["enter"] == "Before"
    source.write_text(f'{head}msgid "enter"\nmsgstr "After"\n')
    stamp = source.with_suffix(".mo").stat().st_mtime

    os.utime(source, (stamp + 1, stamp + 1))
    assert read()["enter"] == "After"
    os.utime(source, (stamp - 1, stamp - 1))
    assert read()["enter"] == "Before", "an up-to-date compiled file is what is read"
