"""A slip before anything is issued: drawn as it will print, with dots for its code."""

from dataclasses import dataclass
from pathlib import Path

from lauschen.core.config.slip_settings import Paper
from lauschen.core.decide.grant import Grant
from lauschen.core.ids import PlanId
from lauschen.core.limits.terms import Terms, plan_with
from lauschen.core.limits.use import Use
from lauschen.core.ways.kinds import WayIn
from lauschen.slips.content import slip_to_come
from lauschen.slips.pdf import draw_slips, load_logo, picture_of
from lauschen.store.batches import Said
from lauschen.store.config import slip_settings
from lauschen.store.config.settings import load_config
from lauschen.store.db import open_reader
from lauschen.store.keys import read_key_file


@dataclass(frozen=True, slots=True)
class Drawn:
    """What would be issued. `paper` and `lang`: None as the house prints."""

    way: WayIn
    plan: PlanId
    terms: Terms
    said: Said
    paper: Paper | None
    lang: str | None


def draw_to_come(database: Path, key_file: Path, wanted: Drawn) -> bytes:
    """The PNG picture of its PDF. In the worker."""
    keys = read_key_file(key_file)
    conn = open_reader(database)
    try:
        config = load_config(conn, keys)
        settings, logo = slip_settings.load(conn), load_logo(slip_settings.logo(conn))
    finally:
        conn.close()
    plan, terms = config.plans[wanted.plan], wanted.terms
    limited = plan if terms.own is None else plan_with(plan, terms.own)
    grant = Grant(wanted.way, wanted.plan, Use(0.0), None, None, network=terms.network)
    lang, paper = wanted.lang or settings.lang, wanted.paper or settings.paper
    slip = slip_to_come(config, settings, wanted.said, limited, grant, terms, lang)
    return picture_of(draw_slips([slip], paper, logo, title="", author=""), paper)
