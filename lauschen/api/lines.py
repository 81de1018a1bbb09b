"""Lists as lines that spreadsheets read and write."""

import csv
import io
import re
from collections.abc import Iterable, Sequence

from fastapi import Response

_BEGINS = r"=+\-@＝＋－＠\t\r"
_FORMULA = re.compile(rf"(^|[;\t\r\n])(?=[{_BEGINS}])")
_DEFUSED = re.compile(rf"(^|[;\t\r\n])'(?=[{_BEGINS}])")


def defused(text: str) -> str:
    """No spreadsheet takes it for a formula (rulings 6.7), also one that separates cells by semicolons or tabs."""
    return _FORMULA.sub(r"\1'", text)


def undefused(text: str) -> str:
    """The way back."""
    return _DEFUSED.sub(r"\1", text)


def cells_of(line: str) -> list[str]:
    """With tabs, semicolons or commas between them, whichever stands in the line first of these."""
    delimiter = next((sign for sign in "\t;," if sign in line), ",")
    return [cell.strip() for cell in next(csv.reader([line], delimiter=delimiter), [])]


def csv_answer(name: str, headings: Sequence[str], rows: Iterable[Sequence[object]]) -> Response:
    """A file of this name; texts in it are defused."""
    out = io.StringIO()
    writer = csv.writer(out, quoting=csv.QUOTE_ALL)
    writer.writerow(headings)
    for row in rows:
        writer.writerow([defused(cell) if isinstance(cell, str) else cell for cell in row])
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(out.getvalue(), media_type="text/csv; charset=utf-8", headers=headers)
