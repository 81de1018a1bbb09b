"""A house after a busy year, made once for this folder: what holds the loop there does not in a small one."""

import time
from pathlib import Path

import pytest

from lauschen.demo import site
from lauschen.demo.large import SUMMER, fill


@pytest.fixture(autouse=True)
def slices_have_time() -> None:
    """Only as much as in a running house."""


@pytest.fixture(scope="session")
def year(tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, float]:
    """Its data folder, and the moment at which its past ends."""
    data, now = tmp_path_factory.mktemp("year"), time.time()
    site.make_site(data, {})
    fill(data, now, SUMMER)
    return data, now
