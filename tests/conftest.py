"""Fixtures that several folders share."""

import shutil
from collections.abc import AsyncIterator, Iterator
from math import inf
from pathlib import Path

import httpx
import pytest
from argon2.profiles import CHEAPEST
from hypothesis import settings

from lauschen.demo.site import make_site
from lauschen.proofs import passwords
from lauschen.radius.listen.intake import AccessJob, ReportJob
from lauschen.road import commits, slices
from lauschen.road.road import Road
from tests import statements, twice
from tests.garden import Garden, open_garden
from tests.place import Place


def pytest_report_header() -> str:
    return f"groups run twice: {twice.VARIABLE}={twice.mode()}"


def pytest_configure() -> None:
    """Argon2id is as cheap as it can be: tests/proofs/test_passwords.py asks for what it costs in a house."""
    passwords.COST = CHEAPEST
    # How long an example takes says more about the machine than about the code.
    settings.register_profile("untimed", deadline=None)
    settings.load_profile("untimed")
    twice.draw_seed()
    statements.begin()


@pytest.fixture(autouse=True)
def groups_run_twice(monkeypatch: pytest.MonkeyPatch, request: pytest.FixtureRequest) -> None:
    """Some of them, or all: see tests/twice.py."""
    twice.COIN.begin(request.node.nodeid)
    monkeypatch.setattr(Road, "rehearses", twice.COIN)
    for job, what in ((AccessJob, "arrival"), (ReportJob, "report")):
        monkeypatch.setattr(job, "run", twice.watching(job.run, what))


@pytest.fixture(autouse=True)
def slices_have_time(monkeypatch: pytest.MonkeyPatch) -> None:
    """However slow the machine is, one slice does all; tests of what comes between slices cut them short."""
    monkeypatch.setattr(slices, "SLICE_S", 60.0)


@pytest.fixture
def groups_run_once(groups_run_twice: None, monkeypatch: pytest.MonkeyPatch) -> None:
    """For tests that count how often something ran, or what was drawn."""
    monkeypatch.setenv(twice.VARIABLE, "never")


@pytest.fixture(autouse=True)
def commits_on_the_loop(monkeypatch: pytest.MonkeyPatch) -> None:
    """However slow the disk is: a test closes its connection, which a COMMIT in a thread must not be using then."""
    monkeypatch.setattr(commits, "SLOW_S", inf)


@pytest.fixture(scope="session")
def made_site(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A set-up data folder, made once and copied for each test."""
    data = tmp_path_factory.mktemp("site")
    make_site(data, {"Garden west": 3799, "Concert barn": 3799})
    return data


@pytest.fixture
def data(made_site: Path, tmp_path: Path) -> Path:
    return Path(shutil.copytree(made_site, tmp_path / "data"))


@pytest.fixture
def place(data: Path) -> Iterator[Place]:
    made = Place(data)
    yield made
    made.close()


@pytest.fixture
async def garden(tmp_path: Path) -> AsyncIterator[Garden]:
    async with open_garden(tmp_path) as made:
        yield made


@pytest.fixture
async def staff(garden: Garden) -> AsyncIterator[httpx.AsyncClient]:
    http = await garden.staff()
    yield http
    await http.aclose()
