"""How a slip is drawn: the pen, and a receipt and a label. Lengths are points, from the bottom left."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby
from typing import Any

import segno
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from lauschen.slips.content import JOINS, Slip
from lauschen.slips.faces import BOLD, MONO, REGULAR, SetText, fitting, lines_of, set_text

PLUM, SOFT, INK, HAIR = HexColor("#5B2A4E"), HexColor("#5C5462"), HexColor("#17121A"), HexColor("#B9B0A5")
CARD_W = 95 * mm
ROLL_QR, LABEL_QR = 34 * mm, 16 * mm
ROLL_W, ROLL_PAD = 80 * mm, 4 * mm
LABEL_W, LABEL_H, LABEL_PAD = 62 * mm, 40 * mm, 3 * mm
LOGO_H, LOGO_W = 8 * mm, 30 * mm
LONG_CODE, TWO_LINES, LEADING = 40, 0.47, 1.05
"""Signs that one line holds; and of two lines, how large they are beside one, and how far apart."""
QR_MASK = 3
"""Any of the eight can be read (ISO/IEC 18004); trying all of them for the best takes five times as long."""
CAPTIONS = {"en": ("Wi-Fi", "code"), "de": ("WLAN", "Code")}
LATIN = {"en": "in Latin letters", "de": "in lateinischer Schrift"}


@dataclass(frozen=True, slots=True)
class Logo:
    """The house's picture, and how wide it is for its height."""

    image: ImageReader
    ratio: float

    def size(self, height: float, widest: float) -> tuple[float, float]:
        """Within both, undistorted."""
        width = min(widest, height * self.ratio)
        return width, width / self.ratio


@dataclass(slots=True)
class Pen:
    """A canvas with a place on it, from the top left of a slip."""

    canvas: Canvas
    x: float
    top: float

    def text(
        self, text: str, x: float, down: float, size: float, width: float, *, face: str = REGULAR,
        colour: Any = INK, right: bool = False, centre: bool = False, noted: str = "",
    ) -> None:  # fmt: skip
        """One line, cut where it does not fit. `noted` follows it when it had to be written in Latin letters."""
        whole = set_text(text, face)
        line = f"{text} ({noted})" if noted and whole.is_latinised else text
        done = fitting(line, face, size, width)
        shift = width - done.width(size) if right else (width - done.width(size)) / 2 if centre else 0.0
        self.set(done, x + shift, down, size, colour)

    def set(self, done: SetText, x: float, down: float, size: float, colour: Any) -> None:
        self.canvas.setFillColor(colour)
        at = self.x + x
        for face, piece in done.pieces:
            self.canvas.setFont(face, size)
            self.canvas.drawString(at, self.top - down, piece)
            at += self.canvas.stringWidth(piece, face, size)

    def code(
        self, code: str, x: float, down: float, size: float, width: float, *, centre: bool = False
    ) -> None:
        """Made smaller until it fits: a code is never cut. A passphrase stands in two lines."""
        if len(code) > LONG_CODE:
            size *= TWO_LINES
            first, code = _halves(code)
            longest = max(set_text(one, MONO).width(size) for one in (first, code))
            size = min(size, size * width / longest)
            self.code_line(first, x, down - size * LEADING, size, width, centre=centre)
        self.code_line(code, x, down, size, width, centre=centre)

    def code_line(self, code: str, x: float, down: float, size: float, width: float, *, centre: bool) -> None:
        done = set_text(code, MONO)
        size = min(size, size * width / done.width(size))
        self.set(done, x + ((width - done.width(size)) / 2 if centre else 0.0), down, size, INK)

    def qr(self, text: str, x: float, down: float, side: float, *, is_open: bool = False) -> None:
        """`is_open`: its place alone, while there is no code yet."""
        left, bottom = self.x + x, self.top - down - side
        if is_open:
            self.canvas.setStrokeColor(HAIR)
            self.canvas.rect(left, bottom, side, side, stroke=1, fill=0)
            return
        self.canvas.setFillColor(INK)
        cells, cell_by_cell = _runs_of(text)
        scale = side / cells
        # In units of cells; written as operators (ISO 32000-1, 8.5.2), since there are hundreds for each slip.
        self.canvas.addLiteral(f"q {scale:.4f} 0 0 {scale:.4f} {left:.2f} {bottom:.2f} cm {cell_by_cell} f Q")

    def logo(self, logo: Logo, x: float, down: float, height: float, widest: float) -> tuple[float, float]:
        width, height = logo.size(height, widest)
        self.canvas.drawImage(logo.image, self.x + x, self.top - down - height, width, height, mask="auto")
        return width, height


def _halves(code: str) -> tuple[str, str]:
    """Parted near its middle, behind a dash or a blank where there is one."""
    middle = len(code) // 2
    places = [at + 1 for at, sign in enumerate(code[:-1]) if sign in "- "] or [middle]
    best = min(places, key=lambda at: abs(at - middle))
    at = best if abs(best - middle) <= len(code) // 4 else middle
    return code[:at], code[at:]


