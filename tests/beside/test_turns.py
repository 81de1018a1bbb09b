"""Who is served next: first ones before others, and one of each group in turn."""

import asyncio
from collections.abc import Hashable

import pytest

from lauschen.beside.turns import Turns
from lauschen.core.errors import Unavailable


class Served:
    """One at a time, in the order in which they had their turn."""

    def __init__(self, most_waiting: int = 3, at_once: int = 1) -> None:
        self.turns, self.order = Turns(at_once, most_waiting), list[Hashable]()
        self.goes_on = asyncio.Event()

    async def ask(self, group: Hashable, *, is_first: bool = False) -> None:
        async with self.turns.turn(group, is_first=is_first):
            self.order.append(group)
            await self.goes_on.wait()

    async def begin(self, *groups: Hashable, is_first: bool = False) -> list["asyncio.Task[None]"]:
        tasks = [asyncio.create_task(self.ask(group, is_first=is_first)) for group in groups]
        await asyncio.sleep(0)
        return tasks


async def test_however_many_of_one_group_wait_another_is_next_but_one() -> None:
    served = Served()
    tasks = await served.begin("a", "a", "a", "a", "b", "c", "b")
    served.goes_on.set()
    await asyncio.gather(*tasks)
    assert served.order == ["a", "a", "b", "c", "a", "b", "a"]


async def test_first_ones_go_before_all_others_and_in_turn_among_themselves() -> None:
    served = Served()
    tasks = await served.begin("a", "a", "b")
    tasks += await served.begin("c", "c", "d", is_first=True)
    served.goes_on.set()
    await asyncio.gather(*tasks)
    assert served.order == ["a", "c", "d", "c", "a", "b"]


async def test_more_than_so_many_of_one_group_do_not_wait() -> None:
    served = Served(most_waiting=1)
    tasks = await served.begin("a", "a")
    with pytest.raises(Unavailable):
        await served.ask("a")
    tasks += await served.begin("b")
    served.goes_on.set()
    await asyncio.gather(*tasks)
    await served.ask("a")
    assert served.order == ["a", "a", "b", "a"]


async def test_who_goes_away_takes_nobodys_turn_and_leaves_none_behind() -> None:
    served = Served()
    tasks = await served.begin("a", "b", "c")
    tasks[1].cancel()
    await asyncio.sleep(0)
    served.goes_on.set()
    await asyncio.gather(*tasks, return_exceptions=True)
    assert served.order == ["a", "c"]
    served.goes_on.clear()
    tasks = await served.begin("a", "b", "c")
    tasks[0].cancel()  # b's turn comes, and it goes away in the same moment
    await asyncio.sleep(0)
    tasks[1].cancel()
    served.goes_on.set()
    await asyncio.gather(*tasks, return_exceptions=True)
    assert served.order[-1] == "c"
    await served.ask("d")


async def test_who_goes_away_in_the_moment_in_which_its_turn_would_come_holds_up_nobody() -> None:
    served = Served()
    tasks = await served.begin("a", "b", "b", "c")
    tasks[0].cancel()
    tasks[1].cancel()  # before the first one runs again, and gives its turn to this one
    served.goes_on.set()
    found = await asyncio.gather(*tasks, return_exceptions=True)
    assert [type(one) for one in found[:2]] == [asyncio.CancelledError] * 2
    assert served.order == ["a", "c", "b"]
    await served.ask("d")


async def test_so_many_at_once() -> None:
    served = Served(at_once=2)
    tasks = await served.begin("a", "a", "a")
    assert served.order == ["a", "a"]
    served.goes_on.set()
    await asyncio.gather(*tasks)
