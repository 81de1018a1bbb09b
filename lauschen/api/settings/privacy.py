"""What guests are told of what becomes of their words, and who agreed to be written to."""

from datetime import datetime
from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import Field

from lauschen.acts.config.configuring import configured
from lauschen.acts.config.texts import write_text
from lauschen.api.door.asking import Configures, Inspects, NeedFirst, TheOffice
from lauschen.api.lines import csv_answer
from lauschen.api.model import Model
from lauschen.core.config.config import Config
from lauschen.core.config.site_text import SiteText, TextKind
from lauschen.core.words.mac import spell_mac
from lauschen.store.messages import consents as stored

router = APIRouter(tags=["settings"], route_class=NeedFirst)
Lang = Literal["en", "de"]


class SiteTextModel(Model):
    version: int
    texts: dict[Lang, str]


class PrivacyOut(Model):
    privacy: SiteTextModel
    consent: SiteTextModel
    consents: int
    """How many agreed to be written to, as far as that is kept."""


class SiteTextIn(Model):
    texts: dict[Lang, Annotated[str, Field(max_length=20_000)]]


@router.get("/privacy")
async def privacy(_: Inspects, office: TheOffice) -> PrivacyOut:
    return _out(office.config, len(stored.consents(office.reader, office.road.keys)))


@router.put("/privacy/{kind}")
async def write(
    actor: Configures, office: TheOffice, kind: Literal["privacy", "consent"], wanted: SiteTextIn
) -> PrivacyOut:
    """A new version; who agreed before agreed to the words of then."""
    texts = {str(lang): text for lang, text in wanted.texts.items()}
    await office.road.act(configured(lambda tx: write_text(tx, TextKind(kind), texts)), by=actor)
    return _out(office.config, len(stored.consents(office.reader, office.road.keys)))


@router.get("/consents.csv", response_class=Response)
async def as_csv(_: Inspects, office: TheOffice) -> Response:
    """Each who agreed, with what proves it."""
    config = office.config
    headings = (
        "name", "mail", "phone", "address confirmed", "agreed at", "version", "language", "network", "device",
    )  # fmt: skip
    rows = [
        (
            *(one.said.get(key, "") for key in ("name", "mail", "phone")),
            "yes" if one.is_confirmed else "no",
            datetime.fromtimestamp(one.at, config.zone).isoformat(timespec="seconds"),
            one.version,
            one.lang,
            config.networks[one.network].name if one.network in config.networks else "",
            spell_mac(one.mac),
        )
        for one in stored.consents(office.reader, office.road.keys)
    ]
    return csv_answer("consents.csv", headings, rows)


def _out(config: Config, count: int) -> PrivacyOut:
    return PrivacyOut(privacy=_text(config.privacy), consent=_text(config.consent), consents=count)


def _text(text: SiteText) -> SiteTextModel:
    return SiteTextModel(
        version=text.version,
        texts={"de" if lang == "de" else "en": said for lang, said in text.texts.items()},
    )
