"""Calendars of a scenario, which are iCalendar texts, as rows of a roster and as opening hours of a study."""

from typing import Any

from flowcore.exchange.bpmn.draft.draft import short
from flowcore.exchange.bpmn.draft.ours import CALENDAR, TYPE, own_id
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.read_calendar import TeamRows, read_calendar
from flowcore.problems import StudyError
from flowcore.study import StudyDocument

NO_COUNT = "does not say how many they are"


def rows_of(reading: Reading, calendar: str) -> TeamRows | None:
    """Return the hours of a calendar as rows of a roster, one person each; None, with a note, where it has none."""
    name, text = reading.scenario.calendars.get(calendar, (calendar, ""))
    if "BEGIN:VCALENDAR" not in text:
        text = f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\n{text}\r\nEND:VCALENDAR\r\n"
    try:
        read = read_calendar(text, StudyDocument(name="Calendar"), "calendar")
    except StudyError:
        reading.notes.lose(calendar, name, "The calendar has no hours.", "What refers to it holds at all times.")
        return None
    for told in read.lost:
        if NO_COUNT not in told:
            reading.notes.lose(calendar, name, told, "The other hours of the calendar are kept.")
    return read.teams[0] if read.teams else None


def opening(reading: Reading, calendar: str) -> str | None:
    """Return the id of the study's calendar with these hours, made where it is not there yet."""
    if calendar not in reading.calendars:
        rows = rows_of(reading, calendar)
        if rows is None or not rows.roster:
            return None
        reading.calendars[calendar] = _calendar(reading, calendar, rows)
    return str(reading.calendars[calendar]["id"])


def _calendar(reading: Reading, calendar: str, rows: TeamRows) -> dict[str, Any]:
    name = reading.scenario.calendars[calendar][0]
    calendar_id = reading.draft.new_id(
        "calendars", own_id(reading, CALENDAR, _as_ours(reading, calendar), name), "calendar"
    )
    made: dict[str, Any] = {"id": calendar_id, "name": short(name)}
    weekly, dated = [], []
    for row in rows.roster:
        hours = {"from": row.from_, "to": row.to}
        if row.from_date and row.from_date == row.to_date:
            dated.append({"date": row.from_date} | hours)
        else:
            weekly.append({"days": list(row.days)} | hours)
            if row.to_date:
                reading.notes.lose(calendar, name, "Hours hold between two dates.", "They hold in every week.")
    return made | {key: each for key, each in (("weekly", weekly), ("open", dated), ("closed", rows.closed)) if each}


def name_our_parts(reading: Reading) -> None:
    """Make the case types and calendars of a file of ours, also those that nothing uses."""
    for name in reading.drawn.properties:
        if name.startswith(TYPE):
            reading.case_type(name.removeprefix(TYPE))
    for calendar in reading.scenario.calendars:
        if _as_ours(reading, calendar).startswith(CALENDAR):
            opening(reading, calendar)


def _as_ours(reading: Reading, calendar: str) -> str:
    """Return the id of a calendar without that of its scenario, which our files put before it."""
    return calendar.removeprefix(f"{reading.scenario.id}_")
