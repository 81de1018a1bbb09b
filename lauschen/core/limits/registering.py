"""How often guests may write themselves in: bounded for one device, slowed down for everybody else.

A device has its few a day. Many may share a source address, and all share a network: those only make the answers
slow, so that nobody is locked out by somebody else.
"""

DAY_S = 86_400.0
DEVICE_DAY = 5
WINDOW_S = 600.0
SOURCE_WINDOW = 20
NETWORK_WINDOW = 200
SLOWEST_S = 3.0
SLOWER_S = 0.1
"""For each over the budget of the window."""


def is_used_up(of_device: int) -> bool:
    """Whether a device has had its registrations of the last 24 hours."""
    return of_device >= DEVICE_DAY


def slow_down(from_source: int, on_network: int) -> float:
    """Seconds to wait before the answer, given the registrations of the window."""
    over = max(from_source - SOURCE_WINDOW, on_network - NETWORK_WINDOW)
    return 0.0 if over <= 0 else min(SLOWEST_S, SLOWER_S * over)
