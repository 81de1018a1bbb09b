"""Who may import whom (architecture), held by a test so that nobody has to remember it."""

import ast
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
    forbidden = {"asyncio", "socket", "sqlite3", "os", "time", "random", "secrets", "threading", "subprocess"}
    for name in imports(file):
        top = name.split(".")[0]
        assert top in sys.stdlib_module_names or name.startswith("lauschen.core"), name
        assert top not in forbidden, name


def test_the_codec_imports_nothing_of_ours() -> None:
    assert not [n for n in imports(ROOT / "radius/wire/codec.py") if n.startswith("lauschen")]


@pytest.mark.parametrize("file", of("store"), ids=lambda f: f.name)
def test_store_imports_core_alone(file: Path) -> None:
    ours = {n for n in imports(file) if n.startswith("lauschen")}
    assert all(n.startswith(("lauschen.core", "lauschen.store")) for n in ours), ours


STRANGERS = [
    ("api", "portal"), ("portal", "api"), ("road", "acts"), ("road", "radius"), ("road", "api"), ("road", "serve"),
    ("acts", "radius"), ("acts", "api"), ("acts", "portal"), ("acts", "serve"), ("radius", "api"),
    ("radius", "portal"), ("http", "api"), ("http", "portal"), ("http", "serve"), ("outgoing", "road"),
]  # fmt: skip


@pytest.mark.parametrize(("one", "other"), STRANGERS)
def test_strangers(one: str, other: str) -> None:
    assert of(one)
    for file in of(one):
        assert not [n for n in imports(file) if n.startswith(f"lauschen.{other}.")], file


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


def test_files_stay_small() -> None:
    for file in (*FILES, *Path(__file__).parent.rglob("*.py")):
        assert len(file.read_text().splitlines()) <= 400, file
