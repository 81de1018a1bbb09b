"""The printable sheet: voucher slips on A4, made in the worker process."""

import io
from pathlib import Path

import segno
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from lauschen.core.house.house import House
from lauschen.core.ids import BatchId
from lauschen.core.words.codes import shown_code
from lauschen.core.words.slip import limits_of, page_words, slip_address, slip_steps
from lauschen.core.words.text import visible
from lauschen.store import credentials
from lauschen.store.credentials import Batch, Issued
from lauschen.store.db import open_reader
from lauschen.store.house.settings import load_house
from lauschen.store.keys import read_key_file

COLUMNS, ROWS = 2, 5
SLIP_W, SLIP_H = 95 * mm, 55 * mm
PAD, QR_SIDE = 6 * mm, 22 * mm
LIMITS_W = SLIP_W - 2 * PAD - QR_SIDE - 2 * mm
"""Beside the QR code."""
INNER_W = SLIP_W - 2 * PAD
PLAN_W = 30 * mm
CODE_PT = 21.0
LEFT, TOP = (A4[0] - COLUMNS * SLIP_W) / 2, (A4[1] - ROWS * SLIP_H) / 2
PLUM, SOFT, HAIR = HexColor("#5B2A4E"), HexColor("#5C5462"), HexColor("#B9B0A5")


def make_sheet(database: Path, key_file: Path, batch: BatchId) -> bytes:
    """A PDF with one slip per voucher of the batch, ten to a page. Runs in the worker process."""
    keys = read_key_file(key_file)
    conn = open_reader(database)
    try:
        house = load_house(conn, keys)
        found = credentials.get_batch(conn, batch)
        issued = list(credentials.all_issued_of(conn, keys, batch))
    finally:
        conn.close()
    return draw_sheet(house, found, issued)


def draw_sheet(house: House, batch: Batch, issued: list[Issued]) -> bytes:
    """One slip for each; all of a batch have the same terms."""
    plan = house.plans[batch.plan]
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=A4)
    canvas.setTitle(f"{plan.name}: {len(issued)} slips")
    canvas.setAuthor(house.site_name)
    for number, one in enumerate(issued):
        place = number % (COLUMNS * ROWS)
        if number and place == 0:
            canvas.showPage()
        x = LEFT + (place % COLUMNS) * SLIP_W
        y = A4[1] - TOP - (place // COLUMNS + 1) * SLIP_H
        _cut_marks(canvas, x, y)
        _slip(canvas, x, y, house, batch, one)
    canvas.save()
    return buffer.getvalue()


def limit_lines(limits: str) -> list[str]:
    """As they stand one below the other."""
    return list(simpleSplit(limits, "Helvetica", 8, LIMITS_W))


def cut_to(text: str, font: str, size: float, width: float) -> str:
    """As much of it as fits in one line of this width (points), and a mark where something is missing."""
    if stringWidth(text, font, size) <= width:
        return text
    while text and stringWidth(text + "…", font, size) > width:
        text = text[:-1]
    return text.rstrip() + "…"


def code_size(code: str) -> float:
    """The type size in points in which a code fits whole: it is never cut."""
    return min(CODE_PT, CODE_PT * INNER_W / stringWidth(code, "Courier-Bold", CODE_PT))


def _slip(canvas: Canvas, x: float, y: float, house: House, batch: Batch, one: Issued) -> None:
    pad, plan, label = PAD, house.plans[batch.plan], batch.said.label
    top = y + SLIP_H
    canvas.setFillColor(PLUM)
    canvas.setFont("Helvetica-Bold", 11)
    site = cut_to(visible(house.site_name), "Helvetica-Bold", 11, INNER_W - PLAN_W - 2 * mm)
    canvas.drawString(x + pad, top - 10 * mm, site)
    canvas.setFillColor(SOFT)
    canvas.setFont("Helvetica", 8)
    canvas.drawRightString(
        x + SLIP_W - pad, top - 10 * mm, cut_to(visible(plan.name), "Helvetica", 8, PLAN_W)
    )
    if label:
        canvas.drawString(x + pad, top - 14 * mm, cut_to(f"for {visible(label)}", "Helvetica", 8, INNER_W))
    canvas.setFillColor(HexColor("#17121A"))
    code = shown_code(one.code, is_chosen=one.is_chosen)
    canvas.setFont("Courier-Bold", code_size(code))
    canvas.drawString(x + pad, top - 21.5 * mm, code)
    side = QR_SIDE
    _qr(canvas, slip_address(house, one.code), x + SLIP_W - pad - side, y + 8.5 * mm, side)
    canvas.setFont("Helvetica", 8.5)
    for number, step in enumerate(slip_steps(house, batch.way), start=1):
        line = cut_to(f"{number}.  {visible(step)}", "Helvetica", 8.5, LIMITS_W)
        canvas.drawString(x + pad, top - (23.5 + 5 * number) * mm, line)
    canvas.setFillColor(SOFT)
    canvas.setFont("Helvetica", 8)
    for number, line in enumerate(reversed(limit_lines(limits_of(house, plan, one.grant)))):
        canvas.drawString(x + pad, y + (8.2 + 3.1 * number) * mm, line)
    canvas.drawString(x + pad, y + 4.8 * mm, f"Page: {page_words(house)}")


def _qr(canvas: Canvas, text: str, x: float, y: float, side: float) -> None:
    matrix = list(segno.make(text, error="m", micro=False).matrix)
    cell = side / len(matrix)
    canvas.setFillColor(HexColor("#000000"))
    for row, line in enumerate(matrix):
        for column, dark in enumerate(line):
            if dark:
                # A hair of overlap: viewers would else show seams between cells.
                canvas.rect(
                    x + column * cell, y + side - (row + 1) * cell, cell * 1.02, cell * 1.02, stroke=0, fill=1
                )


def _cut_marks(canvas: Canvas, x: float, y: float) -> None:
    canvas.setStrokeColor(HAIR)
    canvas.setLineWidth(0.4)
    canvas.setDash(1.5, 2)
    canvas.rect(x, y, SLIP_W, SLIP_H, stroke=1, fill=0)
    canvas.setDash()
