"""Work that outlives its people: told where cases are seen to wait for it, and nowhere else."""

from typing import Any

import pytest

from flowcore.reports.day_end import day_ends
from flowcore.reports.pulse import by_simulation
from flowcore.results.steady_state import doubts
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from flowcore.theory.after_hours import outlived
from tests.flowcore.builders import Part, exit_step, exponential, serve

WORKDAYS = ["mon", "tue", "wed", "thu", "fri"]


def shift(begin: str, end: str) -> Part:
    return {"days": WORKDAYS, "from": begin, "to": end, "people": 2}


def hall(middle: Part, desk_until: str = "16:00", counter_until: str = "16:00", **closing: Any) -> StudyDocument:
    """A counter, something in the middle, and a last desk; doors are open from 8 to 16."""
    teams = [
        {"id": "clerks", "name": "Clerks", "roster": [shift("08:00", counter_until)]},
        {"id": "officers", "name": "Officers", "roster": [shift("08:00", desk_until)], "closing": closing},
    ]
    return read_study(
        {
            "name": "Hall",
            "start": "2027-03-01T08:00",
            "calendars": [
                {"id": "doors", "name": "Doors", "weekly": [{"days": WORKDAYS, "from": "08:00", "to": "16:00"}]}
            ],
            "streams": [
                {"id": "in", "name": "In", "kind": "random", "gap": exponential(9), "open": "doors", "to": "counter"}
            ],
            "steps": [
                serve("counter", exponential(6), "clerks", {"middle": 1}),
                {"id": "middle", "name": "Middle", "next": [{"to": "desk"}]} | middle,
                serve("desk", exponential(5), "officers", {"out": 1}),
                exit_step(),
            ],
            "teams": teams,
            "run": {"length": "1 wk", "replications": 4, "seed": 5},
        }
    )


REST: Part = {"kind": "delay", "time": "40 min"}
NOTHING: Part = {"kind": "choose"}


def found(study: StudyDocument) -> list[tuple[str, str, float, float]]:
    return [(each.step.id, each.feeder.id, each.gone % 1440 / 60, each.until % 1440 / 60) for each in outlived(study)]


def test_who_rests_until_after_the_last_desk_has_gone() -> None:
    """Cases leave the counter until 16:00 and their rest room until 16:45, by quarters; the desk shuts at 16."""
    study = hall(REST)
    assert found(study) == [("desk", "middle", 16.0, 16.75)]
    [told] = [each for each in doubts(study, simulate(study)) if "nobody any more" in each.what]
    assert told.where == "teams/officers/closing"
    assert told.what.startswith(
        "Desk has nobody any more from Mon 16:00 on, and cases come from Middle until Mon 16:45"
    )
    assert by_simulation(study, seconds=600).doubts[0].where == "teams/officers/closing"


def test_who_works_until_later_sends_cases_on_through_what_takes_no_time() -> None:
    assert found(hall(NOTHING, desk_until="15:30")) == [("desk", "counter", 15.5, 16.0)]
    assert found(hall(NOTHING)) == []


def test_a_later_shift_or_an_earlier_end_of_the_counter_is_enough() -> None:
    assert found(hall(REST, desk_until="17:00")) == []
    assert found(hall(REST, counter_until="15:15")) == []


def test_what_nobody_waits_for_is_not_told() -> None:
    """The officers stay until the hall is empty: nobody is left for the next day."""
    study = hall(REST, stay="empty")
    assert found(study) == []
    assert not any("nobody any more" in each.what for each in doubts(study, simulate(study)))


def test_where_cases_lie_overnight_anyway_nothing_is_told() -> None:
    casework = hall({"kind": "delay", "time": "3 d"})
    assert not any("nobody any more" in each.what for each in doubts(casework, simulate(casework)))


def test_who_stays_for_the_line_alone_does_not_see_those_who_come_later() -> None:
    assert found(hall(REST, stay="clear-line")) == [("desk", "middle", 16.0, 16.75)]


def test_a_service_without_shifts_or_that_never_stops_is_left_alone() -> None:
    always = hall(REST)
    always.streams[0].open = None
    for team in always.teams:
        team.roster = []
    assert found(always) == []


def test_the_mean_week_of_a_day_that_ends() -> None:
    """Nobody comes after 16:00, the line runs out by the next morning, the officers are there while they stay."""
    week = day_ends(hall(REST, stay="empty"))
    assert week.weeks == 8
    monday = slice(64, 68)
    assert week.arrived[monday] == [0.0] * 4
    assert sum(each or 0 for each in week.arrived[32:64]) == pytest.approx(8 * 60 / 9, rel=0.2)
    there = week.there["officers"]
    assert there[63] == pytest.approx(2.0)
    assert 0 < (there[64] or 0) < 2.001
    assert there[90] == 0
    assert week.waiting[32] is not None
