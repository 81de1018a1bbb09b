"""The tables of the documents are complete."""

import re
from pathlib import Path

from lauschen.core.words.template import WORDS
from lauschen.radius.wire.dictionary import ATTRIBUTES

DOCS = Path(__file__).parents[1] / "docs"


def test_every_attribute_is_in_the_table() -> None:
    text = (DOCS / "protocols.md").read_text()
    for number, known in ATTRIBUTES.items():
        assert f"| {number} | {known.name} |" in text


def test_every_test_that_is_named_is_there() -> None:
    text = (DOCS / "protocols.md").read_text()
    named = [part for part in text.split("`") if part.startswith("tests/")]
    assert len(named) > 8
    for name in named:
        assert (DOCS.parent / name).exists(), name


def test_every_test_that_stops_a_threat_is_there() -> None:
    text = (DOCS / "threats.md").read_text()
    named = [part for part in text.split("`") if "::" in part and ".py" in part]
    assert len(named) > 50
    for name in named:
        file, _, test = name.partition("::")
        assert f"def {test}(" in (DOCS.parent / "tests" / file).read_text(), name
    rows = [line for line in text.splitlines() if line.startswith("| ") and "---" not in line]
    for row in rows:
        assert row.startswith(("| who could", "| what could")) or "::" in row, row


def test_every_word_of_templates_is_explained() -> None:
    text = (DOCS / "devices.md").read_text()
    for word in WORDS:
        assert f"`{{{word}}}`" in text


def test_every_ruling_that_is_cited_is_there() -> None:
    text = (DOCS / "rulings.md").read_text()
    cited: dict[str, Path] = {}
    for folder in ("lauschen", "tests", "bench", "docs"):
        for file in sorted((DOCS.parent / folder).rglob("*")):
            if file.suffix in (".py", ".sql", ".md"):
                for numbers in re.findall(r"rulings ([\d.]+(?:(?:, | and )[\d.]+)*)", file.read_text()):
                    cited |= {number.rstrip("."): file for number in re.split(", | and ", numbers)}
    assert len(cited) > 40
    for number, file in cited.items():
        assert f"**{number}** " in text or f"\n## {number}. " in text, (number, file)
