"""Times as logs write them: in many forms, with or without a zone, read into minutes on the wall clock."""

import math
import re
from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import ArrayLike, NDArray

from flowcore.study.durations import DAY

NOT_A_TIME = math.nan
EPOCH = date(1970, 1, 1).toordinal()
FIRST_MONDAY = 4
"""In days from the beginning of 1970."""
SPREADSHEET = date(1899, 12, 30).toordinal()
MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
MOST_KNOWN = 200_000
"""So many dates and times of day are remembered, each."""
EARLIEST, LATEST = 1900, 2200

_DATE = re.compile(r"(\d{1,4})([-./ ])(\d{1,2}|[A-Za-z]{3,9})\.?\2(\d{1,4})")
_DIGITS = re.compile(r"(\d{4})(\d{2})(\d{2})")
_TIME = re.compile(
    r"(\d{1,2})[:.](\d{2})(?:[:.](\d{2})(?:[.,](\d{1,9}))?)?\s*([AaPp]\.?[Mm]\.?)?\s*(Z|UTC|GMT|[+-]\d{2}:?\d{2})?"
)
_PARTED = re.compile(r"(.*?\d)(?:T|,?\s+)(\d{1,2}[:.]\d{2}.*)")
_NUMBER = re.compile(r"-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?")


def weekdays(days: ArrayLike) -> NDArray[np.int64]:
    """Return the weekdays, Monday as 0, of days that are counted from the beginning of 1970."""
    return (np.asarray(days, np.int64) - FIRST_MONDAY) % 7


class Form(StrEnum):
    """How a column writes its times: by a date in one order or another, or as a number."""

    YEAR_FIRST = "year-first"
    DAY_FIRST = "day-first"
    MONTH_FIRST = "month-first"
    MINUTES = "minutes"
    SECONDS = "seconds"
    UNIX_SECONDS = "unix-seconds"
    UNIX_MILLISECONDS = "unix-milliseconds"
    SPREADSHEET_DAYS = "spreadsheet-days"


OF_NUMBERS: dict[Form, Callable[[float], float]] = {
    Form.MINUTES: lambda number: number,
    Form.SECONDS: lambda number: number / 60,
    Form.UNIX_SECONDS: lambda number: number / 60,
    Form.UNIX_MILLISECONDS: lambda number: number / 60_000,
    Form.SPREADSHEET_DAYS: lambda number: (number + SPREADSHEET - EPOCH) * DAY,
}
"""Minutes by a number; those of a plain form count from wherever the log's clock began, others from 1970."""
_ORDERS = {Form.YEAR_FIRST: (0, 1, 2), Form.DAY_FIRST: (2, 1, 0), Form.MONTH_FIRST: (2, 0, 1)}
"""Where year, month and day stand."""