@lru_cache(maxsize=8)
def _runs_of(text: str) -> tuple[int, str]:
    """How many cells wide a QR code is, and a rectangle for each run of dark cells."""
    matrix = segno.make(text, error="m", micro=False, mask=QR_MASK).matrix
    found = []
    for row, line in enumerate(matrix):
        start = 0
        for dark, run in groupby(line):
            length = len(list(run))
            if dark:
                # A hair of overlap: viewers would else show seams between rows.
                found.append(f"{start} {len(matrix) - 1 - row} {length} 1.02 re")
            start += length
    return len(matrix), " ".join(found)


def roll_height(slip: Slip, logo: Logo | None) -> float:
    """How long this receipt is."""
    return _draw_roll(None, slip, logo)


def draw_roll(pen: Pen, slip: Slip, logo: Logo | None) -> None:
    """On a receipt: one below the other, as long as it needs."""
    _draw_roll(pen, slip, logo)


def _draw_roll(pen: Pen | None, slip: Slip, logo: Logo | None) -> float:
    inner, down = ROLL_W - 2 * ROLL_PAD, 5 * mm

    def line(text: str, size: float, *, face: str = REGULAR, colour: Any = INK, noted: str = "") -> None:
        nonlocal down
        down += size * 1.25
        if pen is not None:
            pen.text(text, ROLL_PAD, down, size, inner, face=face, colour=colour, centre=True, noted=noted)

    if logo is not None:
        width, height = logo.size(14 * mm, inner)
        if pen is not None:
            pen.logo(logo, (ROLL_W - width) / 2, down, 14 * mm, inner)
        down += height + 2 * mm
    line(slip.site, 13, face=BOLD)
    if slip.label:
        line(slip.label, 10, noted=LATIN[slip.lang])
    line(slip.plan, 10, colour=SOFT)
    down += 11 * mm
    if pen is not None:
        pen.code(slip.code, ROLL_PAD, down, 26, inner, centre=True)
    down += 4 * mm
    for text, which in ((slip.code_qr, 1), (slip.wifi_qr, 0)):
        if text is None:
            continue
        if pen is not None:
            is_open = which == 1 and "·" in slip.code
            pen.qr(text, (ROLL_W - ROLL_QR) / 2, down, ROLL_QR, is_open=is_open)
        down += ROLL_QR + 1 * mm
        line(CAPTIONS[slip.lang][0 if text.startswith(JOINS) else which], 8, colour=SOFT)
        down += 2 * mm
    for number, step in enumerate(slip.steps, start=1):
        line(f"{number}. {step}", 10)
    down += 2 * mm
    for text in (slip.words, slip.own_words):
        for part in lines_of(text, BOLD, 10, inner, 4):
            line(part, 10, face=BOLD)
    for part in limit_lines(slip, 9, inner, 4):
        line(part, 9)
    if slip.page:
        line(_page(slip), 9)
    return down + 6 * mm


def draw_label(pen: Pen, slip: Slip, logo: Logo | None) -> None:
    """On a label: little more than the code."""
    inner, indent = LABEL_W - 2 * LABEL_PAD, 0.0
    if logo is not None:
        indent = pen.logo(logo, LABEL_PAD, 2.5 * mm, 6 * mm, 18 * mm)[0] + 1.5 * mm
    pen.text(slip.site, LABEL_PAD + indent, 6.5 * mm, 9, inner - indent, face=BOLD)
    if slip.label:
        pen.text(slip.label, LABEL_PAD, 10.5 * mm, 7.5, inner, colour=SOFT, noted=LATIN[slip.lang])
    pen.code(slip.code, LABEL_PAD, 17 * mm, 15, inner)
    left = inner
    if slip.code_qr is not None:
        left = inner - LABEL_QR - 2 * mm
        pen.qr(slip.code_qr, LABEL_W - LABEL_PAD - LABEL_QR, 19.5 * mm, LABEL_QR, is_open="·" in slip.code)
    pen.text(slip.steps[0], LABEL_PAD, 22.5 * mm, 7.5, left)
    said = lines_of(slip.words, REGULAR, 7, left, 3) if slip.words else limit_lines(slip, 7, left, 3)
    for number, line in enumerate(said):
        pen.text(line, LABEL_PAD, (26.2 + 3.1 * number) * mm, 7, left, colour=SOFT)
    pen.text(slip.page, LABEL_PAD, 37.5 * mm, 7, left, colour=SOFT)


def limit_lines(slip: Slip, size: float, width: float, at_most: int) -> list[str]:
    """Broken between limits, never within one."""
    bound = " · ".join(part.replace(" ", "\u00a0") for part in slip.limits.split(" · "))
    return lines_of(bound.replace("\u00a0· ", " · "), REGULAR, size, width, at_most)


def _page(slip: Slip) -> str:
    word = "Seite" if slip.lang == "de" else "Page"
    return f"{word}: {slip.page}"
