"""Slips as a PDF, and the very same PDF as a picture."""

import io
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from sqlite3 import Connection

import pypdfium2
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from lauschen.core.config.config import Config
from lauschen.core.config.slip_settings import Paper
from lauschen.core.ids import BatchId, CredentialId
from lauschen.core.ways.kinds import WayIn
from lauschen.slips import drawing
from lauschen.slips.card import draw_card
from lauschen.slips.content import Slip, slip_of
from lauschen.slips.drawing import Logo, Pen
from lauschen.slips.faces import register_faces
from lauschen.store import batches, credentials
from lauschen.store.config import slip_settings
from lauschen.store.config.settings import load_config
from lauschen.store.db import open_reader
from lauschen.store.keys import KeyRing, read_key_file
from lauschen.store.passphrases.keys import newest_key

COLUMNS, ROWS = 2, 5
PICTURE_SCALE = 2.0
"""Pixels per point of a picture."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What is printed: all of a batch that was not withdrawn.

    `only`: of the batch, this one alone, whatever became of it; `unused`: those that nobody has used yet.
    """

    batch: BatchId
    paper: Paper | None = None
    lang: str | None = None
    only: CredentialId | None = None
    unused: bool = False
    after: int = 0
    at_most: int | None = None
    now: float = 0.0
    """When: of a passphrase the one that holds then is printed."""


def make_slips(database: Path, key_file: Path, wanted: Wanted) -> tuple[bytes, int, int]:
    """The PDF, how many slips are in it, and the id of the last: those after it are in another. In the worker."""
    keys = read_key_file(key_file)
    conn = open_reader(database)
    try:
        config = load_config(conn, keys)
        settings, logo = slip_settings.load(conn), load_logo(slip_settings.logo(conn))
        batch = batches.get_batch(conn, wanted.batch)
        issued = (
            one
            for one in credentials.all_issued_of(conn, keys, wanted.batch, after=wanted.after)
            if _is_wanted(config, wanted, one)
        )
        found = list(islice(issued, wanted.at_most))
        texts = {one.id: _passphrase(conn, keys, one, wanted.now) for one in found}
    finally:
        conn.close()
    lang = wanted.lang or settings.lang
    slips = [slip_of(config, settings, batch, one, lang, texts[one.id]) for one in found]
    title = f"{config.plans[batch.plan].name}: {len(slips)} slips"
    pdf = draw_slips(slips, wanted.paper or settings.paper, logo, title=title, author=config.site_name)
    return pdf, len(slips), found[-1].id if found else wanted.after


def _is_wanted(config: Config, wanted: Wanted, one: credentials.Issued) -> bool:
    if wanted.only is not None:
        return one.id == wanted.only
    return is_unused(config, one) if wanted.unused else one.grant.use.withdrawn_at is None


def _passphrase(conn: Connection, keys: KeyRing, one: credentials.Issued, now: float) -> str | None:
    if one.grant.way is not WayIn.PASSPHRASE:
        return None
    key = newest_key(conn, keys, one.id, now)
    return None if key is None else key.text


def is_unused(config: Config, one: credentials.Issued) -> bool:
    """Whether a slip of it is still of use to somebody who has not used it."""
    return one.grant.use.first_used is None and one.grant.use.withdrawn_at is None


def load_logo(picture: bytes | None) -> Logo | None:
    if picture is None:
        return None
    image = ImageReader(io.BytesIO(picture))
    width, height = image.getSize()
    return Logo(image, width / height)


def draw_slips(slips: Iterable[Slip], paper: Paper, logo: Logo | None, *, title: str, author: str) -> bytes:
    """One slip after the other; an empty page where there are none."""
    register_faces()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pagesize=A4, pageCompression=1)
    canvas.setTitle(title)
    canvas.setAuthor(author)
    match paper:
        case Paper.A4:
            _sheets(canvas, slips, logo, A4, 55 * mm)
        case Paper.LETTER:
            _sheets(canvas, slips, logo, LETTER, 53 * mm)
        case Paper.ROLL:
            for slip in slips:
                height = drawing.roll_height(slip, logo)
                canvas.setPageSize((drawing.ROLL_W, height))
                drawing.draw_roll(Pen(canvas, 0, height), slip, logo)
                canvas.showPage()
        case Paper.LABEL:
            canvas.setPageSize((drawing.LABEL_W, drawing.LABEL_H))
            for slip in slips:
                drawing.draw_label(Pen(canvas, 0, drawing.LABEL_H), slip, logo)
                canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _sheets(
    canvas: Canvas, slips: Iterable[Slip], logo: Logo | None, size: tuple[float, float], height: float
) -> None:
    left, above = (size[0] - COLUMNS * drawing.CARD_W) / 2, (size[1] - ROWS * height) / 2
    for page in _pages(slips):
        canvas.setPageSize(size)
        for place, slip in enumerate(page):
            x = left + (place % COLUMNS) * drawing.CARD_W
            top = size[1] - above - (place // COLUMNS) * height
            canvas.setStrokeColor(drawing.HAIR)
            canvas.setLineWidth(0.4)
            canvas.setDash(1.5, 2)
            canvas.rect(x, top - height, drawing.CARD_W, height, stroke=1, fill=0)
            canvas.setDash()
            draw_card(Pen(canvas, x, top), slip, logo, height)
        canvas.showPage()


def _pages(slips: Iterable[Slip]) -> Iterator[list[Slip]]:
    rest = iter(slips)
    while page := list(islice(rest, COLUMNS * ROWS)):
        yield page


def picture_of(pdf: bytes, paper: Paper) -> bytes:
    """The first slip of a PDF as a PNG picture: what is seen is what is printed."""
    document = pypdfium2.PdfDocument(pdf)
    try:
        page = document[0]
        cut = (0.0, 0.0, 0.0, 0.0)
        if paper in (Paper.A4, Paper.LETTER):
            height = 55 * mm if paper is Paper.A4 else 53 * mm
            width, tall = page.get_size()
            left, above = (width - COLUMNS * drawing.CARD_W) / 2, (tall - ROWS * height) / 2
            cut = (left, tall - above - height, width - left - drawing.CARD_W, above)
        image = page.render(scale=PICTURE_SCALE, crop=cut).to_pil()
    finally:
        document.close()
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def joined(parts: list[bytes]) -> bytes:
    """Several PDFs one after the other. In the worker."""
    whole = pypdfium2.PdfDocument.new()
    for part in parts:
        document = pypdfium2.PdfDocument(part)
        whole.import_pages(document)
        document.close()
    out = io.BytesIO()
    whole.save(out)
    whole.close()
    return out.getvalue()
