"""Tables as files that spreadsheets open: CSV, and XLSX with numbers as numbers."""

import csv
import io
import re
from collections.abc import Sequence

from openpyxl import Workbook
from openpyxl.cell import Cell, WriteOnlyCell
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet._write_only import WriteOnlyWorksheet

Value = str | float | None
Rows = Sequence[Sequence[Value]]
FORMULAS = ("=", "+", "-", "@", "\t", "\r")
"""A text that begins so a spreadsheet would take for a formula."""
MOST_LETTERS = 31
WIDEST = 60
_UNPRINTABLE = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")


def written_csv(head: Sequence[str], rows: Rows) -> str:
    """Return a table as CSV (RFC 4180), with a mark in front of what would be taken for a formula."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([harmless(each) for each in head])
    writer.writerows([harmless(cell) if isinstance(cell, str) else cell for cell in row] for row in rows)
    return out.getvalue()


def harmless(text: str) -> str:
    """Return a text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(FORMULAS) else text


def written_xlsx(tables: Sequence[tuple[str, Sequence[str], Rows]]) -> bytes:
    """Return tables as a workbook, a sheet each under its title.

    Numbers are numbers, texts are texts whatever they begin with, what is not known is empty, and the head stays.
    """
    book = Workbook(write_only=True)
    for title, head, rows in tables:
        sheet = book.create_sheet(_sheet_name(title))
        sheet.freeze_panes = "A2"
        for number, letters in enumerate(_widths(head, rows), start=1):
            sheet.column_dimensions[get_column_letter(number)].width = letters
        sheet.append([_as_text(sheet, each, bold=True) for each in head])
        for row in rows:
            sheet.append([_as_text(sheet, cell) if isinstance(cell, str) else cell for cell in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _as_text(sheet: WriteOnlyWorksheet, text: str, bold: bool = False) -> Cell:
    cell = WriteOnlyCell(sheet, value=_UNPRINTABLE.sub("", text))
    cell.data_type = "s"
    if bold:
        cell.font = Font(bold=True)
    return cell


def _widths(head: Sequence[str], rows: Rows) -> list[int]:
    """Return how many letters wide the columns are: as wide as the longest text in them, within reason."""
    longest = [len(each) for each in head]
    for row in rows:
        for number, cell in enumerate(row[: len(head)]):
            if isinstance(cell, str):
                longest[number] = max(longest[number], len(cell))
    return [min(WIDEST, letters + 2) for letters in longest]


def _sheet_name(title: str) -> str:
    """Return a title as a sheet can have it."""
    return re.sub(r"[\[\]:*?/\\]", " ", title)[:MOST_LETTERS].strip("' ") or "Table"