class Moments:
    """Reads the times of a column, one form for all of it.

    A time that says how far it is from UTC is moved to the wall clock of a zone where one is given, and else taken as
    it is written; a time that does not say so is on the wall already.
    """

    def __init__(self, form: Form, zone: str = "", decimal: str = ".") -> None:
        self._form, self._decimal = form, decimal
        self._zone = ZoneInfo(zone) if zone else None
        self._dates: dict[str, float] = {}
        self._times: dict[str, tuple[float, float | None]] = {}
        self._shifts: dict[int, float] = {}

    def read(self, text: str) -> float:
        """Return a time in minutes since the beginning of 1970 on the wall, NaN where it cannot be read."""
        if self._form in OF_NUMBERS:
            return self._by_number(text)
        date_text, found, time_text = text.partition(" ") if " " in text else text.partition("T")
        day = self._dates.get(date_text)
        time = self._times.get(time_text) if found else (0.0, None)
        if day is None or time is None:
            day, time = self._read_anew(text.strip())
            if len(self._dates) < MOST_KNOWN and len(self._times) < MOST_KNOWN and found:
                self._remember(date_text, time_text)
        minute, offset = time
        if offset is None or self._zone is None:
            return day + minute
        return self._on_the_wall(day + minute - offset)

    def _by_number(self, text: str) -> float:
        number = text.strip().replace(self._decimal, ".") if self._decimal != "." else text.strip()
        if not _NUMBER.fullmatch(number):
            return NOT_A_TIME
        minute = OF_NUMBERS[self._form](float(number))
        is_of_world = self._form in (Form.UNIX_SECONDS, Form.UNIX_MILLISECONDS)
        return self._on_the_wall(minute) if is_of_world and self._zone is not None else minute

    def _read_anew(self, text: str) -> tuple[float, tuple[float, float | None]]:
        parted = _PARTED.fullmatch(text)
        day = self._day(parted[1] if parted else text)
        return day, _time_of_day(parted[2]) if parted else (0.0, None)

    def _remember(self, date_text: str, time_text: str) -> None:
        """Remember what a text is parted into at its first blank, where that is between the date and the time."""
        day, time = self._day(date_text), _time_of_day(time_text)
        if not math.isnan(day) and not math.isnan(time[0]):
            self._dates[date_text], self._times[time_text] = day, time

    def _day(self, text: str) -> float:
        parts = _DATE.fullmatch(text.strip())
        digits = _DIGITS.fullmatch(text.strip())
        if parts:
            written = (parts[1], parts[3], parts[4])
        elif digits and self._form is Form.YEAR_FIRST:
            written = (digits[1], digits[2], digits[3])
        else:
            return NOT_A_TIME
        year, month, day = (written[place] for place in _ORDERS[self._form])
        try:
            return (_date(year, month, day).toordinal() - EPOCH) * DAY
        except ValueError:
            return NOT_A_TIME

    def _on_the_wall(self, minute: float) -> float:
        """Return the wall clock's minute of one of UTC."""
        if math.isnan(minute) or self._zone is None:
            return minute
        quarter = int(minute // 15)
        shift = self._shifts.get(quarter)
        if shift is None:
            there = datetime(1970, 1, 1, tzinfo=UTC) + timedelta(minutes=15.0 * quarter)
            shift = (there.astimezone(self._zone).utcoffset() or timedelta()).total_seconds() / 60
            self._shifts[quarter] = shift
        return minute + shift


def _date(year: str, month: str, day: str) -> date:
    """Return a date by its parts; raises ValueError where there is none."""
    number = int(year) + (2000 if len(year) == 2 else 0)
    if not EARLIEST <= number <= LATEST or len(day) > 2:
        raise ValueError(year)
    return date(number, int(month) if month.isdigit() else MONTHS.index(month[:3].lower()) + 1, int(day))


def _time_of_day(text: str) -> tuple[float, float | None]:
    """Return the minute of a day, and how far before UTC it is where it says so; NaN where it cannot be read."""
    found = _TIME.fullmatch(text.strip())
    if not found:
        return NOT_A_TIME, None
    hours, minutes, seconds, fraction, half, offset = found.groups()
    hour = int(hours)
    if half:
        if not 1 <= hour <= 12:
            return NOT_A_TIME, None
        hour = hour % 12 + (12 if half[0] in "Pp" else 0)
    if hour > 23 or int(minutes) > 59 or int(seconds or 0) > 60:
        return NOT_A_TIME, None
    minute = hour * 60 + int(minutes) + (int(seconds or 0) + float(f"0.{fraction or 0}")) / 60
    return minute, _offset(offset)


def _offset(text: str | None) -> float | None:
    if text is None:
        return None
    if text[0] not in "+-":
        return 0.0
    digits = text[1:].replace(":", "")
    return (-1.0 if text[0] == "-" else 1.0) * (int(digits[:2]) * 60 + int(digits[2:]))


def forms_of(texts: Sequence[str], decimal: str = ".") -> list[Form]:
    """Return all forms by which every one of some texts is a time, the likeliest first."""
    texts = [text for text in texts if text.strip()]
    if not texts:
        return []
    fitting = [form for form in _ORDERS if _all_read(texts, form, decimal)]
    return fitting or [
        form for form in OF_NUMBERS if _all_read(texts, form, decimal) and _is_likely(texts, form, decimal)
    ]


def _all_read(texts: Sequence[str], form: Form, decimal: str) -> bool:
    moments = Moments(form, decimal=decimal)
    return not any(math.isnan(moments.read(text)) for text in texts)


_LIKELY = {
    Form.UNIX_SECONDS: (5e8, 5e9),
    Form.UNIX_MILLISECONDS: (5e11, 5e12),
    Form.SPREADSHEET_DAYS: (2e4, 8e4),
    Form.MINUTES: (0, 2e4),
    Form.SECONDS: (0, 5e8),
}
"""Between which numbers those of a form lie."""


def _is_likely(texts: Sequence[str], form: Form, decimal: str) -> bool:
    low, high = _LIKELY[form]
    return all(low <= float(text.strip().replace(decimal, ".")) <= high for text in texts)
