"""The bed is built once into a cache folder; one boot serves all tests of a file."""

import os
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.real.town import Town, open_town

CACHE = Path(os.environ.get("XDG_CACHE_HOME", Path.home() / ".cache")) / "lauschen" / "real-bed"


@pytest.fixture(scope="session")
def built() -> Path:
    subprocess.run([str(Path(__file__).parent / "build"), str(CACHE)], check=True)
    return CACHE


@pytest.fixture(scope="module")
def town(built: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Town]:
    with open_town(tmp_path_factory.mktemp("town"), built) as made:
        yield made
        made.reader.close()
