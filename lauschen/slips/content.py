"""What stands on a slip, whatever it is printed on."""

from dataclasses import dataclass, replace

from lauschen.core.config.config import Config
from lauschen.core.config.slip_settings import SlipSettings
from lauschen.core.decide.grant import Grant
from lauschen.core.limits.plan import Plan
from lauschen.core.limits.terms import Terms
from lauschen.core.ways.kinds import WayIn
from lauschen.core.words.codes import shown_code
from lauschen.core.words.slip import page_words, slip_address, wifi_by_key, wifi_join
from lauschen.core.words.text import visible
from lauschen.sentences.slips import limits_of, slip_label, slip_limits, slip_steps
from lauschen.store.batches import Batch, Said
from lauschen.store.credentials import Issued

OPEN_CODE = "·····-·····"
"""Where a code will stand."""
JOINS = "WIFI:"
"""How a QR code begins that joins a Wi-Fi."""


@dataclass(frozen=True, slots=True)
class Slip:
    """One of them, in one language; texts without hidden signs."""

    lang: str
    site: str
    plan: str
    label: str
    """`for ...`; empty without a name."""
    code: str
    steps: tuple[str, ...]
    limits: str
    words: str
    """From the desk to this guest."""
    own_words: str
    page: str
    code_qr: str | None
    """What the QR code that fills in the code says; None while there is none, or for what it could not carry."""
    wifi_qr: str | None
    """What the QR code that joins the Wi-Fi says."""


def slip_of(
    config: Config,
    settings: SlipSettings,
    batch: Batch,
    one: Issued,
    lang: str,
    passphrase: str | None = None,
) -> Slip:
    """Of something that was issued. `passphrase`: where it is one."""
    if one.grant.way is WayIn.PASSPHRASE:
        return _slip_of_passphrase(config, settings, batch, one, lang, passphrase)
    code_qr = None if one.is_chosen else slip_address(config, one.code)
    limits = limits_of(config, config.plan_of(one.grant), one.grant, lang)
    code = shown_code(one.code, is_chosen=one.is_chosen)
    return _slip(
        config, settings, batch.said, config.plans[batch.plan], one.grant, code, code_qr, limits, lang
    )


def _slip_of_passphrase(
    config: Config, settings: SlipSettings, batch: Batch, one: Issued, lang: str, passphrase: str | None
) -> Slip:
    """Its QR code joins; a page there is none. Without a passphrase, that it does not hold any more."""
    assert one.grant.network is not None
    network, said = config.networks.get(one.grant.network), replace(batch.said, label=one.code)
    qr = None if passphrase is None or network is None else wifi_by_key(network, passphrase)
    limits = limits_of(config, config.plan_of(one.grant), one.grant, lang)
    made = _slip(
        config, settings, said, config.plans[batch.plan], one.grant, passphrase or "·····", qr, limits, lang
    )
    return replace(made, page="", wifi_qr=None)


def slip_to_come(
    config: Config, settings: SlipSettings, said: Said, plan: Plan, grant: Grant, terms: Terms, lang: str
) -> Slip:
    """As it will print once it is issued; dots stand for the code."""
    limits = slip_limits(plan, terms, config.zone, lang)
    slip = _slip(config, settings, said, plan, grant, OPEN_CODE, slip_address(config, "0" * 10), limits, lang)
    return replace(slip, page="", wifi_qr=None) if grant.way is WayIn.PASSPHRASE else slip


def _slip(
    config: Config,
    settings: SlipSettings,
    said: Said,
    plan: Plan,
    grant: Grant,
    code: str,
    code_qr: str | None,
    limits: str,
    lang: str,
) -> Slip:
    return Slip(
        lang=lang,
        site=visible(config.site_name),
        plan=visible(plan.name),
        label=slip_label(visible(said.label), lang),
        code=code,
        steps=tuple(visible(step) for step in slip_steps(config, grant.way, lang, grant.network)),
        limits=limits,
        words=visible(said.words),
        own_words=visible(settings.words.get(lang, "")),
        page=page_words(config),
        code_qr=code_qr,
        wifi_qr=wifi_join(config, grant.way, grant.network) if settings.has_wifi_qr else None,
    )
