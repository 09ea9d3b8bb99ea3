"""Rosters as iCalendar: out and in again they are the same; of others' calendars it is said what cannot be kept."""

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as some
from icalendar import Calendar

from flowcore.exchange.read_calendar import RostersRead, read_calendar
from flowcore.exchange.roster_calendar import written_calendar
from flowcore.problems import StudyError
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part
from tests.flowcore.test_rosters import DAYS, breaks

DATES = [f"2027-03-{day:02}" for day in range(1, 31)]


def service(*rosters: list[Part], closed: list[str] | None = None) -> StudyDocument:
    """Return a study with a team for each roster."""
    teams: list[Part] = [
        {"id": f"team-{n}", "name": f"Team {n}", "roster": roster, "closed": closed or []}
        for n, roster in enumerate(rosters)
    ]
    return read_study({"name": "Calendar", "start": "2027-03-03T08:00", "teams": teams})


def read(*lines: str, usual: str | None = "team-0") -> RostersRead:
    """Read a calendar with one event of these lines."""
    text = ["BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:1", *lines, "END:VEVENT", "END:VCALENDAR"]
    return read_calendar("\r\n".join(text), service([{**WEEK}]), usual)


WEEK: Part = {"days": DAYS[:5], "from": "08:00", "to": "16:00", "people": 4}


def rows(found: RostersRead) -> list[Any]:
    return [row.model_dump(mode="json", by_alias=True, exclude_defaults=True) for row in found.teams[0].roster]


names = some.text(some.characters(codec="utf-8", exclude_categories=["C", "Z"]), min_size=1, max_size=9)
named = some.fixed_dictionaries({}, optional={"name": names})
called_breaks = some.builds(lambda rest, name: rest | name, breaks, named)
times = some.integers(0, 96).map(lambda quarter: f"{quarter // 4:02}:{quarter % 4 * 15:02}")
one_row = some.fixed_dictionaries(
    {
        "days": some.lists(some.sampled_from(DAYS), min_size=1, unique=True),
        "from": times.filter(lambda time: time != "24:00"),
        "to": times,
        "people": some.integers(0, 12),
        "breaks": some.lists(called_breaks, max_size=2),
    },
    optional={"from_date": some.sampled_from(DATES[:15]), "to_date": some.sampled_from(DATES[15:])},
)
rosters = some.lists(some.lists(one_row, min_size=1, max_size=3), min_size=1, max_size=3)


@settings(max_examples=150, deadline=None, derandomize=True)
@given(rosters, some.lists(some.sampled_from(DATES), unique=True, max_size=4).map(sorted))
def test_out_and_in_again_is_the_same(given_rosters: list[list[Part]], closed: list[str]) -> None:
    study = service(*given_rosters, closed=closed)
    found = read_calendar(written_calendar(study), study, None)
    assert found.lost == []
    assert {each.team: each.roster for each in found.teams} == {team.id: team.roster for team in study.teams}
    assert all(each.closed == closed for each in found.teams)


def test_other_programs_read_one_event_for_each_row() -> None:
    """The first shift that there is, every week on its days until the last date, but not on the team's days off."""
    off = ["2027-03-05", "2027-03-07", "2027-03-29"]
    once = {**WEEK, "days": ["sun"], "from_date": "2027-03-07", "to_date": "2027-03-07"}
    night = {**WEEK, "from": "22:00", "to": "06:00", "to_date": "2027-03-28"}
    calendar = Calendar.from_ical(written_calendar(service([night, once], closed=off)))
    nightly, sunday = calendar.walk("VEVENT")
    assert str(nightly["dtstart"].dt) == "2027-03-03 22:00:00"
    assert str(nightly["dtend"].dt) == "2027-03-04 06:00:00"
    assert nightly["rrule"].to_ical() == b"FREQ=WEEKLY;UNTIL=20270328T235959;BYDAY=MO,TU,WE,TH,FR"
    assert [str(each.dt) for each in nightly["exdate"].dts] == ["2027-03-05 22:00:00"]
    assert nightly["summary"] == "Team 0: 4 people"
    assert str(sunday["dtstart"].dt) == "2027-03-07 08:00:00"
    assert "rrule" not in sunday


