"""A guest's new password, on its way from the page: the old one is proved, and the new one hashed, off the loop."""

from dataclasses import dataclass

from lauschen.acts.page.passwords import change_password
from lauschen.acts.page.trying import Tried
from lauschen.core.actor import GUEST
from lauschen.core.errors import Invalid, NotThere
from lauschen.core.ways.account import LONGEST_PASSWORD, Login, check_password
from lauschen.portal.facts import Facts
from lauschen.proofs.accounts import Accounts
from lauschen.road.road import Road


@dataclass(frozen=True, slots=True)
class PasswordChanges:
    """For the account by which a visit let its device in."""

    road: Road
    accounts: Accounts

    async def change(self, facts: Facts, old: str, new: str, source: str) -> Tried:
        """ADMITTED when the new one holds; Invalid for one that is too easy, before anything else is looked at."""
        if facts.account is None:
            raise NotThere("account")
        check_password(new, facts.account)
        if new == old:
            raise Invalid("password_same", field="new", mend="Take another one.")
        login = Login(facts.account, old[: LONGEST_PASSWORD + 1])
        await self.accounts(login)
        made = await self.accounts.renewed(login, new)
        return await self.road.act(
            lambda tx: change_password(tx, facts.visit_id, source, login, made), by=GUEST
        )
