"""Fixtures that several folders share."""

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from lauschen.demo.site import make_site
from tests.place import Place


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
