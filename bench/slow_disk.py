"""A server whose every COMMIT takes as long as a slow disk's fsync: `python -m bench.slow_disk FOLDER SECONDS`."""

import sqlite3
import sys
import time
from pathlib import Path
from typing import Any

import uvloop

from lauschen.road.clock import Clock
from lauschen.serve import first_run
from lauschen.serve.service import Options, Service, until_signalled
from lauschen.store.db import open_writer


class SlowConnection(sqlite3.Connection):
    """The delay is inside of COMMIT, and lets go of the interpreter as an fsync does."""

    delay_s = 0.0

    def execute(self, sql: str, *parameters: Any) -> sqlite3.Cursor:
        if sql == "COMMIT":
            time.sleep(self.delay_s)
        return super().execute(sql, *parameters)


async def serve(data: Path) -> None:
    options = Options(data, ("127.0.0.1", 0), ("127.0.0.1", 0), "127.0.0.1", 0, 0, warms_up=True)
    service = Service(options, Clock())
    await service.start()
    print(service.ports["portal"], service.ports["auth"], flush=True)
    await until_signalled()
    await service.close()


def main() -> None:
    SlowConnection.delay_s = float(sys.argv[2])
    first_run.open_writer = lambda path: open_writer(path, SlowConnection)  # type: ignore[assignment]
    uvloop.run(serve(Path(sys.argv[1])))


if __name__ == "__main__":
    main()
