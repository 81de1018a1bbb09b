"""A file that is the one before or the one after, never half of one."""

import os
from pathlib import Path

MODE = 0o600


def write_whole(path: Path, text: str) -> None:
    """Through a file beside it. OSError leaves the one before as it was, and nothing beside it."""
    beside = path.with_name(f".{path.name}.new")
    try:
        descriptor = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, MODE)
        with os.fdopen(descriptor, "w", encoding="utf-8") as file:
            file.write(text)
            file.flush()
            os.fsync(file.fileno())
        os.replace(beside, path)
    except OSError:
        beside.unlink(missing_ok=True)
        raise
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
