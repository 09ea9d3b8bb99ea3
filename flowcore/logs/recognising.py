"""A first look at a file: how it is read most likely, and its first rows as they would be read."""

import re
from collections.abc import Sequence
from itertools import islice
from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from flowcore.logs.moments import OF_NUMBERS, forms_of
from flowcore.logs.roles import HEADINGS, MOST_COLUMNS, TIMES, Column, Happening, Reading, Role, Word, meaning_of
from flowcore.logs.rows import (
    Row,
    encoding_of,
    kind_of,
    names_of_xes,
    rows_of_text,
    rows_of_workbook,
    rows_of_xes,
    separator_of,
    sheets_of,
    too_many_columns,
    trouble_with,
)

LOOKED_AT = 2_000
SHOWN = 12
MOST_WORDS = 40
OF_XES = {
    "case:concept:name": Role.CASE,
    "concept:name": Role.STEP,
    "time:timestamp": Role.AT,
    "lifecycle:transition": Role.HAPPENED,
    "org:resource": Role.WHO,
    "case:type": Role.TYPE,
    "case:replication": Role.REPLICATION,
}


class Preview(BaseModel):
    """A file at first sight: how it is read, its first rows, its sheets, and what to be careful of."""

    reading: Reading
    rows: list[list[str]]
    sheets: list[str]
    doubts: list[str]


def rows_by(path: Path, reading: Reading, names: Sequence[str] = ()) -> "islice[Row]":
    """Return the rows of a file by how it is read, without its heading."""
    if reading.kind == "xes":
        return islice(rows_of_xes(path, names or [column.name for column in reading.columns]), 0, None)
    found = (
        rows_of_workbook(path, reading.sheet)
        if reading.kind == "xlsx"
        else rows_of_text(path, reading.encoding, reading.separator)
    )
    return islice(found, 1 if reading.has_header else 0, None)


def recognised(path: Path, wanted: Reading | None = None) -> Preview:
    """Return how a file is read most likely; raises StudyError where it cannot be read at all.

    Where the analyst has chosen the encoding, the separator or the sheet, these stay.
    """
    kind = kind_of(path)
    if kind == "xes":
        return _of_xes(path)
    sheets = sheets_of(path) if kind == "xlsx" else []
    bare = _bare(path, kind, sheets, wanted)
    rows = [list(row.cells) for row in islice(rows_by(path, bare), LOOKED_AT)]
    if not rows:
        raise trouble_with("There are no rows.", "Choose a file, or a sheet, that has rows.")
    width = max(len(row) for row in rows)
    if width > MOST_COLUMNS:
        raise too_many_columns(width)
    has_header = wanted.has_header if wanted else _is_heading(rows)
    heading = rows[0] if has_header else []
    names = [heading[n].strip() if n < len(heading) and heading[n].strip() else f"Column {n + 1}" for n in range(width)]
    body = [row + [""] * (width - len(row)) for row in (rows[1:] if has_header else rows)]
    return _preview(bare.model_copy(update={"has_header": has_header}), _different(names), body, sheets)


def _bare(path: Path, kind: Literal["csv", "xlsx"], sheets: list[str], wanted: Reading | None) -> Reading:
    """Return how a file is read before its columns are known, heading and all."""
    if kind == "xlsx":
        return Reading(kind=kind, sheet=wanted.sheet if wanted else sheets[0], has_header=False, columns=[])
    encoding = wanted.encoding if wanted else encoding_of(path)
    separator = wanted.separator if wanted else separator_of(path, encoding)
    return Reading(kind=kind, encoding=encoding, separator=separator, has_header=False, columns=[])


def _of_xes(path: Path) -> Preview:
    names = names_of_xes(path, LOOKED_AT)
    if not names:
        raise trouble_with("There are no events.", "Choose a file that has events.")
    bare = Reading(kind="xes", columns=[])
    rows = [list(row.cells) for row in islice(rows_by(path, bare, names), LOOKED_AT)]
    return _preview(bare, names, rows, [])


