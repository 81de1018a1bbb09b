"""A slip on a card of a sheet: what stands at its foot is placed first, and the rest has what is left."""

from dataclasses import dataclass
from typing import Any

from reportlab.lib.units import mm

from lauschen.slips.content import Slip
from lauschen.slips.drawing import CAPTIONS, CARD_W, INK, LATIN, PLUM, SOFT, Logo, Pen, limit_lines
from lauschen.slips.faces import BOLD, REGULAR, lines_of, set_text

PAD = 6 * mm
INNER = CARD_W - 2 * PAD
LOGO_H, LOGO_W = 8 * mm, 30 * mm
HEAD, LABEL, CODE = 9.5 * mm, 14.2 * mm, 21 * mm
"""Base lines."""
MIDDLE = 23.4 * mm
"""Where the steps begin."""
QR, TWO_QR, QR_DOWN, QR_UP = 19 * mm, 17 * mm, 24 * mm, 15.2 * mm
"""Under the code or, where the foot is high, beside it."""
QR_GAP, CAPTION = 3 * mm, 3.4 * mm
SMALL, SAID, FOOT_LINE, SAID_LINE = 7.5, 8.0, 3.1 * mm, 3.4 * mm
RISE, FALL = 0.75, 0.2
"""Of its size, how far a line rises above its base line, and hangs below it."""
AIR = 0.8 * mm
"""Between the steps and the foot, where it can be."""
LEAST_MIDDLE = 12.5 * mm
"""Room for three steps, one of them in two lines."""
STEP_SIZES = ((8.0, 3.7 * mm, 0.6 * mm, 2), (7.0, 3.0 * mm, 0.2 * mm, 2), (7.0, 3.0 * mm, 0.0, 1))
"""Size, line, space between steps, lines of each: the first that fits."""


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the foot."""

    text: str
    down: float
    size: float
    face: str
    colour: Any


def draw_card(pen: Pen, slip: Slip, logo: Logo | None, height: float) -> None:
    """Head, code, steps beside the QR codes; words, limits and the page at the foot."""
    indent = 0.0
    if logo is not None:
        indent = pen.logo(logo, PAD, 3.4 * mm, LOGO_H, LOGO_W)[0] + 2 * mm
    pen.text(slip.site, PAD + indent, HEAD, 11, INNER - indent - 30 * mm, face=BOLD, colour=PLUM)
    pen.text(slip.plan, CARD_W - PAD - 29 * mm, HEAD, 8, 29 * mm, colour=SOFT, right=True)
    if slip.label:
        pen.text(slip.label, PAD, LABEL, 8, INNER, colour=SOFT, noted=LATIN[slip.lang])
    foot = _foot(slip, height - 4 * mm)
    top = min((line.down - RISE * line.size for line in foot), default=height)
    left, codes_down = _draw_codes(pen, slip, top - 0.4 * mm)
    pen.code(slip.code, PAD, CODE, 20, left if codes_down < CODE + 1.6 * mm else INNER)
    _draw_steps(pen, slip, left, top)
    for line in foot:
        pen.text(line.text, PAD, line.down, line.size, INNER, face=line.face, colour=line.colour)
    page = set_text(slip.page, REGULAR).width(SMALL)
    pen.text(slip.page, CARD_W - PAD - page, height - 4 * mm, SMALL, page, colour=SOFT)


def _foot(slip: Slip, down: float) -> list[Line]:
    """From the bottom up: limits, beside the page where both fit; then the words of the house, and to the guest."""
    room = INNER - set_text(slip.page, REGULAR).width(SMALL) - 4 * mm
    limits = limit_lines(slip, SMALL, room, 1)
    if set_text(slip.limits, REGULAR).width(SMALL) > room:
        limits = limit_lines(slip, SMALL, INNER, 2)
        if set_text(limits[-1], REGULAR).width(SMALL) > room:
            down -= FOOT_LINE
    lines = []
    for text in reversed(limits):
        lines.append(Line(text, down, SMALL, REGULAR, SOFT))
        down -= FOOT_LINE
    down += FOOT_LINE - SAID_LINE
    for words in (slip.own_words, slip.words):
        if not words:
            continue
        spare = down - SAID_LINE - RISE * SAID - MIDDLE >= LEAST_MIDDLE + (SAID_LINE if slip.words else 0)
        for text in reversed(lines_of(words, BOLD, SAID, INNER, 2 if spare else 1)):
            lines.append(Line(text, down, SAID, BOLD, INK))
            down -= SAID_LINE
    return lines


def _draw_codes(pen: Pen, slip: Slip, bottom: float) -> tuple[float, float]:
    """QR codes above `bottom`. The width that is left beside them, and where they begin."""
    codes = [one for one in ((slip.wifi_qr, 0), (slip.code_qr, 1)) if one[0] is not None]
    if not codes:
        return INNER, bottom
    side, caption = (QR, 0.0) if len(codes) == 1 else (TWO_QR, CAPTION)
    down = max(QR_UP, min(QR_DOWN, bottom - caption - side))
    side, right = min(side, bottom - caption - down), CARD_W - PAD
    for text, which in reversed(codes):
        right -= side
        pen.qr(text or "", right, down, side, is_open=which == 1 and "·" in slip.code)
        if caption:
            word = CAPTIONS[slip.lang][which]
            pen.text(word, right, down + side + 2.6 * mm, SMALL, side, colour=SOFT, centre=True)
        right -= QR_GAP
    return right - PAD, down


def _draw_steps(pen: Pen, slip: Slip, left: float, bottom: float) -> None:
    width = left - 4 * mm
    for size, line, space, at_most in STEP_SIZES:
        steps = [lines_of(step, REGULAR, size, width, at_most) for step in slip.steps]
        taken = sum(len(lines) * line + space for lines in steps)
        if MIDDLE + taken - space + FALL * size <= bottom - AIR:
            break
    down = MIDDLE
    for number, lines in enumerate(steps, start=1):
        for count, text in enumerate(lines):
            down += line
            if count == 0:
                pen.text(f"{number}.", PAD, down, size, 4 * mm)
            pen.text(text, PAD + 4 * mm, down, size, width)
        down += space
