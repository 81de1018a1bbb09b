"""The interpreter's garbage collector is kept off the loop (rulings 1.3)."""

import gc


def keep_away() -> None:
    """After the start: what is there stays, so that it need not be looked at again.

    What packets leave behind is freed at once by its count; a full collection would hold the loop for tens of
    milliseconds, so it waits for a quiet moment (rounds.py).
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(20_000, 50, 1_000_000)