def _preview(bare: Reading, names: list[str], rows: list[list[str]], sheets: list[str]) -> Preview:
    columns = [[row[place].strip() for row in rows] for place in range(len(names))]
    decimal = _decimal(columns)
    forms = [forms_of([text for text in column if text][:200], decimal) for column in columns]
    are_times = [bool(each) and each[0] not in OF_NUMBERS for each in forms]
    roles = _roles(names, columns, are_times, [bool(each) for each in forms])
    doubts = [
        f"{name}: it cannot be told whether the day or the month comes first."
        for name, form, role in zip(names, forms, roles, strict=True)
        if role in TIMES and len(form) > 1
    ]
    happened = next((columns[place] for place, role in enumerate(roles) if role is Role.HAPPENED), [])
    words = list(dict.fromkeys(word for word in happened if word))[:MOST_WORDS]
    reading = bare.model_copy(
        update={
            "decimal": decimal,
            "columns": [
                Column(name=name, role=role, form=form[0] if role in TIMES and form else None)
                for name, role, form in zip(names, roles, forms, strict=True)
            ],
            "happenings": {word: meaning_of(word) or Happening.NOTHING for word in words},
        }
    )
    return Preview(reading=reading, rows=rows[:SHOWN], sheets=sheets, doubts=doubts)


def _is_heading(rows: list[list[str]]) -> bool:
    """Say whether the first row has names: none of its cells is a time or a number."""
    first = [cell.strip() for cell in rows[0]]
    return not any(forms_of([cell]) or re.fullmatch(r"-?[\d.,]+", cell) for cell in first if cell)


def _different(names: list[str]) -> list[Word]:
    """Return names of which none is twice."""
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append(name if seen[name] == 1 else f"{name} {seen[name]}")
    return found


def _decimal(columns: list[list[str]]) -> Literal[".", ","]:
    texts = [text for column in columns for text in column[:200]]
    commas = sum(bool(re.fullmatch(r"-?\d+,\d+", text)) for text in texts)
    points = sum(bool(re.fullmatch(r"-?\d+\.\d+", text)) for text in texts)
    return "," if commas > points else "."


def _roles(names: list[str], columns: list[list[str]], are_dates: list[bool], are_times: list[bool]) -> list[Role]:
    """Return what columns stand for by their names, and by what is in them; each role is that of one column."""
    roles = [Role.NOTHING] * len(names)
    surest = sorted(
        (place, number, role)
        for number, name in enumerate(names)
        for role, place in _by_name(name)
        if role not in TIMES or are_times[number]
    )
    for _, number, role in surest:
        if roles[number] is Role.NOTHING and role not in roles:
            roles[number] = role
    _without_name(roles, columns, are_dates)
    if Role.AT in roles and (Role.BEGAN in roles or Role.ENDED in roles):
        roles[roles.index(Role.AT)] = Role.CAME if Role.CAME not in roles else Role.NOTHING
    return roles


def _by_name(name: str) -> list[tuple[Role, int]]:
    """Return what a column may stand for by its name, with how far that is from sure."""
    if name in OF_XES:
        return [(OF_XES[name], 0)]
    plain = re.sub(r"[\W_]+", " ", name).strip().lower()
    words = plain.split()
    found = []
    for role, headings in HEADINGS.items():
        for place, heading in enumerate(headings):
            if plain == heading:
                found.append((role, place))
            elif heading in words:
                found.append((role, 20 + place))
    return found


def _without_name(roles: list[Role], columns: list[list[str]], are_dates: list[bool]) -> None:
    """Give the roles that must be there, and that no name told, to columns by what is in them."""
    free = [n for n, role in enumerate(roles) if role is Role.NOTHING]
    if not any(role in TIMES for role in roles):
        for number, role in zip((n for n in free if are_dates[n]), (Role.AT, Role.ENDED), strict=False):
            roles[number] = role
        if Role.ENDED in roles and Role.AT in roles:
            roles[roles.index(Role.AT)] = Role.BEGAN
    free = [n for n in free if roles[n] is Role.NOTHING and not are_dates[n]]
    kinds = {n: len(set(columns[n])) for n in free}
    if Role.CASE not in roles and free:
        number = max(free, key=kinds.__getitem__)
        roles[number] = Role.CASE
        free.remove(number)
    if Role.STEP not in roles and free:
        several = [n for n in free if 1 < kinds[n] <= 200]
        if several:
            roles[min(several, key=lambda n: -kinds[n])] = Role.STEP
