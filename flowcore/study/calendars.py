"""Times of day, dates, weekdays, and calendars: when something is open."""

from datetime import date, datetime
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from flowcore.problems import trouble
from flowcore.study.base import Id, Name, Part

DAY_NAMES = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

Day = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
DAYS: tuple[Day, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
TIME_OF_DAY = r"^(([01]\d|2[0-3]):[0-5]\d|24:00)$"
TimeOfDay = Annotated[str, StringConstraints(pattern=TIME_OF_DAY)]


FIRST_YEAR, LAST_YEAR = 1900, 2500


def _require_our_time(year: int) -> None:
    if not FIRST_YEAR <= year <= LAST_YEAR:
        raise trouble(f"The year {year} is far off.", f"Give a year between {FIRST_YEAR} and {LAST_YEAR}.")


def _real_date(text: str) -> str:
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise trouble(f'"{text}" is not a date.', 'Write a date that exists, such as "2027-03-01".') from None
    _require_our_time(day.year)
    return text


def _real_moment(text: str) -> str:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise trouble(
            f'"{text}" is not a date and a time.', 'Write a moment that exists, such as "2027-03-01T08:00".'
        ) from None
    _require_our_time(moment.year)
    return text


Date = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d\d-\d\d$"), AfterValidator(_real_date)]
Moment = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d)?$"), AfterValidator(_real_moment)]


def minute_of_day(text: str) -> int:
    """Return a time of day in minutes after midnight; `"24:00"` is 1440."""
    hours, rest = text.split(":")
    return int(hours) * 60 + int(rest)


def time_of_day(minute: int) -> str:
    """Return minutes after midnight as a time of day."""
    return f"{minute // 60:02}:{minute % 60:02}"


class Hours(Part):
    """From one time of day to another; over midnight where the second is not later."""

    days: Annotated[list[Day], Field(min_length=1)]
    from_: TimeOfDay = Field(alias="from")
    to: TimeOfDay


class DatedHours(Part):
    """Hours of one date, in place of the weekday's."""

    date: Date
    from_: TimeOfDay = Field(alias="from")
    to: TimeOfDay


class Calendar(Part):
    """When something is open: by weekday, with dates that are closed or have other hours."""

    id: Id
    name: Name
    weekly: list[Hours] = []
    closed: list[Date] = []
    open: list[DatedHours] = []

    @model_validator(mode="after")
    def _opens(self) -> Self:
        if not self.weekly and not self.open:
            raise trouble("The calendar never opens.", "Give it weekly hours or a date with hours.")
        return self
