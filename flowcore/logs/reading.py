"""A log file read into visits: every row, or a line and a reason why it was not."""

import math
from array import array
from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any
from zoneinfo import available_timezones

import numpy as np
from pydantic import BaseModel

from flowcore.logs.moments import Moments
from flowcore.logs.pairing import HAPPENINGS, Events, paired
from flowcore.logs.recognising import rows_by
from flowcore.logs.roles import TIMES, Happening, Reading, Role, meaning_of
from flowcore.logs.rows import MOST_ROWS, Row, trouble_with
from flowcore.logs.visits import Outcome, Visits
from flowcore.problems import StudyError, error_at
from flowcore.study.durations import WEEK

MOST_TOLD = 200
TOLD_EVERY = 20_000
THE_STEP = "Service"
"""The step of a log that names none."""
OUTCOMES = {Happening.GAVE_UP: Outcome.GAVE_UP, Happening.TURNED_AWAY: Outcome.TURNED_AWAY}


class Unread(BaseModel):
    """A line that could not be read, and why."""

    line: int
    why: str


class Report(BaseModel):
    """How many `rows` were read, how many were not, and of these some with their reasons.

    Of moments so many are told `twice`, each of which counts once; what visits are told twice is a doubt.
    """

    rows: int
    unread: int
    reasons: dict[str, int]
    lines: list[Unread]
    twice: int = 0


class _Names:
    """Numbers names in the order in which they come; an empty one is -1."""

    def __init__(self) -> None:
        self.numbers: dict[str, int] = {}

    def number(self, name: str) -> int:
        name = name.strip()
        return self.numbers.setdefault(name, len(self.numbers)) if name else -1


def require_readable(reading: Reading) -> None:
    """Raise StudyError where what a file's columns stand for is not enough, or too much, to read it."""
    problems = []
    if reading.place(Role.CASE) is None:
        mend = "Say which column tells one case from another."
        problems.append(error_at("columns", "No column says which case a row is about.", mend))
    if not any(reading.places(role) for role in (Role.BEGAN, Role.ENDED, Role.CAME, Role.AT)):
        problems.append(error_at("columns", "No column says when anything happened.", "Say which column has times."))
    if reading.zone and reading.zone not in available_timezones():
        problems.append(error_at("zone", f'The zone "{reading.zone}" is not known.', "Choose one such as Europe/Oslo."))
    for place, column in enumerate(reading.columns):
        if column.role in TIMES and column.form is None:
            what = f"It is not known how {column.name} writes its times."
            problems.append(error_at(f"columns/{place}", what, "Choose how, or another column."))
        elif column.role not in (Role.NOTHING, Role.TRAIT) and reading.places(column.role)[0] != place:
            what = f"{column.name} is the second column for the same."
            problems.append(error_at(f"columns/{place}", what, "Let one of the two stand for something else."))
    if problems:
        raise StudyError(problems)


def read_log(path: Path, reading: Reading, told: Callable[[int], None] = lambda rows: None) -> tuple[Visits, Report]:
    """Return all visits of a file and how it was read; `told` hears now and then how many rows have been read.

    Raises StudyError where the file cannot be read as this, where there are too many rows, and where none can be read.
    """
    require_readable(reading)
    reader = _OfVisits(reading) if reading.tells_visits else _OfEvents(reading)
    reasons: Counter[str] = Counter()
    lines: list[Unread] = []
    rows = 0
    for row in rows_by(path, reading):
        rows += 1
        if rows > MOST_ROWS:
            raise trouble_with(f"There are more than {MOST_ROWS:,} rows.", "Part the file, or leave out some months.")
        if why := reader.read(row):
            reasons[why.partition(":")[0]] += 1
            if len(lines) < MOST_TOLD:
                lines.append(Unread(line=row.line, why=why))
        if rows % TOLD_EVERY == 0:
            told(rows)
    if len(reader) == 0:
        first = f" Line {lines[0].line:,}: {lines[0].why}" if lines else ""
        raise trouble_with(f"None of the {rows:,} rows can be read.{first}", "Look at what the columns stand for.")
    visits = reader.visits()
    unread = sum(reasons.values())
    return visits, Report(rows=rows, twice=reader.twice, unread=unread, reasons=dict(reasons), lines=lines)


