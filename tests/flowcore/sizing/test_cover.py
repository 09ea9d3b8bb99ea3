"""Covers against enumeration by hand, and against problems of the literature with a known optimum."""

from itertools import product
from math import ceil

import numpy as np
import pytest

from flowcore.problems import StudyError
from flowcore.results.week_grid import Floats, Grid
from flowcore.sizing.staffing.cover import Cover, Covering
from flowcore.sizing.staffing.plans import rows_of
from flowcore.sizing.staffing.shifts import presence_of_rows, tours_of
from flowcore.study import StudyDocument, read_study
from flowcore.study.sizing import TeamLimits
from flowcore.study.timetable import overtime_minutes
from flowcore.theory.weekly import wages_in_week
from tests.flowcore.builders import Part
from tests.flowcore.sizing.studies import busy_noon

GRID = Grid(60.0)


def limits_of(**more: object) -> TeamLimits:
    plain: Part = {"team": "clerks", "people": {"low": 0, "high": 60}, "rest": "0 min"}
    return TeamLimits.model_validate(plain | more)


def study_with(rate: float = 20.0) -> StudyDocument:
    document = busy_noon().model_dump(mode="json")
    document["teams"][0]["rate"] = rate
    return read_study(document)


def cover(limits: TeamLimits, need: Floats, grid: Grid = GRID) -> Cover:
    return Covering(study_with(), [limits], range(7), grid).solve({("clerks",): need})


def by_day(*members: int) -> Floats:
    return np.repeat(np.array(members, np.float64), GRID.a_day)


WHOLE_DAYS: Part = {"lengths": ["24 h"], "starts": ["00:00"]}
POST_OFFICE = (17, 13, 15, 19, 14, 16, 11)


def test_days_off_together_have_the_known_optimum_of_the_post_office() -> None:
    """Winston, Operations Research: Applications and Algorithms (2004), section 3.5: 23 with whole numbers."""
    found = cover(limits_of(days=5, off_together=True, shifts=[WHOLE_DAYS]), by_day(*POST_OFFICE))
    assert len(found.plan.people["clerks"]) == 23


def test_two_days_off_at_any_time_have_the_known_optimum() -> None:
    """Brownell and Lowerre, Scheduling of work forces in continuous operations, Management Science 22 (1976)."""
    found = cover(limits_of(days=5, shifts=[WHOLE_DAYS]), by_day(*POST_OFFICE))
    assert len(found.plan.people["clerks"]) == max(ceil(sum(POST_OFFICE) / 5), *POST_OFFICE)


def test_no_more_than_so_many_days_in_a_row_are_worked() -> None:
    tours = tours_of(limits_of(days=4, in_a_row=2, shifts=[WHOLE_DAYS]), range(7))
    assert all(not {day, (day + 1) % 7, (day + 2) % 7} <= set(tour.days) for tour in tours for day in range(7))
    assert len(tours) == 14


HOURS = [(begin, length) for begin in (8, 9, 10) for length in (4, 6)]
NEED_OF_A_DAY = {8: 1, 9: 2, 10: 3, 11: 3, 12: 2, 13: 2, 14: 1}


def cheapest_by_enumeration() -> float:
    """The least hours of shifts of one day with which as many are there in each hour as are needed."""
    best = float("inf")
    for counts in product(range(4), repeat=len(HOURS)):
        chosen = list(zip(HOURS, counts, strict=True))
        hours = sum(length * many for (_, length), many in chosen)
        if hours < best and all(
            sum(many for (begin, length), many in chosen if begin <= hour < begin + length) >= members
            for hour, members in NEED_OF_A_DAY.items()
        ):
            best = hours
    return best


def test_a_cover_of_one_day_costs_what_enumeration_finds() -> None:
    need = np.zeros(GRID.count)
    for hour, members in NEED_OF_A_DAY.items():
        need[hour] = members
    shifts = [{"lengths": ["4 h", "6 h"], "from": "08:00", "to": "10:00", "every": "60 min", "days": ["mon"]}]
    found = cover(limits_of(days=1, shifts=shifts), need)
    assert sum(person.tour.paid for person in found.plan.people["clerks"]) / 60 == cheapest_by_enumeration()
    assert found.gap <= 0.005


def test_breaks_are_taken_in_their_windows_and_where_somebody_can_be_spared() -> None:
    need = np.zeros(GRID.count)
    need[8:16] = 1
    shifts = [{"lengths": ["8 h"], "starts": ["08:00"], "days": ["mon"]}]
    with_breaks = [shifts[0] | {"breaks": [{"length": "60 min", "from": "3 h", "to": "5 h"}]}]
    alone = cover(limits_of(days=1, shifts=shifts), need)
    both = cover(limits_of(days=1, shifts=with_breaks), need)
    assert len(alone.plan.people["clerks"]) == 1
    [one, other] = [person.shifts[0].breaks[0][0] for person in both.plan.people["clerks"]]
    assert one != other
    assert {one, other} <= {180.0, 240.0, 300.0}


