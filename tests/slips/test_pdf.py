"""Slips on each paper: all of a batch, what stands on them, and a picture of the very same PDF."""

import io
from dataclasses import replace
from pathlib import Path

import pytest
import segno
from PIL import Image
from pypdf import PdfReader

from lauschen.acts.desk import issuing
from lauschen.core.config.slip_settings import Paper, SlipSettings
from lauschen.core.ids import BatchId
from lauschen.core.limits.terms import Own, Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.slip import wifi_join
from lauschen.slips import drawing, pdf
from lauschen.slips.content import Slip
from lauschen.slips.pdf import Wanted, joined, make_slips, picture_of
from lauschen.store import credentials
from lauschen.store.batches import Said
from lauschen.store.config import slip_settings
from lauschen.store.db import DATABASE_NAME
from lauschen.store.keys import KEY_NAME
from tests.place import DAY_VISIT, GARDEN, Place

MM = 72 / 25.4


def issue(place: Place, count: int, said: Said = Said(), terms: Terms = Terms()) -> BatchId:  # noqa: B008
    with place.tx() as tx:
        batch = issuing.begin_batch(tx, plan=DAY_VISIT, size=count, said=said, terms=terms)
        issuing.draw_vouchers(tx, batch=batch, plan=DAY_VISIT, count=count, terms=terms)
        issuing.finish_batch(tx, batch=batch, plan=DAY_VISIT, size=count)
    return batch


def settle(place: Place, settings: SlipSettings) -> None:
    with place.tx() as tx:
        slip_settings.save(tx.conn, settings)


def texts(made: bytes) -> list[str]:
    return [page.extract_text() for page in PdfReader(io.BytesIO(made)).pages]


@pytest.fixture
def files(data: Path) -> tuple[Path, Path]:
    return data / DATABASE_NAME, data / KEY_NAME


SIZES = {Paper.A4: (210, 297), Paper.LETTER: (215.9, 279.4), Paper.LABEL: (62, 40)}


@pytest.mark.parametrize("paper", list(Paper))
def test_each_paper_has_its_size_and_all_that_a_guest_needs(
    place: Place, files: tuple[Path, Path], paper: Paper
) -> None:
    settle(place, SlipSettings(words={"en": "Breakfast from seven."}, has_wifi_qr=True))
    batch = issue(place, 2, Said("Ines Harwood", "The concert is at eight.", "pays later"))
    made, count, _ = make_slips(*files, Wanted(batch, paper))
    pages = PdfReader(io.BytesIO(made)).pages
    assert (count, len(pages)) == (2, 1 if paper in (Paper.A4, Paper.LETTER) else 2)
    box = pages[0].mediabox
    width, height = float(box.width) / MM, float(box.height) / MM
    if paper is Paper.ROLL:
        assert width == pytest.approx(80, abs=0.1)
        assert 90 < height < 260
    else:
        assert (width, height) == pytest.approx(SIZES[paper], abs=0.1)
    text = " ".join(pages[0].extract_text().split())
    (one, _two) = credentials.all_issued_of(place.conn, place.keys, batch)
    code = f"{one.code[:5]}-{one.code[5:]}"
    wanted = ["Hollerau", "for Ines Harwood", code, "Join Hollerau Garden.", "The concert is at eight."]
    if paper is not Paper.LABEL:
        wanted += ["8 h from first use", "Breakfast from seven.", "Enter the code."]
    assert [one for one in wanted if one not in text] == []
    assert "pays later" not in text


def test_a_batch_of_any_size_has_all_of_its_slips_in_parts(place: Place, files: tuple[Path, Path]) -> None:
    batch = issue(place, 23)
    parts, after, seen = [], 0, 0
    while True:
        made, count, after = make_slips(*files, Wanted(batch, after=after, at_most=10))
        seen += count
        if not count:
            break
        parts.append(made)
    assert (seen, len(parts)) == (23, 3)
    whole = joined(parts)
    text = "".join(texts(whole))
    codes = [one.code for one in credentials.all_issued_of(place.conn, place.keys, batch)]
    assert all(f"{code[:5]}-{code[5:]}" in text for code in codes)