class _Rows:
    """Reads rows one by one into columns of numbers, and says of each that it cannot read why."""

    def __init__(self, reading: Reading) -> None:
        self._reading = reading
        self._names = {role: _Names() for role in (Role.CASE, Role.STEP, Role.WHO, Role.TYPE)}
        self._places = {role: reading.place(role) for role in Role}
        self._moments = {
            role: Moments(form, reading.zone, reading.decimal)
            for role, place in self._places.items()
            if role in TIMES and place is not None
            for form in [reading.columns[place].form]
            if form is not None
        }
        self._width = len(reading.columns)
        self.twice = 0
        self.columns: dict[str, array[Any]] = {name: array("i") for name in ("case", "step", "who", "line")}
        self._types: dict[int, int] = {}
        self._planned: dict[int, float] = {}
        self._tells_plans = Role.PLANNED in self._moments
        self._traits = {place: _Names() for place in reading.places(Role.TRAIT)}
        self._carried: dict[int, dict[int, int]] = {place: {} for place in self._traits}
        self._names_of_replications = _Names()
        self._replications: dict[int, int] = {}

    def __len__(self) -> int:
        return len(self.columns["case"])

    def cell(self, row: Row, role: Role) -> str:
        place = self._places[role]
        return row.cells[place] if place is not None and place < len(row.cells) else ""

    def read(self, row: Row) -> str:
        """Read a row; return why it cannot be read, "" where it can."""
        if len(row.cells) > self._width:
            return f"too many cells: {len(row.cells)} instead of {self._width}"
        if self._is_beside(row):
            return ""
        case = self._case(row)
        if case < 0:
            return "no case"
        times: dict[Role, float] = {}
        for role, moments in self._moments.items():
            text = self.cell(row, role)
            times[role] = moments.read(text) if text and not text.isspace() else math.nan
            if math.isnan(times[role]) and text and not text.isspace():
                name = self._reading.columns[self._places[role] or 0].name
                return f"a time that cannot be read: {name} is {text[:60]!r}"
        if self._tells_plans and not math.isnan(times[Role.PLANNED]):
            self._planned.setdefault(case, times[Role.PLANNED])
            self._has_type(row, case)
        return self._add(row, case, times)

    def _has_type(self, row: Row, case: int) -> None:
        type_ = self._names[Role.TYPE].number(self.cell(row, Role.TYPE))
        if type_ >= 0:
            self._types.setdefault(case, type_)

    def _case(self, row: Row) -> int:
        """Return the number of a row's case: one of another replication is another case."""
        name = self.cell(row, Role.CASE).strip()
        if not name or self._places[Role.REPLICATION] is None:
            return self._names[Role.CASE].number(name)
        replication = self.cell(row, Role.REPLICATION).strip()
        case = self._names[Role.CASE].number(f"{replication}/{name}")
        self._replications.setdefault(case, self._names_of_replications.number(replication))
        return case

    def _is_beside(self, row: Row) -> bool:
        """Say whether a row tells of something that matters to no visit."""
        return False

    def _add(self, row: Row, case: int, times: dict[Role, float]) -> str:
        raise NotImplementedError

    def _put(self, row: Row, case: int, step: str) -> None:
        self._has_type(row, case)
        for place, names in self._traits.items():
            value = names.number(row.cells[place]) if place < len(row.cells) else -1
            if value >= 0:
                self._carried[place].setdefault(case, value)
        who = self._names[Role.WHO].number(self.cell(row, Role.WHO))
        number = self._names[Role.STEP].number(step)
        for name, value in (("case", case), ("step", number), ("who", who), ("line", row.line)):
            self.columns[name].append(value)

    def arrays(self) -> dict[str, np.ndarray]:
        return {name: np.array(column) for name, column in self.columns.items()}

    def _visits(self, columns: dict[str, np.ndarray]) -> Visits:
        cases, steps, people, types = (list(names.numbers) for names in self._names.values())
        of_cases = np.full(len(cases), -1, np.int32)
        of_cases[list(self._types)] = list(self._types.values())
        planned = np.full(len(cases), np.nan)
        planned[list(self._planned)] = list(self._planned.values())
        carried = np.full((len(self._traits), len(cases)), -1, np.int32)
        for row, values in enumerate(self._carried.values()):
            carried[row, list(values)] = list(values.values())
        of_visits: dict[str, Any] = dict(columns)
        visits = Visits(
            **of_visits,
            type=of_cases,
            planned=planned,
            cases=cases,
            steps=steps,
            people=people,
            types=types,
            traits=[self._reading.columns[place].name for place in self._traits],
            categories=[list(names.numbers) for names in self._traits.values()],
            carried=carried,
        )
        replications = np.array([self._replications.get(case, 0) for case in range(len(cases))])
        return _one_after_another(visits, replications).in_order()


