"""The mail server of the measurement, a process of its own: prints its port, and its authority to a file."""

import asyncio
import sys
from pathlib import Path

from lauschen.standins.authority import make_tls
from lauschen.standins.mailbox import Mailbox


async def main(authority: Path) -> None:
    box = Mailbox(make_tls(("127.0.0.1",)))
    await box.open()
    await asyncio.to_thread(authority.write_text, box.tls.authority)
    print(box.port, flush=True)
    while True:
        await asyncio.sleep(60)
        box.mails.clear()


if __name__ == "__main__":
    asyncio.run(main(Path(sys.argv[1])))
