"""Lists as lines that spreadsheets read and write."""

import csv

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def defused(text: str) -> str:
    """No spreadsheet takes it for a formula (rulings 6.7)."""
    return f"'{text}" if text.startswith(_FORMULA) else text


def undefused(text: str) -> str:
    """The way back."""
    return text[1:] if text[:1] == "'" and text[1:2] in _FORMULA else text


def cells_of(line: str) -> list[str]:
    """With tabs, semicolons or commas between them, whichever stands in the line first of these."""
    delimiter = next((sign for sign in "\t;," if sign in line), ",")
    return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter), [])]
