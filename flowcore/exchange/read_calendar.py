"""Rosters from an iCalendar file of our own or of another program: what would come in, and what cannot be kept."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from itertools import islice
from typing import Any, cast

from icalendar import Calendar, Event
from pydantic import BaseModel, ValidationError

from flowcore.exchange.roster_calendar import BREAKS, BYDAY, days_from
from flowcore.problems import StudyError, error_at
from flowcore.study import StudyDocument
from flowcore.study.calendars import DAYS
from flowcore.study.rosters import Break, RosterRow
from flowcore.study.timetable import hours_to_period

MOST_EVENTS = 2000
MOST_DATES = 500
"""So many dates that are left out of an event or added to it are kept."""
MOST_TIMES = 10_000
UNREADABLE = (AttributeError, KeyError, IndexError, TypeError, ValueError, OverflowError)
"""What a value that is none raises when it is asked for: it is read only then."""
A_DAY = timedelta(days=1)
Tell = Callable[[str], None]
"""Takes what of an event cannot be kept as it is: the rest of a sentence that begins with its name."""


class TeamRows(BaseModel):
    """The rows that would come in for a team of the study, and its days off."""

    team: str
    roster: list[RosterRow]
    closed: list[str]


class RostersRead(BaseModel):
    """What a file says of rosters, by team, and what of it cannot be kept, a sentence each."""

    teams: list[TeamRows]
    lost: list[str]


class CannotBeKept(Exception):
    """Raised where an event is none of a roster's; says what it is instead."""


@dataclass
class _Read:
    """The rows of one event, and the days off that all of its team have."""

    team: str
    rows: list[RosterRow]
    closed: list[str]


def read_calendar(text: str, study: StudyDocument, usual: str | None) -> RostersRead:
    """Return the rosters in an iCalendar file.

    An event is of the team that it names, in a property of our own or at the beginning of its summary; else of the
    `usual` one. Raises StudyError where the text is no calendar.
    """
    read, lost = [], []
    for event in _events(text):
        name = str(event.get("summary", "An event without a name"))
        team = _team_of(event, name, study) or usual
        if team is None:
            lost.append(f"“{name}” names no team of the study.")
            continue
        notes: list[str] = []
        try:
            read.append(_read(event, team, notes.append))
        except CannotBeKept as reason:
            notes = [f"{reason}, and is left out."]
        except UNREADABLE:
            notes = ["cannot be read, and is left out."]
        lost += [f"“{name}” {words}" for words in notes]
    return RostersRead(teams=list(_by_team(read)), lost=list(dict.fromkeys(lost)))


def _events(text: str) -> list[Event]:
    try:
        calendars = Calendar.from_ical(text, multiple=True)
        events = [cast(Event, each) for calendar in calendars for each in calendar.walk("VEVENT")]
    except (ValueError, IndexError, KeyError):
        events = []
    if not events:
        raise StudyError(
            [error_at("rosters", "This is no calendar with events.", "Bring in a file that ends in .ics.")]
        )
    if len(events) > MOST_EVENTS:
        what = f"The calendar has {len(events):,} events."
        raise StudyError([error_at("rosters", what, f"Bring in at most {MOST_EVENTS:,} at once.")])
    return events


def _team_of(event: Event, name: str, study: StudyDocument) -> str | None:
    wanted = str(event.get("x-roster-team", ""))
    called = name.partition(":")[0].strip().lower()
    return next((team.id for team in study.teams if team.id == wanted or team.name.lower() == called), None)


def _by_team(read: list[_Read]) -> Iterator[TeamRows]:
    for team in dict.fromkeys(each.team for each in read):
        own = [each for each in read if each.team == team]
        closed = sorted({day for each in own for day in each.closed})
        yield TeamRows(team=team, roster=[row for each in own for row in each.rows], closed=closed)


def _read(event: Event, team: str, tell: Tell) -> _Read:
    if event.get("recurrence-id") is not None:
        raise CannotBeKept("changes one time of another event")
    if str(event.get("status", "")).upper() == "CANCELLED":
        raise CannotBeKept("is cancelled")
    begin, end = _span(event, tell)
    closed = str(event.get("x-roster-off", "")).split()
    row = _row(event, begin, end, tell)
    if "RRULE" in event:
        row = _repeated(event, row, begin)
    off = [day for day in _dates(event, "exdate") if day.isoformat() not in closed]
    added = [day for day in _dates(event, "rdate") if day.isoformat() not in off]
    rows = [*_without(row, off, begin.date()), *(_on(row, day) for day in added)]
    if not rows:
        raise CannotBeKept("never takes place")
    return _Read(team, rows, closed)


def _span(event: Event, tell: Tell) -> tuple[datetime, datetime]:
    """Return when an event begins and ends, by the clock on the wall."""
    begin = event.get("dtstart")
    if begin is None:
        raise CannotBeKept("has no beginning")
    start = _local(begin.dt)
    stop = event.get("dtend")
    lasts = event.get("duration")
    if stop is None and lasts is None and isinstance(begin.dt, datetime):
        raise CannotBeKept("has no end")
    end = _local(stop.dt) if stop is not None else start + (lasts.dt if lasts is not None else A_DAY)
    if not timedelta(0) < end - start <= A_DAY:
        raise CannotBeKept("does not end within a day")
    if isinstance(begin.dt, datetime) and begin.dt.tzinfo is not None and begin.dt.utcoffset() == timedelta(0):
        tell("is in universal time; its hours are taken as they stand.")
    return start, end