def test_rows_have_everybody_there_whom_the_plan_has_there() -> None:
    study = busy_noon()
    grid = Grid(30.0)
    covering = Covering(study, study.sizing[0].teams, range(5), grid)
    need = np.tile(np.where((np.arange(48) >= 16) & (np.arange(48) < 32), 3.0, 0.0), 7)
    need[5 * 48 :] = 0
    plan = covering.solve({("clerks",): need}).plan
    rows = rows_of(plan.people["clerks"])
    assert np.allclose(presence_of_rows(rows, grid), covering.coverage(plan)["clerks"])
    assert (covering.coverage(plan)["clerks"] >= need - 1e-9).all()


WORKDAYS = ["mon", "tue", "wed", "thu", "fri"]
LONGER: Part = {"lengths": ["8 h", "9 h", "10 h"], "starts": ["08:00", "09:00", "10:00"], "days": WORKDAYS}


@pytest.mark.parametrize(
    ("until", "overtime", "people", "hours"),
    [(16, "5 h", 1, 40.0), (17, "5 h", 1, 47.5), (18, "5 h", 2, 80.0), (17, "4 h", 2, 80.0)],
)
def test_overtime_is_planned_where_it_is_cheaper_than_one_more(
    until: int, overtime: str, people: int, hours: float
) -> None:
    """Nine hours on five days are 40 at the rate and 5 at one and a half times it; a second member costs 40 more."""
    study = study_with(20.0)
    study.teams[0].overtime = 1.5
    limits = limits_of(days=5, hours="40 h", overtime=overtime, shifts=[LONGER])
    need = np.zeros((7, 24))
    need[:5, 8:until] = 1
    covering = Covering(study, [limits], range(7), GRID)
    found = covering.solve({("clerks",): need.ravel()})
    assert len(found.plan.people["clerks"]) == people
    assert found.cost == pytest.approx(20.0 * hours, abs=1.0)
    rows = rows_of(found.plan.people["clerks"])
    assert sum(overtime_minutes(row) for row in rows) == (300 if hours == 47.5 else 0)
    study.teams[0].roster = rows
    assert wages_in_week(study, study.teams[0]) == pytest.approx(20.0 * hours)


def test_overtime_without_hours_beyond_which_it_is_says_so() -> None:
    with pytest.raises(StudyError, match="no hours a week beyond"):
        cover(limits_of(overtime="5 h", shifts=[LONGER]), np.zeros(GRID.count))


def test_part_time_members_are_as_many_as_there_may_be() -> None:
    need = np.zeros(GRID.count)
    need[8:12] = 5
    full = {"lengths": ["8 h"], "starts": ["08:00"], "days": ["mon"]}
    part = {"name": "Mornings", "people": 2, "days": 1, "shifts": [{"lengths": ["4 h"], "starts": ["08:00"]}]}
    found = cover(limits_of(days=1, shifts=[full], kinds=[part]), need)
    kinds = sorted(person.tour.kind for person in found.plan.people["clerks"])
    assert kinds == ["", "", "", "Mornings", "Mornings"]


def test_fixed_rows_are_there_and_counted() -> None:
    need = np.zeros(GRID.count)
    need[8:16] = 3
    shifts = [{"lengths": ["8 h"], "starts": ["08:00"], "days": ["mon"]}]
    fixed = [{"days": ["mon"], "from": "08:00", "to": "16:00", "people": 2}]
    found = cover(limits_of(days=1, shifts=shifts, fixed=fixed, people={"low": 0, "high": 3}), need)
    assert len(found.plan.people["clerks"]) == 1
    assert not found.short


def test_what_cannot_be_covered_says_where_and_how_many_are_lacking() -> None:
    need = np.zeros(GRID.count)
    need[8:16] = 3
    need[12] = 5
    shifts = [{"lengths": ["8 h"], "starts": ["08:00"], "days": ["mon"]}]
    found = cover(limits_of(days=1, shifts=shifts, people={"low": 0, "high": 4}), need)
    assert GRID.words(int(np.argmax(found.short["clerks"]))) == "mon 12:00"
    assert found.short["clerks"].sum() == pytest.approx(1.0, abs=1e-3)


def test_who_works_late_does_not_begin_early_on_the_next_day() -> None:
    shifts = [{"lengths": ["8 h"], "starts": ["06:00"], "days": ["tue"]}, {"lengths": ["8 h"], "starts": ["14:00"]}]
    rested = tours_of(limits_of(days=2, rest="11 h", shifts=shifts), [0, 1])
    tired = tours_of(limits_of(days=2, rest="8 h", shifts=shifts), [0, 1])
    assert {tuple(hours.begin for hours in tour.hours) for tour in rested} == {(840.0, 840.0)}
    assert {tuple(hours.begin for hours in tour.hours) for tour in tired} == {(840.0, 360.0), (840.0, 840.0)}


def test_limits_that_contradict_one_another_are_an_error() -> None:
    """Seven days a week and at most two in a row leave nobody but the one who works on mornings, and three must be."""
    mornings = {"name": "Mornings", "people": 1, "days": 1, "shifts": [{"lengths": ["4 h"], "starts": ["08:00"]}]}
    limits = limits_of(people={"low": 3, "high": 8}, days=7, in_a_row=2, shifts=[WHOLE_DAYS], kinds=[mornings])
    with pytest.raises(StudyError, match="contradict one another"):
        cover(limits, by_day(1, 1, 1, 1, 1, 1, 1))
