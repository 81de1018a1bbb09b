"""Type for paper: names in any script, embedded, so that every printer has them.

Latin is set in our own face; Greek, Cyrillic, Armenian, Georgian, Hebrew and Arabic in a wider one, with Arabic
shaped and both turned to read from right to left. Anything else is set in a face of the system, if one is there, and
otherwise in Latin letters, which is said beside it.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from pathlib import Path
from typing import Any

import arabic_reshaper
from anyascii import anyascii
from bidi import get_display
from reportlab.pdfbase.pdfmetrics import registerFont, stringWidth
from reportlab.pdfbase.ttfonts import TTFError, TTFont

HERE = Path(__file__).parent / "faces"
REGULAR, BOLD, MONO = "next-regular", "next-bold", "mono-bold"
WIDE = {REGULAR: "wide-regular", BOLD: "wide-bold", MONO: "wide-bold"}
SYSTEM = "system"
SYSTEM_FACES = (
    Path("/usr/share/fonts/truetype/droid/DroidSansFallbackFull.ttf"),
    Path("/usr/share/fonts/truetype/wqy/wqy-microhei.ttc"),
    Path("/usr/share/fonts/truetype/arphic/uming.ttc"),
)
"""Faces with CJK signs that distributions bring."""
ELLIPSIS = "…"
_signs: dict[str, frozenset[int]] = {}
"""What each face has."""


@dataclass(frozen=True, slots=True)
class SetText:
    """A text as it is set: pieces of one face each, from left to right."""

    pieces: tuple[tuple[str, str], ...]
    """The face, and its signs in the order in which they are drawn."""
    is_latinised: bool
    """Some of it is in Latin letters that was not."""

    def width(self, size: float) -> float:
        """In points."""
        return sum(float(stringWidth(text, face, size)) for face, text in self.pieces)


@lru_cache(1)
def register_faces() -> bool:
    """True when a face of the system has CJK signs."""
    for name in (REGULAR, BOLD, MONO, *{*WIDE.values()}):
        _register(name, HERE / f"{name}.ttf")
    for path in SYSTEM_FACES:
        if path.exists():
            try:
                _register(SYSTEM, path)
            except (TTFError, OSError):
                continue
            return True
    return False


def _register(name: str, path: Path) -> None:
    font: Any = TTFont(name, path)
    registerFont(font)
    _signs[name] = frozenset(font.face.charToGlyph)


@lru_cache(maxsize=4096)
def set_text(text: str, face: str) -> SetText:
    """In `face` where it has the signs; else in what has them."""
    has_system = register_faces()
    faces = [face, WIDE[face], *([SYSTEM] if has_system else [])]
    written = "".join(sign if _has(faces, sign) or not sign.strip() else f"\0{sign}" for sign in text)
    is_latinised = "\0" in written
    if is_latinised:
        written = _latinised(written)
    if any(_is_rtl(sign) for sign in written):
        written = str(get_display(arabic_reshaper.reshape(written)))
    runs = groupby(written, key=lambda sign: next((f for f in faces if _has([f], sign)), face))
    return SetText(tuple((name, "".join(signs)) for name, signs in runs), is_latinised)


def fitting(text: str, face: str, size: float, width: float) -> SetText:
    """As much of it as fits in one line of this width (points), and a mark where something is missing."""
    whole = set_text(text, face)
    if whole.width(size) <= width:
        return whole
    low, high = 0, len(text)
    while low < high:  # the longest beginning that fits, with its mark
        middle = (low + high + 1) // 2
        if set_text(text[:middle].rstrip() + ELLIPSIS, face).width(size) <= width:
            low = middle
        else:
            high = middle - 1
    return set_text(text[:low].rstrip() + ELLIPSIS, face)


def lines_of(text: str, face: str, size: float, width: float, at_most: int) -> list[str]:
    """Broken at blanks, and at no other space; the last line is as long as it is, to be cut where it is drawn."""
    lines: list[str] = []
    for word in text.split(" "):
        if (lines and set_text(f"{lines[-1]} {word}", face).width(size) <= width) or len(lines) == at_most:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines


def _has(faces: Iterable[str], sign: str) -> bool:
    return any(ord(sign) in _signs[face] for face in faces)


def _latinised(marked: str) -> str:
    """Signs that no face has (each with a mark before it), as Latin letters, with blanks between syllables."""
    text, parts = "", marked.split("\0")
    for number, part in enumerate(parts):
        if number == 0:
            text = part
            continue
        written = anyascii(part[0]).strip()
        text = f"{text} {written}" if text and not text[-1].isspace() and written else text + written
        text += part[1:]
    return text.strip()


def _is_rtl(sign: str) -> bool:
    return "\u0590" <= sign <= "\u08ff" or "\ufb1d" <= sign <= "\ufefc"