def _local(moment: date | datetime) -> datetime:
    if isinstance(moment, datetime):
        return moment.replace(tzinfo=None)
    return datetime(moment.year, moment.month, moment.day)


def _row(event: Event, begin: datetime, end: datetime, tell: Tell) -> RosterRow:
    """Return an event's row as if it took place once."""
    day = begin.date().isoformat()
    people = _number(str(event.get("x-roster-people", "")))
    if people is None:
        people = 1
        tell("does not say how many they are; one is taken.")
    hours = _hours(event, begin, end)
    row = {"days": [DAYS[begin.weekday()]], "from": hours[0], "to": hours[1], "people": people}
    dates = {} if "RRULE" in event else {"from_date": day, "to_date": day}
    known = RosterRow.model_validate(row | {"breaks": _breaks(event, tell)} | dates)
    return _with_overtime(known, event, tell)


def _hours(event: Event, begin: datetime, end: datetime) -> list[str]:
    """Return from when to when; as they were written where that is the same, for midnight has two names."""
    hours = [f"{begin:%H:%M}", f"{end:%H:%M}"]
    written = str(event.get("x-roster-hours", "")).split("-")
    try:
        same = hours_to_period(0.0, written[0], written[1]) == hours_to_period(0.0, hours[0], hours[1])
    except (ValueError, IndexError):
        same = False
    return written if same else hours


def _number(text: str) -> int | None:
    return int(text) if text.isdigit() and int(text) <= 100_000 else None


def _breaks(event: Event, tell: Tell) -> list[Break]:
    written = event.get("x-roster-breaks")
    try:
        return [] if written is None else BREAKS.validate_json(str(written))
    except ValidationError:
        tell("has breaks that cannot be read; they are left out.")
        return []


def _with_overtime(row: RosterRow, event: Event, tell: Tell) -> RosterRow:
    written = event.get("x-roster-overtime")
    try:
        return RosterRow.model_validate(row.model_dump(by_alias=True) | {"overtime": written and str(written)})
    except ValidationError:
        tell("has overtime that cannot be read, or is longer than the shift; it is left out.")
        return row


def _repeated(event: Event, row: RosterRow, begin: datetime) -> RosterRow:
    """Return a row on the days and between the dates that an event's rule says."""
    rule: Any = event["rrule"]
    if isinstance(rule, list):
        raise CannotBeKept("repeats by several rules")
    known = {"FREQ", "BYDAY", "UNTIL", "COUNT", "INTERVAL", "WKST"}
    freq = str(rule.get("FREQ", [""])[0]).upper()
    if freq not in ("DAILY", "WEEKLY") or set(rule) - known or int(rule.get("INTERVAL", [1])[0]) != 1:
        raise CannotBeKept("does not repeat by days of the week")
    names = {short: day for day, short in BYDAY.items()}
    asked = [str(each).upper() for each in rule.get("BYDAY", [])]
    if any(each not in names for each in asked):
        raise CannotBeKept("does not repeat by days of the week")
    days = [names[each] for each in asked] or (list(DAYS) if freq == "DAILY" else [DAYS[begin.weekday()]])
    from_date = event.get("x-roster-from") if event.get("x-roster-team") else begin.date().isoformat()
    changes = {
        "days": days,
        "from_date": None if from_date is None else str(from_date),
        "to_date": _last_date(rule, begin, days),
    }
    return RosterRow.model_validate(row.model_dump(by_alias=True) | changes)


def _last_date(rule: Any, begin: datetime, days: Sequence[str]) -> str | None:
    """Return the date of the last time that a rule allows; None where it goes on for ever."""
    if "COUNT" in rule:
        times = (day for day in days_from(begin.date()) if DAYS[day.weekday()] in days)
        every = list(islice(times, min(int(rule["COUNT"][0]), MOST_TIMES)))
        return every[-1].isoformat()
    if "UNTIL" not in rule:
        return None
    until = rule["UNTIL"][0]
    last = _local(until)
    before = isinstance(until, datetime) and last.time() < begin.time()
    return (last.date() - A_DAY * before).isoformat()


def _dates(event: Event, key: str) -> list[date]:
    """Return the days on which an event is left out, or takes place besides."""
    found = event.get(key, [])
    days = [each.dt for group in (found if isinstance(found, list) else [found]) for each in group.dts]
    if len(days) > MOST_DATES:
        raise CannotBeKept(f"has more than {MOST_DATES} dates of its own")
    return sorted({_local(day).date() for day in days if isinstance(day, date)})


def _on(row: RosterRow, day: date) -> RosterRow:
    """Return a row on one day alone."""
    return row.model_copy(
        update={"days": [DAYS[day.weekday()]], "from_date": day.isoformat(), "to_date": day.isoformat()}
    )


def _without(row: RosterRow, off: list[date], first: date) -> Iterator[RosterRow]:
    """Yield a row but for some days, in stretches between them."""
    begins: str | None = row.from_date
    for day in off:
        if DAYS[day.weekday()] not in row.days or day.isoformat() < (begins or first.isoformat()):
            continue
        if day.isoformat() > (row.to_date or day.isoformat()):
            break
        last = (day - A_DAY).isoformat()
        if last >= (begins or first.isoformat()):
            yield row.model_copy(update={"from_date": begins, "to_date": last})
        begins = (day + A_DAY).isoformat()
    if begins is None or row.to_date is None or begins <= row.to_date:
        yield row.model_copy(update={"from_date": begins})
