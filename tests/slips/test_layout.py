"""Whatever stands on a slip, nothing of it stands on something else, or leaves the paper."""

from dataclasses import dataclass, field
from itertools import combinations, product
from typing import Any

import pytest
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from lauschen.slips.card import draw_card
from lauschen.slips.content import Slip
from lauschen.slips.drawing import (
    CARD_W,
    LABEL_H,
    LABEL_W,
    ROLL_W,
    Logo,
    Pen,
    draw_label,
    draw_roll,
    roll_height,
)
from lauschen.slips.faces import SetText, register_faces

NAME = "for the Ensemble of the Upper Valley and all of its many friends and helpers"
LIMITS = (
    "8 h from first use · three devices at a time, any number in turn · 2 GB · until Sat 27 Feb 2027, 13:22"
    " · up to 5 Mbit/s"
)
STEPS = {
    "short": ("Join Hollerau Garden.", "A page opens. If not, scan.", "Enter the code."),
    "long": (
        "Join Hollerau Garden, Hollerau Hall or Hollerau Practice Wall Ports.",
        "A page opens. If it does not, open welcome.hollerau.example in a browser.",
        "Enter the code.",
    ),
}


@dataclass
class Boxes(Pen):
    """What is drawn, as boxes: left, top, right, bottom; from the top left of the slip, downwards."""

    found: list[tuple[str, float, float, float, float]] = field(default_factory=list)

    def set(self, done: SetText, x: float, down: float, size: float, colour: Any) -> None:
        text = "".join(piece for _, piece in done.pieces)
        if text.strip():  # what rises above, and hangs below, the line
            self.found.append((text, x, down - 0.72 * size, x + done.width(size), down + 0.2 * size))

    def qr(self, text: str, x: float, down: float, side: float, *, is_open: bool = False) -> None:
        self.found.append(("QR", x, down, x + side, down + side))

    def logo(self, logo: Logo, x: float, down: float, height: float, widest: float) -> tuple[float, float]:
        wide, high = logo.size(height, widest)
        self.found.append(("logo", x, down, x + wide, down + high))
        return wide, high

    def faults(self, width: float, height: float) -> list[str]:
        out = [
            f"{text!r} leaves the paper"
            for text, left, top, right, bottom in self.found
            if left < 0 or top < 0 or right > width + 0.1 or bottom > height
        ]
        return out + [
            f"{a[0]!r} and {b[0]!r}"
            for a, b in combinations(self.found, 2)
            if a[1] < b[3] and b[1] < a[3] and a[2] < b[4] and b[2] < a[4]
        ]


def slip(codes: str, words: str, own_words: str, limits: str, steps: str, lang: str = "en") -> Slip:
    return Slip(
        lang=lang, site="Hollerau Summer Academy of Music and Movement", plan="Day visit", label=NAME,
        code="6LLBV-L3TA7", steps=STEPS[steps], limits=limits, words=words, own_words=own_words,
        page="welcome.hollerau.example", code_qr="c" * 60 if "c" in codes else None,
        wifi_qr="w" * 80 if "w" in codes else None,
    )  # fmt: skip


SLIPS = [
    slip(codes, words, house, limits, steps)
    for codes, words, house, limits, steps in product(
        ("", "c", "cw"),
        ("", "The concert is at eight.", "Breakfast in the hall at any hour " * 5),
        ("", "Lost? Ask at the gatehouse, at any hour, in any language; somebody is there."),
        ("8 h from first use", LIMITS),
        STEPS,
    )
]


@pytest.fixture(autouse=True)
def _faces() -> None:
    register_faces()


PICTURE = Logo(image=None, ratio=2.0)


@pytest.mark.parametrize("logo", [None, PICTURE])
@pytest.mark.parametrize("height", [55 * mm, 53 * mm])
def test_on_a_card(logo: Logo | None, height: float) -> None:
    for one in SLIPS:
        pen = Boxes(Canvas("unused"), 0, height)
        draw_card(pen, one, logo, height)
        assert pen.faults(CARD_W, height) == [], one


@pytest.mark.parametrize("logo", [None, PICTURE])
def test_on_a_receipt_and_on_a_label(logo: Logo | None) -> None:
    for one in SLIPS:
        height = roll_height(one, logo)
        roll, label = Boxes(Canvas("unused"), 0, height), Boxes(Canvas("unused"), 0, LABEL_H)
        draw_roll(roll, one, logo)
        assert roll.faults(ROLL_W, height) == [], one
        draw_label(label, one, logo)
        assert label.faults(LABEL_W, LABEL_H) == [], one


def test_a_qr_code_stays_large_enough_to_be_read() -> None:
    for one in SLIPS:
        pen = Boxes(Canvas("unused"), 0, 53 * mm)
        draw_card(pen, one, None, 53 * mm)
        sides = [right - left for text, left, _, right, _ in pen.found if text == "QR"]
        assert all(side >= 13 * mm for side in sides), one


def test_words_to_the_guest_and_of_the_house_are_both_there() -> None:
    for one in SLIPS:
        pen = Boxes(Canvas("unused"), 0, 53 * mm)
        draw_card(pen, one, None, 53 * mm)
        said = [text for text, *_ in pen.found]
        for words in (one.words, one.own_words):
            assert not words or any(text.startswith(words[:20]) for text in said), one