@pytest.mark.parametrize(
    ("lines", "expected"),
    [
        (
            ["DTSTART;TZID=Europe/Berlin:20270304T090000", "DTEND;TZID=Europe/Berlin:20270304T170000",
             "RRULE:FREQ=WEEKLY;BYDAY=MO,TH;UNTIL=20270401T080000"],
            [{"days": ["mon", "thu"], "from": "09:00", "to": "17:00", "people": 1,
              "from_date": "2027-03-04", "to_date": "2027-03-31"}],
        ),
        (
            ["DTSTART:20270304T220000", "DURATION:PT8H", "RRULE:FREQ=DAILY;COUNT=5", "X-ROSTER-PEOPLE:3"],
            [{"days": DAYS, "from": "22:00", "to": "06:00", "people": 3,
              "from_date": "2027-03-04", "to_date": "2027-03-08"}],
        ),
        (
            ["DTSTART;VALUE=DATE:20270306", "RDATE;VALUE=DATE:20270313"],
            [{"days": ["sat"], "from": "00:00", "to": "00:00", "people": 1, "from_date": day, "to_date": day}
             for day in ("2027-03-06", "2027-03-13")],
        ),
        (
            ["DTSTART:20270301T080000", "DTEND:20270301T120000", "RRULE:FREQ=WEEKLY",
             "EXDATE:20270308T080000,20270315T080000"],
            [{"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1,
              "from_date": "2027-03-01", "to_date": "2027-03-07"},
             {"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1, "from_date": "2027-03-09",
              "to_date": "2027-03-14"},
             {"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1, "from_date": "2027-03-16"}],
        ),
    ],
)  # fmt: skip
def test_events_of_others_become_rows(lines: list[str], expected: list[Part]) -> None:
    assert rows(read("SUMMARY:Late", *lines)) == expected


@pytest.mark.parametrize(
    ("lines", "reason"),
    [
        (["DTSTART:20270301T080000"], "has no end"),
        (["DTEND:20270301T080000"], "has no beginning"),
        (["DTSTART:20270301T080000", "DTEND:20270303T080000"], "does not end within a day"),
        (["DTSTART:20270301T080000", "DTEND:20270301T080000"], "does not end within a day"),
        (["RRULE:FREQ=MONTHLY"], "does not repeat by days of the week"),
        (["RRULE:FREQ=WEEKLY;INTERVAL=2"], "does not repeat by days of the week"),
        (["RRULE:FREQ=WEEKLY;BYDAY=1MO"], "does not repeat by days of the week"),
        (["RRULE:FREQ=WEEKLY;BYMONTH=3"], "does not repeat by days of the week"),
        (["RRULE:FREQ=DAILY", "RRULE:FREQ=WEEKLY"], "repeats by several rules"),
        (["RECURRENCE-ID:20270308T080000"], "changes one time of another event"),
        (["STATUS:CANCELLED"], "is cancelled"),
        (["EXDATE:20270301T080000"], "never takes place"),
    ],
)
def test_what_no_roster_can_say_is_left_out_and_told(lines: list[str], reason: str) -> None:
    hours = [] if any(each.startswith("DT") for each in lines) else ["DTSTART:20270301T080000", "DURATION:PT8H"]
    found = read("SUMMARY:Odd", *hours, *lines)
    assert found.teams == []
    assert found.lost == [f"“Odd” {reason}, and is left out."]


@pytest.mark.parametrize(
    "lines",
    [
        ["DTSTART:banana", "DURATION:PT1H"],
        ["DTSTART:20270301T080000", "DURATION:forever"],
        ["DTSTART:20270301T080000", "DURATION:PT1H", "RRULE:FREQ=WEEKLY;COUNT=many"],
        ["DTSTART:20270301T080000", "DURATION:PT1H", "RRULE:FREQ=WEEKLY;COUNT=0"],
        ["DTSTART:20270301T080000", "DURATION:PT1H", "RRULE:FREQ=WEEKLY;UNTIL=later"],
        ["DTSTART:20270301T080000", "DURATION:PT1H", "EXDATE:now and then"],
        ["DTSTART:20270301T080000", "DURATION:PT1H", "X-ROSTER-PEOPLE:²"],
        ["DTSTART:99991231T230000", "DURATION:PT2H"],
        ["DTSTART:99991201T080000", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=90"],
    ],
)
def test_values_that_are_none_are_left_out_and_told(lines: list[str]) -> None:
    found = read("SUMMARY:Odd", *lines)
    assert found.teams == []
    assert [each.startswith("“Odd” ") and each.endswith("left out.") for each in found.lost] == [True]


def test_a_rule_with_very_many_times_ends() -> None:
    lines = ["DTSTART:20270301T080000", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=1000000000"]
    [row] = read("SUMMARY:Late", *lines).teams[0].roster
    assert row.to_date == "2054-07-16", "ten thousand days"


def test_what_is_changed_on_the_way_is_told() -> None:
    found = read("SUMMARY:Early", "DTSTART:20270301T080000Z", "DTEND:20270301T120000Z", "X-ROSTER-BREAKS:[{}]")
    assert found.lost == [
        "“Early” is in universal time; its hours are taken as they stand.",
        "“Early” does not say how many they are; one is taken.",
        "“Early” has breaks that cannot be read; they are left out.",
    ]
    assert len(rows(found)) == 1


def test_an_event_is_of_the_team_that_it_names() -> None:
    lines = ["DTSTART:20270301T080000", "DURATION:PT8H", "X-ROSTER-PEOPLE:2"]
    assert read("SUMMARY:team 0: late", *lines, usual=None).teams[0].team == "team-0"
    assert read("SUMMARY:Porters", *lines, usual=None).lost == ["“Porters” names no team of the study."]


@pytest.mark.parametrize(
    "text", ["", "no calendar", "BEGIN:VCALENDAR\r\nEND:VCALENDAR", "BEGIN:VEVENT\r\n", "\x00\xff"]
)
def test_what_is_no_calendar_is_refused(text: str) -> None:
    with pytest.raises(StudyError, match="no calendar with events"):
        read_calendar(text, service([WEEK]), "team-0")
