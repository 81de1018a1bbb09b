"""Slips: as a PDF, as a picture of that very PDF, and how the house prints them."""

from dataclasses import replace
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request, Response
from pydantic import Field

from lauschen.acts.config import slips as acts
from lauschen.acts.passphrases.changing import note_printed, reveal
from lauschen.api.desk.models import JobOut, SlipWish
from lauschen.api.desk.shapes import job_out
from lauschen.api.desk.wishes import read_terms, said_of
from lauschen.api.door.asking import Configures, Id, Issues, Looks, NeedFirst, TheOffice, TheSession
from lauschen.api.door.office import Office
from lauschen.api.model import Model
from lauschen.beside.jobs import LongJob
from lauschen.core.actor import Actor
from lauschen.core.config.slip_settings import LONGEST_WORDS, Paper, SlipSettings
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ids import BatchId, CredentialId, PlanId, StaffId
from lauschen.core.ways.kinds import WayIn
from lauschen.slips.logo import LARGEST_FILE, read_logo
from lauschen.slips.pdf import Wanted, joined, make_slips, picture_of
from lauschen.slips.preview import Drawn, draw_to_come
from lauschen.store import batches, credentials
from lauschen.store.batches import Batch
from lauschen.store.config import slip_settings
from lauschen.store.people.sessions import StaffSession

router = APIRouter(tags=["slips"], route_class=NeedFirst)
AT_ONCE = 1000
"""Slips of one answer; more are made by a job."""
PART = 500
OnPaper = Annotated[Paper | None, Query(description="None: as the house prints.")]
InLang = Annotated[Literal["en", "de"] | None, Query(description="None: as the house prints.")]
Unused = Annotated[bool, Query(description="Those alone that nobody has used or withdrawn.")]
PDF, PNG = "application/pdf", "image/png"


class SlipsModel(Model):
    """How the house prints."""

    paper: Paper = Paper.A4
    lang: Literal["en", "de"] = "en"
    words: dict[Literal["en", "de"], Annotated[str, Field(max_length=LONGEST_WORDS)]] = {}  # noqa: RUF012
    """The house's own line at the foot, by language."""
    has_wifi_qr: bool = False


class SlipsOut(SlipsModel):
    has_logo: bool


@router.get("/batches/{batch}/slips.pdf", response_class=Response)
async def batch_slips(
    actor: Looks, viewer: TheSession, office: TheOffice, batch: Id,
    paper: OnPaper = None, lang: InLang = None, unused: Unused = False,
) -> Response:  # fmt: skip
    """All slips of a batch of up to a thousand."""
    found = batches.get_batch(office.reader, BatchId(batch), viewer.sight)
    _check(viewer, found.issuer, found.way)
    await _note_printed(office, actor, found)
    if found.size > AT_ONCE:
        raise Invalid(
            "slips_many", field="batch", mend=f"More than {AT_ONCE} are made by a job: POST /slips."
        )
    pdf, count, _last = await _make(office, actor, Wanted(found.id, paper, lang, unused=unused))
    if not count:
        raise Invalid("slips_none", field="batch", mend="Each of them was used, or withdrawn.")
    return _answer(pdf, f"slips-{found.id}.pdf", PDF)


@router.post("/batches/{batch}/slips", status_code=202)
async def begin_slips(
    actor: Issues, viewer: TheSession, office: TheOffice, batch: Id,
    paper: OnPaper = None, lang: InLang = None, unused: Unused = False,
) -> JobOut:  # fmt: skip
    """All slips of a batch of any size, while others are served; asked about and cancelled under /jobs."""
    found = batches.get_batch(office.reader, BatchId(batch), viewer.sight)
    _check(viewer, found.issuer, found.way)
    await _note_printed(office, actor, found)
    wanted = Wanted(found.id, paper, lang, unused=unused)

    async def work(job: LongJob) -> int:
        job.file = await _in_parts(office, actor, job, wanted)
        return found.id

    job, _task = office.jobs.begin("slips", found.size, work, by=actor)
    return job_out(job)


@router.get("/jobs/{job}/slips.pdf", response_class=Response)
async def job_slips(actor: Issues, viewer: TheSession, office: TheOffice, job: Id) -> Response:
    """What a job has made, for the person who began it, as long as they may see what is on it."""
    found = office.jobs.find(job)
    if found is None or found.file is None or found.result is None or found.by.staff != actor.staff:
        raise NotThere("job")
    batches.get_batch(office.reader, BatchId(found.result), viewer.sight)
    return _answer(found.file, f"slips-{found.result}.pdf", PDF)


@router.get("/issued/{issued}/slip.pdf", response_class=Response)
async def one_slip(
    actor: Looks,
    viewer: TheSession,
    office: TheOffice,
    issued: Id,
    paper: OnPaper = None,
    lang: InLang = None,
) -> Response:
    """One slip."""
    pdf, _paper = await _one(office, viewer, CredentialId(issued), paper, lang, actor)
    return _answer(pdf, f"slip-{issued}.pdf", PDF)


