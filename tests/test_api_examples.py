"""Every curl line of docs/api.md, run as it stands there against a running house."""

import asyncio
import json
import os
import re
from pathlib import Path

import pytest

from tests.api.door.test_sign_in import House, house

__all__ = ["house"]
TEXT = (Path(__file__).parents[1] / "docs" / "api.md").read_text()
EXAMPLES = re.findall(r"^    (curl (?:.*\\\n)*.*)", TEXT, re.MULTILINE)


async def run(command: str, house: str, token: str, folder: Path) -> tuple[int, str]:
    """The status, and what was answered."""
    process = await asyncio.create_subprocess_shell(
        command + " -w '\\n%{http_code}'",
        env={**os.environ, "HOUSE": house, "TOKEN": token},
        cwd=folder,
        stdout=asyncio.subprocess.PIPE,
        stderr=asyncio.subprocess.PIPE,
    )
    said, errors = await process.communicate()
    assert process.returncode == 0, errors
    body, _, status = said.decode().rpartition("\n")
    return int(status), body


@pytest.fixture
async def token(house: House) -> str:
    chief = await house.signed_in()
    made = await chief.post("/api/programs", json={"name": "Bookings", "duty": "desk"})
    return str(made.json()["token"])


async def test_each_does_what_is_said_of_it(house: House, token: str, tmp_path: Path) -> None:
    base = f"http://127.0.0.1:{house.service.ports['staff']}"
    answers = [await run(example, base, token, tmp_path) for example in EXAMPLES]
    assert [status for status, _ in answers] == [200, 201, 201, 200, 200, 422]
    desk, made, many, _, acted, refused = answers
    assert {"plans", "networks", "bounds", "cannot", "batches"} <= json.loads(desk[1]).keys()
    assert json.loads(made[1])["words"] == "Breakfast from seven."
    assert json.loads(many[1])["size"] == 40
    assert (tmp_path / "slips.pdf").read_bytes().startswith(b"%PDF")
    assert [one["id"] for one in json.loads(acted[1])["done"]] == [1]
    problem = json.loads(refused[1])
    assert (problem["code"], problem["field"]) == ("name_missing", "label")


async def test_the_same_lines_once_more_issue_nothing_more(house: House, token: str, tmp_path: Path) -> None:
    base = f"http://127.0.0.1:{house.service.ports['staff']}"
    first, again = [
        [json.loads((await run(example, base, token, tmp_path))[1])["id"] for example in EXAMPLES[1:3]]
        for _ in range(2)
    ]
    assert first == again
