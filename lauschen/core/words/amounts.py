"""Durations and amounts of data as people say them, rounded down (rulings 5.2)."""

FAR_S = 300 * 86_400
"""Days so far away are said with their year."""


def duration_words(seconds: int) -> str:
    """`2 d 3 h`, `7 h 59 min`, `4 min`, `50 s`."""
    minutes, rest = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    days, hours = divmod(hours, 24)
    if days:
        return f"{days} d {hours} h" if hours else f"{days} d"
    if hours:
        return f"{hours} h {minutes} min" if minutes else f"{hours} h"
    return f"{minutes} min" if minutes else f"{rest} s"


def data_words(octets: int, decimal_sign: str = ".") -> str:
    """1 GB = 10^9 octets; three significant digits (rulings 8.5), without zeros at their end."""
    for unit, size in (("GB", 10**9), ("MB", 10**6), ("kB", 10**3)):
        if octets >= size:
            whole = octets // size
            places = max(0, 3 - len(str(whole)))
            part = f"{octets % size * 10**places // size:0{places}}".rstrip("0") if places else ""
            return f"{whole}{decimal_sign}{part} {unit}" if part else f"{whole} {unit}"
    return f"{octets} B"
