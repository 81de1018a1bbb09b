"""Names in any script: set, shaped, cut where they do not fit, and said so where they had to be rewritten."""

import io

import pytest
from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from lauschen.slips import faces
from lauschen.slips.card import PAD
from lauschen.slips.drawing import CARD_W, Pen
from lauschen.slips.faces import BOLD, ELLIPSIS, MONO, REGULAR, fitting, lines_of, set_text

INNER = CARD_W - 2 * PAD


@pytest.mark.parametrize(
    "name",
    ["Ines Harwood", "Łukasz Żółć", "Ιωάννης Παπαδόπουλος", "Ольга Ковалёва", "Արմեն", "ნინო", "W" * 80, ""],
)
def test_what_a_face_has_is_set_as_it_is_written(name: str) -> None:
    done = set_text(name, REGULAR)
    assert "".join(text for _, text in done.pieces) == name
    assert not done.is_latinised


def test_each_piece_is_set_in_a_face_that_has_it() -> None:
    done = set_text("Ada Łuk Ольга", REGULAR)
    assert next(face for face, _ in done.pieces) == REGULAR
    assert done.pieces[-1] == ("wide-regular", "Ольга")
    assert all(ord(sign) in faces._signs[face] for face, text in done.pieces for sign in text)


def test_arabic_is_joined_and_hebrew_turned() -> None:
    (face, text), *_ = set_text("محمد", REGULAR).pieces
    assert face == "wide-regular"
    # The joined forms of Unicode's presentation block, the last letter first.
    assert [f"{ord(sign):04X}" for sign in text] == ["FEAA", "FEE4", "FEA4", "FEE3"]
    assert set_text("כהן", BOLD).pieces == (("wide-bold", "ןהכ"),)


def test_what_no_face_has_is_in_latin_letters_and_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(faces, "register_faces", lambda: False)
    faces.set_text.cache_clear()
    done = set_text("田中 花子", REGULAR)
    assert ("".join(text for _, text in done.pieces), done.is_latinised) == ("Tian Zhong Hua Zi", True)
    mixed = set_text("Ana 🎻", REGULAR)
    assert "".join(text for _, text in mixed.pieces).isascii()
    faces.set_text.cache_clear()


def test_a_line_is_cut_where_it_ends_and_says_so() -> None:
    for text in ("W" * 80, "Ольга " * 30, "محمد " * 30):
        cut = fitting(text, REGULAR, 8, INNER)
        assert INNER * 0.8 < cut.width(8) <= INNER
        assert ELLIPSIS in "".join(piece for _, piece in cut.pieces)
    assert fitting("Ines", REGULAR, 8, INNER).pieces == ((REGULAR, "Ines"),)


def test_lines_break_at_blanks_alone() -> None:
    text = "one two\u00a0three four"
    assert lines_of(text, REGULAR, 8, 40, 9) == ["one", "two\u00a0three", "four"]
    assert lines_of(text, REGULAR, 8, 40, 2) == ["one", "two\u00a0three four"]


def test_a_code_is_made_smaller_and_stays_whole() -> None:
    buffer = io.BytesIO()
    canvas = Canvas(buffer)
    longest = "silver otter and golden heron by the lake"[:40]
    Pen(canvas, 0, 800).code(longest, PAD, 20, 20, INNER)
    size = 20 * INNER / set_text(longest, MONO).width(20)
    assert size < 20
    canvas.save()
    assert longest in PdfReader(buffer).pages[0].extract_text()
