"""What is installed is what was looked at: each library has one version, and the hashes of its files."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent
LINE = re.compile(r"[A-Za-z0-9_.-]+==[0-9A-Za-z.]+( \\\n    --hash=sha256:[0-9a-f]{64})+")


@pytest.mark.parametrize("name", ["requirements.lock", "requirements-test.lock"])
def test_each_library_has_one_version_and_hashes(name: str) -> None:
    text = (ROOT / name).read_text()
    found = [match[0] for match in LINE.finditer(text)]
    assert "\n".join(found) + "\n" == text
    names = [line.partition("==")[0].lower() for line in found]
    assert len(set(names)) == len(names)


def test_make_installs_nothing_whose_hash_is_not_listed() -> None:
    installs = [line for line in (ROOT / "Makefile").read_text().splitlines() if "-r requirements" in line]
    assert len(installs) == 2
    assert all("--require-hashes" in line for line in installs)