@router.get("/issued/{issued}/slip.png", response_class=Response)
async def one_picture(
    actor: Looks,
    viewer: TheSession,
    office: TheOffice,
    issued: Id,
    paper: OnPaper = None,
    lang: InLang = None,
) -> Response:
    """A picture of the PDF of one slip: what is seen is what is printed."""
    pdf, chosen = await _one(office, viewer, CredentialId(issued), paper, lang, actor, "shown")
    picture = await office.printer.run(actor, picture_of, pdf, chosen)
    return _answer(picture, f"slip-{issued}.png", PNG)


@router.post("/slips/preview", response_class=Response)
async def preview(actor: Issues, office: TheOffice, wish: SlipWish) -> Response:
    """A slip as it will print, with dots for its code; nothing is issued."""
    if PlanId(wish.plan) not in office.config.plans:
        raise Invalid("plan_unknown", field="plan", mend="Choose one of the plans.")
    drawn = Drawn(
        WayIn(wish.way),
        PlanId(wish.plan),
        read_terms(office.config, wish),
        said_of(wish),
        wish.paper,
        wish.lang,
    )
    picture = await office.printer.run(actor, draw_to_come, office.database, office.key_file, drawn)
    return _answer(picture, "slip.png", PNG)


@router.get("/slips")
async def read_slips(_: Looks, office: TheOffice) -> SlipsOut:
    settings = slip_settings.load(office.reader)
    return SlipsOut(
        paper=settings.paper,
        lang="de" if settings.lang == "de" else "en",
        words={"de" if lang == "de" else "en": words for lang, words in settings.words.items()},
        has_wifi_qr=settings.has_wifi_qr,
        has_logo=slip_settings.logo(office.reader) is not None,
    )


@router.put("/slips")
async def save_slips(actor: Configures, office: TheOffice, wanted: SlipsModel) -> SlipsOut:
    """From the next slip on."""
    words: dict[str, str] = {lang: text.strip() for lang, text in wanted.words.items() if text.strip()}
    settings = SlipSettings(wanted.paper, wanted.lang, words, wanted.has_wifi_qr)
    await office.road.act(lambda tx: acts.save_slip_settings(tx, settings), by=actor)
    return await read_slips(actor, office)


@router.put("/slips/logo")
async def save_logo(actor: Configures, office: TheOffice, request: Request) -> SlipsOut:
    """The picture as the body: PNG or JPEG, up to 5 MB. It is made small and written anew."""
    data = await request.body()
    if not data or len(data) > LARGEST_FILE:
        raise Invalid("logo_large", field="logo", mend="A picture of up to 5 MB.")
    picture = await office.worker.run(read_logo, data)
    await office.road.act(lambda tx: acts.set_logo(tx, picture), by=actor)
    return await read_slips(actor, office)


@router.delete("/slips/logo", status_code=204)
async def remove_logo(actor: Configures, office: TheOffice) -> None:
    await office.road.act(lambda tx: acts.set_logo(tx, None), by=actor)


async def _make(office: Office, actor: Actor, wanted: Wanted) -> tuple[bytes, int, int]:
    wanted = replace(wanted, now=office.road.clock.now())
    return await office.printer.run(actor, make_slips, office.database, office.key_file, wanted)


async def _one(
    office: Office,
    viewer: StaffSession,
    issued: CredentialId,
    paper: Paper | None,
    lang: str | None,
    actor: Actor,
    how: str = "printed",
) -> tuple[bytes, Paper]:
    found = credentials.get_issued(office.reader, office.road.keys, issued, viewer.sight)
    _check(viewer, found.issuer, found.grant.way)
    if found.batch is None:
        raise NotThere("slip")
    if found.grant.way is WayIn.PASSPHRASE:
        await office.road.act(lambda tx: reveal(tx, issued, how), by=actor)
    chosen = paper or slip_settings.load(office.reader).paper
    return (await _make(office, actor, Wanted(found.batch, chosen, lang, only=issued)))[0], chosen


async def _note_printed(office: Office, actor: Actor, batch: Batch) -> None:
    """Whoever prints passphrases sees them, and that stands in the record."""
    if batch.way is WayIn.PASSPHRASE:
        await office.road.act(lambda tx: note_printed(tx, batch), by=actor)


async def _in_parts(office: Office, actor: Actor, job: LongJob, wanted: Wanted) -> bytes:
    """A part at a time, so that others have their turn between them."""
    parts: list[bytes] = []
    after = 0
    while True:
        part = Wanted(wanted.batch, wanted.paper, wanted.lang, None, wanted.unused, after, PART)
        pdf, count, after = await _make(office, actor, part)
        if count:
            parts.append(pdf)
            job.done += count
        if count < PART:
            break
    if not parts:
        raise Invalid("slips_none", field="batch", mend="Each of them was used, or withdrawn.")
    return await office.printer.run(actor, joined, parts)


def _check(viewer: StaffSession, issuer: StaffId | None, way: WayIn) -> None:
    if not viewer.reads_code_of(issuer):
        raise Invalid("code_not_theirs", field="batch", mend="Its code is not for your eyes.")
    if way is WayIn.ACCOUNT:
        mend = "Its password was shown once, and is not kept as it is. *New password* makes another one."
        raise Invalid("account_sheet", field="batch", mend=mend)


def _answer(content: bytes, name: str, kind: str) -> Response:
    return Response(content, media_type=kind, headers={"Content-Disposition": f'inline; filename="{name}"'})