def _one_after_another(visits: Visits, replications: np.ndarray) -> Visits:
    """Return visits of several replications of one stretch of time one after the other, whole weeks apart."""
    if not replications.any():
        return visits
    span = max(1.0, math.ceil(float(np.nanmax(visits.last) - np.nanmin(visits.first)) / WEEK)) * WEEK
    later = replications[visits.case] * span
    return replace(
        visits,
        came=visits.came + later,
        began=visits.began + later,
        ended=visits.ended + later,
        planned=visits.planned + replications * span,
    )


class _OfVisits(_Rows):
    """A log of which every row is a visit, with when it came, when work began and when it ended."""

    def __init__(self, reading: Reading) -> None:
        super().__init__(reading)
        self.columns |= {name: array("d") for name in ("came", "began", "ended")} | {"outcome": array("b")}

    def _add(self, row: Row, case: int, times: dict[Role, float]) -> str:
        came, began, ended = (times.get(role, math.nan) for role in (Role.CAME, Role.BEGAN, Role.ENDED))
        if math.isnan(came) and math.isnan(began) and math.isnan(ended):
            return "" if case in self._planned else "no time"
        happened = self._reading.happenings.get(self.cell(row, Role.HAPPENED).strip())
        for name, value in (("came", came), ("began", began), ("ended", ended)):
            self.columns[name].append(value)
        self.columns["outcome"].append(OUTCOMES.get(happened, Outcome.SERVED) if happened else Outcome.SERVED)
        self._put(row, case, self.cell(row, Role.STEP).strip() or THE_STEP)
        return ""

    def visits(self) -> Visits:
        return self._visits(self.arrays() | {"paused": np.zeros(len(self))})


class _OfEvents(_Rows):
    """A log of which every row is a moment, with a word for what happened then."""

    def __init__(self, reading: Reading) -> None:
        super().__init__(reading)
        self.columns |= {"at": array("d"), "happened": array("i")}
        self._tells = reading.place(Role.HAPPENED) is not None

    def _is_beside(self, row: Row) -> bool:
        return self._tells and self._happened(row) is Happening.NOTHING

    def _happened(self, row: Row) -> Happening | None:
        """Return what happened, as the analyst has it; a word that was not among the first ones as it is known."""
        if not self._tells:
            return self._reading.alone
        word = self.cell(row, Role.HAPPENED).strip()
        return self._reading.happenings.get(word) or meaning_of(word)

    def _add(self, row: Row, case: int, times: dict[Role, float]) -> str:
        at = times[Role.AT]
        if math.isnan(at):
            return "" if case in self._planned else "no time"
        happened = self._happened(row)
        if happened is None:
            return f"a word that is not known: {self.cell(row, Role.HAPPENED)[:60]!r}"
        step = self.cell(row, Role.STEP).strip() if self._places[Role.STEP] is not None else THE_STEP
        if not step:
            return ""
        self.columns["at"].append(at)
        self.columns["happened"].append(HAPPENINGS.index(happened))
        self._put(row, case, step)
        return ""

    def visits(self) -> Visits:
        events = Events(**self.arrays())
        once = events.told_once()
        self.twice = len(events) - len(once)
        return self._visits(paired(once))
