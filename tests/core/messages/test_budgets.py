"""How many messages there may be: what counts as one address, and what is left for the desk."""

import pytest

from lauschen.core.messages.budgets import ADDRESS_DAY, DOMAIN_DAY, Spent, budget_over, texts_for_guests
from lauschen.core.words.addresses import domain_of, mailbox_of


@pytest.mark.parametrize(
    "to",
    [
        "ines.harwood@a.example",
        "InesHarwood@A.example",
        "i.n.e.s.harwood+7@a.example",
        "inesharwood+a+b@a.example",
    ],
)
def test_a_tag_dots_and_case_make_no_other_address(to: str) -> None:
    assert (mailbox_of(to), domain_of(to)) == ("inesharwood@a.example", "a.example")


def test_a_phone_number_is_what_it_is() -> None:
    assert (mailbox_of("+43664123456"), domain_of("+43664123456")) == ("+43664123456", "")


@pytest.mark.parametrize(
    ("spent", "to_host", "over"),
    [
        (Spent(), False, None),
        (Spent(address=ADDRESS_DAY), False, "address"),
        (Spent(domain=DOMAIN_DAY - 1), False, None),
        (Spent(domain=DOMAIN_DAY), False, "domain"),
        (Spent(domain=DOMAIN_DAY), True, None),
    ],
)
def test_a_domain_has_a_budget_where_guests_choose_it(spent: Spent, to_host: bool, over: str | None) -> None:
    assert budget_over(spent, to_host=to_host) == over


@pytest.mark.parametrize(("texts_day", "guests"), [(200, 160), (5, 4), (4, 4), (0, 0)])
def test_some_text_messages_are_kept_for_the_desk(texts_day: int, guests: int) -> None:
    assert texts_for_guests(texts_day) == guests
    assert budget_over(Spent(texts=guests), guests) == "texts"
