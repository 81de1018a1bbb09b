"""The key file: a stolen database opens no door, and a lost key is said."""

import shutil
import stat
from pathlib import Path

import pytest

from lauschen.serve.first_run import open_data
from lauschen.store.keys import KEY_NAME, KeyFault, make_key_file
from tests.place import Place


def test_only_its_owner_may_read_it(data: Path) -> None:
    assert stat.S_IMODE((data / KEY_NAME).stat().st_mode) == 0o600


def test_what_is_sealed_opens_only_in_its_own_place(place: Place) -> None:
    sealed = place.keys.seal(b"secret", table="t", column="c", row=1)
    assert place.keys.unseal(sealed, table="t", column="c", row=1) == b"secret"
    for elsewhere in (("u", "c", 1), ("t", "d", 1), ("t", "c", 2)):
        with pytest.raises(KeyFault):
            place.keys.unseal(sealed, table=elsewhere[0], column=elsewhere[1], row=elsewhere[2])
    assert sealed != place.keys.seal(b"secret", table="t", column="c", row=1)


def test_a_missing_key_is_refused_and_said(data: Path) -> None:
    (data / KEY_NAME).unlink()
    with pytest.raises(KeyFault, match="missing"):
        open_data(data)


def test_a_foreign_key_is_refused_and_said(data: Path) -> None:
    (data / KEY_NAME).unlink()
    make_key_file(data / KEY_NAME)
    with pytest.raises(KeyFault, match="belongs to another database"):
        open_data(data)


def test_a_key_with_the_right_name_but_other_octets_is_refused(data: Path, tmp_path: Path) -> None:
    lines = (data / KEY_NAME).read_text().split("\n")
    make_key_file(tmp_path / "other")
    lines[2] = (tmp_path / "other").read_text().split("\n")[2]
    (data / KEY_NAME).write_text("\n".join(lines))
    with pytest.raises(KeyFault, match="does not open"):
        open_data(data)


@pytest.mark.parametrize(
    "text", ["", "lauschen key 1\nabc\n", "something else\nabc\nAAAA\n", "lauschen key 1\nabc\n***\n"]
)
def test_a_damaged_key_file_is_refused(data: Path, text: str) -> None:
    (data / KEY_NAME).write_text(text)
    with pytest.raises(KeyFault):
        open_data(data)


def test_a_key_is_never_overwritten(data: Path) -> None:
    with pytest.raises(FileExistsError):
        make_key_file(data / KEY_NAME)


def test_no_code_and_no_secret_can_be_read_in_the_files(place: Place, data: Path, tmp_path: Path) -> None:
    codes = place.issue(3)
    place.conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    copy = Path(shutil.copytree(data, tmp_path / "stolen"))
    octets = b"".join(f.read_bytes() for f in copy.iterdir() if f.name != KEY_NAME)
    for secret in (
        *codes,
        *(f"{c[:5]}-{c[5:]}" for c in codes),
        "hollerau-stand-in-secret",
        "plum-and-pine-7700",
    ):
        assert secret.encode() not in octets
