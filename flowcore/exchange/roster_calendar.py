"""Rosters as an iCalendar file: one event for each row, in the local time of the service.

Source: RFC 5545. What a calendar has no word for, headcount and breaks, stands in properties of our own (X-ROSTER-…),
which other programs keep and leave aside.
"""

import json
from collections.abc import Iterable, Iterator
from datetime import UTC, date, datetime, time, timedelta

from icalendar import Calendar, Event
from pydantic import TypeAdapter

from flowcore.study import StudyDocument
from flowcore.study.base import Part
from flowcore.study.calendars import DAYS
from flowcore.study.rosters import Break, RosterRow
from flowcore.study.teams import Team
from flowcore.study.timetable import hours_to_period

BYDAY = dict(zip(DAYS, ("MO", "TU", "WE", "TH", "FR", "SA", "SU"), strict=True))
LAST_SECOND = time(23, 59, 59)
BREAKS: TypeAdapter[list[Break]] = TypeAdapter(list[Break])


def written_calendar(study: StudyDocument) -> str:
    """Return all shifts of a study's teams as an iCalendar file."""
    return written_shifts(study.name, date.fromisoformat(study.start[:10]), study.teams)


def written_shifts(name: str, first: date, teams: Iterable[Team]) -> str:
    """Return the shifts of teams, from a date on, as an iCalendar file with a name."""
    calendar = Calendar()
    calendar.add("prodid", "-//Urban Queue//Rosters//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for team in teams:
        for number, row in enumerate(team.roster):
            calendar.add_component(_event(team, row, number, first))
    return str(calendar.to_ical().decode())


def _event(team: Team, row: RosterRow, number: int, first: date) -> Event:
    begins = max(first, date.fromisoformat(row.from_date)) if row.from_date else first
    day = next(each for each in days_from(begins) if DAYS[each.weekday()] in row.days)
    shift = hours_to_period(0.0, row.from_, row.to)
    midnight = datetime.combine(day, time())
    start, end = (midnight + timedelta(minutes=minute) for minute in shift)
    event = Event()
    event.add("uid", f"{team.id}-{number + 1}@rosters")
    event.add("dtstamp", datetime.combine(first, time(), UTC))
    event.add("summary", f"{team.name}: {row.people} {'person' if row.people == 1 else 'people'}")
    event.add("dtstart", start)
    event.add("dtend", end)
    if not row.from_date == row.to_date == day.isoformat():
        event.add("rrule", _rule(row))
        for off in _off_days(team, row, day):
            event.add("exdate", datetime.combine(off, start.time()))
    event.add("x-roster-team", team.id)
    event.add("x-roster-people", str(row.people))
    event.add("x-roster-hours", f"{row.from_}-{row.to}")
    if row.from_date:
        event.add("x-roster-from", row.from_date)
    if team.closed:
        event.add("x-roster-off", " ".join(team.closed))
    if row.overtime:
        event.add("x-roster-overtime", row.overtime)
    if row.breaks:
        breaks = [_plain(each) for each in row.breaks]
        event.add("x-roster-breaks", json.dumps(breaks))
        event.add("description", "\n".join(f"Break of {each['length']}" for each in breaks))
    return event


def _plain(part: Part) -> dict[str, object]:
    return part.model_dump(mode="json", by_alias=True, exclude_defaults=True)


def _rule(row: RosterRow) -> dict[str, object]:
    rule: dict[str, object] = {"freq": "weekly", "byday": [BYDAY[day] for day in row.days]}
    if row.to_date:
        rule["until"] = datetime.combine(date.fromisoformat(row.to_date), LAST_SECOND)
    return rule


def _off_days(team: Team, row: RosterRow, first: date) -> Iterator[date]:
    """Yield the team's days off on which a row would have a shift."""
    for each in team.closed:
        day = date.fromisoformat(each)
        if day >= first and DAYS[day.weekday()] in row.days and (row.to_date or each) >= each:
            yield day


def days_from(day: date) -> Iterator[date]:
    """Yield a day and all days after it."""
    while True:
        yield day
        day += timedelta(days=1)