def test_used_and_withdrawn_ones_are_not_printed_again(place: Place, files: tuple[Path, Path]) -> None:
    batch = issue(place, 3)
    used, withdrawn, fresh = credentials.all_issued_of(place.conn, place.keys, batch)
    place.let_in(used.code)
    with place.tx() as tx:
        credentials.withdraw(tx.conn, withdrawn.id, tx.now)
    made, count, _ = make_slips(*files, Wanted(batch, unused=True))
    assert count == 1
    assert f"{fresh.code[:5]}-{fresh.code[5:]}" in texts(made)[0]
    one, count, _ = make_slips(*files, Wanted(batch, only=used.id))
    assert (count, f"{used.code[:5]}-{used.code[5:]}" in texts(one)[0]) == (1, True)
    # A print of the whole batch holds no slip that lets nobody in.
    whole, count, _ = make_slips(*files, Wanted(batch))
    assert (count, f"{withdrawn.code[:5]}-{withdrawn.code[5:]}" in texts(whole)[0]) == (2, False)


def test_its_own_limits_and_its_network_stand_on_it_in_german_too(
    place: Place, files: tuple[Path, Path]
) -> None:
    terms = Terms(own=Own(seconds=7200, octets=5 * 10**6), network=GARDEN)
    batch = issue(place, 1, Said("Ines"), terms)
    made, _, _ = make_slips(*files, Wanted(batch, lang="de"))
    text = " ".join(texts(made)[0].split())
    assert "2 h ab der ersten Nutzung" in text
    assert "für Ines" in text
    assert "Verbinden mit Hollerau Garden." in text


def test_the_longest_limits_stand_whole_on_each_paper() -> None:
    begins, ends = "from Wed 30 Sep, 10:00", "until Wed 30 Sep, 18:00"
    limits = f"365 d from first use · {begins} · {ends} · 999 devices in total · 999.9 GB"
    slip = Slip(
        "en", "Hollerau", "Day visit", "for Ines", "3N2D5-98EEV", ("Join.", "Open.", "Type."), limits,
        "Welcome, the concert is at eight.", "Breakfast.", "welcome.hollerau.example", "http://x.example", "WIFI:;",
    )  # fmt: skip
    for paper in Paper:
        made = pdf.draw_slips([slip], paper, None, title="", author="")
        words = " ".join(texts(made)[0].split())
        if paper is not Paper.LABEL:
            assert [part for part in limits.split(" · ") if part not in words] == []
            assert "…" not in words


def test_the_picture_is_the_pdf(place: Place, files: tuple[Path, Path]) -> None:
    batch = issue(place, 2)
    for paper in Paper:
        made, _, _ = make_slips(*files, Wanted(batch, paper))
        image = Image.open(io.BytesIO(picture_of(made, paper)))
        assert image.format == "PNG"
        wide = {Paper.ROLL: drawing.ROLL_W, Paper.LABEL: drawing.LABEL_W}.get(paper, drawing.CARD_W)
        assert image.width == pytest.approx(wide * pdf.PICTURE_SCALE, abs=3)
        assert image.convert("L").getextrema()[0] < 60


def test_the_qr_code_on_paper_is_the_one_of_the_code() -> None:
    """Drawn cell by cell, as the encoder says."""
    text = "http://slip.hollerau.example/K7TRQ9WMP4"
    cells, runs = drawing._runs_of(text)
    matrix = segno.make(text, error="m", micro=False, mask=drawing.QR_MASK).matrix
    drawn = [[0] * cells for _ in range(cells)]
    numbers = runs.replace(" re", "").split()
    for start, row, length in zip(numbers[0::4], numbers[1::4], numbers[2::4], strict=True):
        for cell in range(int(start), int(start) + int(length)):
            drawn[cells - 1 - int(row)][cell] = 1
    assert drawn == [[int(bool(cell)) for cell in row] for row in matrix]


def test_the_wifi_code_escapes_what_it_must(place: Place) -> None:
    network = place.config.networks[GARDEN]
    assert wifi_join(place.config, WayIn.VOUCHER, GARDEN) == "WIFI:T:nopass;S:Hollerau Garden;;"
    odd = replace(network, ssid=replace(network.ssid, value=b'a;b:c,"d\\'))
    house = replace(place.config, networks={GARDEN: odd})
    assert wifi_join(house, WayIn.VOUCHER) == 'WIFI:T:nopass;S:a\\;b\\:c\\,\\"d\\\\;;'
