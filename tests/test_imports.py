"""Who may import whom (architecture), held by a test so that nobody has to remember it."""

import ast
import re
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parent.parent / "lauschen"
FILES = sorted(ROOT.rglob("*.py"))


def imports(file: Path) -> set[str]:
    found: set[str] = set()
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom):
            assert node.level == 0, f"{file}: relative import"
            found |= {f"{node.module}.{alias.name}" for alias in node.names}
    return found


def package(file: Path) -> str:
    parts = file.relative_to(ROOT).parts
    return parts[0] if len(parts) > 1 else ""


def of(name: str) -> list[Path]:
    return [file for file in FILES if package(file) == name]


@pytest.mark.parametrize("file", of("core"), ids=lambda f: f.name)
def test_core_imports_the_standard_library_and_itself_and_does_no_io(file: Path) -> None:
    """And libraries that know what mail addresses and phone numbers look like, and AES-CMAC; they ask nobody."""
    known = {"phonenumbers", "email_validator", "cryptography"}
    forbidden = {"asyncio", "socket", "sqlite3", "os", "time", "random", "secrets", "threading", "subprocess"}
    for name in imports(file):
        top = name.split(".")[0]
        assert top in sys.stdlib_module_names | known or name.startswith("lauschen.core"), name
        assert top not in forbidden, name


def test_the_codec_imports_nothing_of_ours() -> None:
    assert not [n for n in imports(ROOT / "radius/wire/codec.py") if n.startswith("lauschen")]


MAY_IMPORT = {
    "core": "",
    "sentences": "core",
    "store": "core",
    "outgoing": "core",
    "hostapd": "core",
    "slips": "core sentences store",
    "road": "core store",
    "beside": "core road",
    "acts": "core sentences store outgoing road beside",
    "notify": "core sentences store outgoing road beside acts",
    "proofs": "core store road beside",
    "radius": "core sentences store road acts proofs",
    "http": "core road",
    "portal": "core sentences store road acts notify proofs http",
    "api": "core sentences store outgoing slips road beside acts notify proofs radius http",
    "standins": "core road radius",
    "serve": "core store outgoing hostapd road beside acts notify proofs radius http portal api",
    "demo": "core store outgoing road beside acts proofs http standins serve",
    "cli": "core store outgoing road beside acts proofs radius http standins serve demo",
}
"""The diagram of CONTRIBUTING.md, folder by folder."""


@pytest.mark.parametrize("folder", MAY_IMPORT)
def test_a_folder_imports_what_is_below_it(folder: str) -> None:
    assert of(folder)
    may = {folder, *MAY_IMPORT[folder].split()}
    for file in of(folder):
        ours = {n.split(".")[1] for n in imports(file) if n.startswith("lauschen.") and n.count(".") > 1}
        assert ours <= may, f"{file}: {ours - may}"


def test_every_folder_has_its_line_and_none_imports_itself_by_way_of_others() -> None:
    assert {package(file) for file in FILES} - {""} == set(MAY_IMPORT)
    below: set[str] = set()
    for folder, may in MAY_IMPORT.items():
        assert set(may.split()) <= below, folder
        below.add(folder)


def modules() -> dict[str, set[str]]:
    """Each module of ours, and the modules of ours that it imports."""
    names = {".".join(f.relative_to(ROOT.parent).with_suffix("").parts): f for f in FILES}
    found = {}
    for name, file in names.items():
        wanted = {n if n in names else n.rpartition(".")[0] for n in imports(file)}
        found[name] = {n for n in wanted if n in names and n != name}
    return found


def test_no_module_imports_itself_by_way_of_others() -> None:
    left = modules()
    assert len(left) > 150
    while free := {name for name, wanted in left.items() if not wanted & left.keys()}:
        left = {name: wanted for name, wanted in left.items() if name not in free}
    assert left == {}


def test_no_folder_holds_more_than_fifteen_files() -> None:
    for folder in {file.parent for file in FILES}:
        held = [file for file in folder.iterdir() if file.is_file() and file.name != "__init__.py"]
        assert len(held) <= 15, folder


def test_sql_stays_in_the_store() -> None:
    for file in FILES:
        if package(file) != "store":
            text = file.read_text()
            for word in ("SELECT ", "INSERT INTO", "UPDATE standing", "DELETE FROM"):
                assert word not in text, f"{file}: {word}"


def test_columns_of_a_row_have_names() -> None:
    """A row is unpacked into names, or taken whole; the first column of a row may stand for it."""
    counted = re.compile(r"\brow\[(?!0\])")
    for file in of("store"):
        found = [line for line in file.read_text().splitlines() if counted.search(line)]
        assert found == [], f"{file}: {found}"


def test_folders_of_tests_are_those_of_the_program() -> None:
    """Besides those that test the whole: by a browser, in a large house, and with a real access point."""
    here = Path(__file__).parent
    whole = {"e2e", "large", "real", "store/version_4"}
    for folder in {file.parent.relative_to(here) for file in here.rglob("*.py")} - {Path()}:
        assert str(folder) in whole or (ROOT / folder).is_dir(), folder


def test_files_stay_small() -> None:
    for file in (*FILES, *Path(__file__).parent.rglob("*.py")):
        assert len(file.read_text().splitlines()) <= 400, file
