"""Which form of the page does what."""

from collections.abc import Mapping
from dataclasses import dataclass

from lauschen.core.errors import NotThere
from lauschen.portal.facts import Facts, Typed
from lauschen.portal.writing.asking import Askings
from lauschen.portal.writing.registering import Registrations
from lauschen.road.road import Road


@dataclass(frozen=True, slots=True)
class WrittenForms:
    """By the name that their address has."""

    road: Road

    async def take(
        self, name: str, facts: Facts, form: Mapping[str, str], lang: str, source: str
    ) -> Typed | None:
        """None when all is well; else what was typed, and what is wrong. NotThere for a form that there is not."""
        registrations, askings = Registrations(self.road), Askings(self.road)
        match name:
            case "register" | "register-again":
                return await registrations.take(facts, form, lang, source, is_again=name != "register")
            case "confirm":
                return await registrations.confirm(facts, form.get("code", ""), lang, source)
            case "ask-host":
                return await askings.ask(facts, form, lang, source)
            case "ask-nobody":
                await askings.take_back(facts, source)
                return None
        raise NotThere("form")
