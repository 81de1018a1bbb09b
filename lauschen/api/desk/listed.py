"""A pasted list of guests: looked at first, so that every bad line can be mended, and then issued as one."""

from functools import partial

from fastapi import APIRouter
from pydantic import Field

from lauschen.acts.desk.issuing import check_new
from lauschen.acts.desk.listed import ListRead, check_listed, issue_listed, read_list
from lauschen.api.desk.models import JobOut, OwnTerms
from lauschen.api.desk.shapes import job_out
from lauschen.api.desk.wishes import once_of, read_terms
from lauschen.api.door.asking import Issues, Key, NeedFirst, TheOffice
from lauschen.api.door.office import Office
from lauschen.api.model import Model
from lauschen.beside.jobs import LongJob
from lauschen.core.errors import Invalid
from lauschen.core.ids import PlanId

router = APIRouter(tags=["desk"], route_class=NeedFirst)


class ListIn(Model):
    text: str = Field(max_length=4_900_000)
    """Name, send to, until, devices, note: a guest on each line; the name alone is needed."""
    lang: str = Field(default="en", pattern="^(en|de)$")
    """Of what is sent."""


class IssueList(OwnTerms, ListIn):
    """What is said besides holds for each that says nothing else."""


class BadRowOut(Model):
    first: int
    """Its first line, from 1; and its last."""
    last: int
    why: str


class ListOut(Model):
    """What a list says, before anything is issued."""

    guests: int
    sent: int
    """Of them, those that say where to send."""
    bad: list[BadRowOut]
    """The first two hundred."""
    bad_count: int


@router.post("/passes/lines/check")
async def check_list(_: Issues, office: TheOffice, wish: ListIn) -> ListOut:
    """Nothing is issued."""
    read = await read_sent(office, wish.text, wish.lang)
    return ListOut(
        guests=len(read.guests),
        sent=sum(guest.address is not None for guest in read.guests),
        bad=[BadRowOut(first=one.first, last=one.last, why=one.why) for one in read.bad],
        bad_count=read.bad_count,
    )


@router.post("/passes/lines", status_code=202)
async def issue_list(actor: Issues, office: TheOffice, wish: IssueList, key: Key = None) -> JobOut:
    """A pass for each, or for nobody, while others are served; asked about and cancelled under /jobs."""
    read, terms = await read_sent(office, wish.text, wish.lang), read_terms(office.config, wish)
    if read.bad:
        one = read.bad[0]
        raise Invalid("list_bad", field="text", mend=f"Line {one.first}: {one.why} Nothing was issued.")
    if not read.guests:
        raise Invalid("list_empty", field="text", mend="There is nobody on it.")
    once, plan = once_of("lists", key, wish), PlanId(wish.plan)
    check = partial(check_listed, guests=read.guests, plan=plan, terms=terms)
    await office.road.act(lambda tx: check_new(tx, once, check), by=actor)

    async def work(job: LongJob) -> int:
        def made(count: int) -> None:
            job.done = count

        return await issue_listed(
            office.road, read.guests, plan=plan, terms=terms, words=wish.words.strip(), by=actor,
            made=made, once=once,
        )  # fmt: skip

    job, _ = office.jobs.begin("list", len(read.guests), work, by=actor)
    return job_out(job)


async def read_sent(office: Office, text: str, lang: str, *, commas: bool = True) -> ListRead:
    """What a list says, for this house."""
    gateway = office.config.channels.text
    countries = gateway.countries if gateway is not None else ()
    return await office.worker.run(read_list, text, office.config.zone.key, countries, lang, commas=commas)
