"""What an ordinary week brings and what rosters give, hour by hour; and the checks that compare the two."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from flowcore.checks import check_study
from flowcore.problems import Severity
from flowcore.study import StudyDocument, read_study
from flowcore.study.streams import Slots
from flowcore.study.timetable import slot_times
from flowcore.theory.weekly import arrivals_in_week, members_in_week, work_in_week
from tests.flowcore.builders import exit_step, serve

SLOTS = json.loads((Path(__file__).parents[1] / "shared" / "slots.json").read_text())
WORKDAYS = ["mon", "tue", "wed", "thu", "fri"]
STREAM = {"id": "cases", "name": "Cases", "to": "desk"}


def week(stream: dict[str, Any], roster: list[dict[str, Any]] | None = None, **more: Any) -> StudyDocument:
    """One desk on a study that starts on a Wednesday."""
    clerks = {"id": "clerks", "name": "Clerks"} | ({"size": 1} if roster is None else {"roster": roster})
    calendar = {
        "id": "doors",
        "name": "Doors",
        "weekly": [{"days": WORKDAYS, "from": "09:00", "to": "12:30"}],
    }
    return read_study(
        {
            "name": "Week",
            "start": "2027-03-03T07:30",
            "calendars": [calendar],
            "streams": [STREAM | stream],
            "steps": [serve("desk", "6 min", "clerks", {"out": 1}), exit_step()],
            "teams": [clerks],
        }
        | more
    )


def hours(study: StudyDocument) -> dict[int, float]:
    found = arrivals_in_week(study, study.streams[0])
    return {int(hour): round(float(found[hour]), 6) for hour in np.flatnonzero(found)}


def test_random_cases_come_while_the_doors_are_open() -> None:
    found = hours(week({"kind": "random", "gap": "5 min", "open": "doors"}))
    assert {hour: found[hour] for hour in range(24, 48) if hour in found} == {33: 12, 34: 12, 35: 12, 36: 6}
    assert len(found) == 20


def test_a_chance_in_each_interval_and_groups() -> None:
    study = week(
        {"kind": "random", "chance": {"every": "10 min", "probability": 0.5}, "group": {"dist": "poisson", "mean": 2}}
    )
    assert set(hours(study).values()) == {6.0}


def test_a_profile_by_the_quarter_hour_that_stops_at_noon() -> None:
    assert hours(week({"kind": "profile", "interval": "15 min", "week": {"tue": [0.0] * 36 + [1, 2, 3, 4, 5]}})) == {
        33: 10,
        34: 5,
    }


def test_appointments_kept_and_not_kept() -> None:
    session = {"days": ["sun"], "from": "23:30", "to": "00:30", "every": "20 min", "places": 5}
    study = week({"kind": "appointments", "sessions": [session], "filled": 0.8, "no_show": 0.5})
    assert hours(study) == {0: 2, 167: 4}


def test_dates_are_spread_over_the_weeks_of_the_run() -> None:
    arrivals = [{"at": "2027-03-03T10:15:00"}, {"at": "2027-03-10T10:45:00"}, {"at": "2027-03-09T10:00:00"}]
    study = week({"kind": "dates", "arrivals": arrivals}, run={"length": "2 wk"})
    assert hours(study) == {34: 0.5, 58: 1}


def test_members_by_hour_with_a_night_shift() -> None:
    roster = [
        {"days": WORKDAYS, "from": "08:30", "to": "12:00", "people": 2},
        {"days": ["sun"], "from": "22:00", "to": "02:00", "people": 1},
    ]
    study = week({"kind": "random", "gap": "5 min"}, roster)
    found = members_in_week(study, study.teams[0])
    assert found[[0, 1, 2, 8, 9, 11, 12, 166]].tolist() == [1, 1, 0, 1, 2, 2, 0, 1]


def test_work_by_hour_counts_rework_and_several_at_once() -> None:
    desk = serve("desk", "6 min", None, {"desk": 0.5, "out": 0.5}, needs=[{"team": "clerks", "count": 2}])
    study = week({"kind": "random", "gap": "30 min"}, None, steps=[desk, exit_step()])
    assert work_in_week(study)["clerks"] == pytest.approx(np.full(168, 2 * 2 * 6 * 2 / 60))


def doubts(study: StudyDocument) -> list[tuple[str, str]]:
    return [(each.where, each.what) for each in check_study(study) if each.level is Severity.WARNING]


ROSTER = [{"days": WORKDAYS, "from": "10:00", "to": "17:00", "people": 2}]


def test_cases_that_come_before_the_shift_are_told_of() -> None:
    [(where, what)] = doubts(week({"kind": "random", "gap": "5 min", "open": "doors"}, ROSTER))
    assert where == "teams/clerks/roster"
    assert "from Mon 09:00 to 10:00 and in 4 other hours of the week" in what


def test_work_that_piles_up_is_told_of() -> None:
    profile = {"kind": "profile", "interval": "60 min", "week": {"mon": [0.0] * 10 + [60, 0, 0, 0]}}
    [(where, what)] = doubts(week(profile, ROSTER))
    assert where == "teams/clerks/roster"
    assert "by Mon 11:00 work has piled up that takes them 2.0 h" in what


def test_a_week_that_fits_is_not_doubted() -> None:
    profile = {"kind": "profile", "interval": "60 min", "week": {"mon": [0.0] * 10 + [10, 20, 20, 10]}}
    assert doubts(week(profile, ROSTER)) == []


@pytest.mark.parametrize("case", SLOTS, ids=lambda case: case["name"])
def test_the_slots_of_a_session(case: dict[str, Any]) -> None:
    session = Slots.model_validate(case["session"])
    assert slot_times(session).tolist() == pytest.approx(case["minutes"], abs=1e-9)
