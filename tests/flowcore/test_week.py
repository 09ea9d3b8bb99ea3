"""Figures by the hour of the week, how cases spread, where minutes go, and the course of a run: worked by hand."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings

from flowcore.problems import StudyError
from flowcore.reports.course import MOST_POINTS, course_of
from flowcore.reports.findings import Summary, summary_of
from flowcore.reports.minutes import minutes_at_steps, minutes_of_types
from flowcore.reports.spread import spread_of
from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.results.statistics import STATISTICS, sample_statistics
from flowcore.results.week import HOURS_A_WEEK
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, serve
from tests.flowcore.days import cases_at, day, desk, shift, team
from tests.flowcore.random_studies import documents

EIGHT = 8
"""The hour of the week in which days begin: Monday 8:00."""


def hour(of: StudyDocument, quantity: str, number: int) -> float | None:
    return simulate(of).figure(f"{quantity}/hour:{number}").mean


def test_an_hour_of_the_week_by_hand() -> None:
    """Cases at 10, 70 and 75 with ten minutes of work each; the last waits five minutes, from 9:15 on."""
    of = day([cases_at([10, 70, 75])], [desk()], [team()])
    assert hour(of, "step/desk/wait", EIGHT + 1) == 2.5
    assert hour(of, "type/all/wait", EIGHT + 1) == 2.5
    assert hour(of, "step/desk/line", EIGHT + 1) == pytest.approx(5 / 60)
    assert hour(of, "step/desk/arrived", EIGHT + 1) == 2
    assert hour(of, "stream/cases/arrived", EIGHT) == 1
    assert hour(of, "team/clerks/utilisation", EIGHT + 1) == pytest.approx(20 / 60)
    assert hour(of, "team/clerks/state:idle", EIGHT + 1) == pytest.approx(40 / 60)
    assert hour(of, "step/desk/wait", EIGHT + 2) is None, "nobody came"
    assert hour(of, "step/desk/wait", 0) is None, "the run has no such hour"


def test_hours_are_means_over_the_weeks_and_over_replications() -> None:
    """On two Mondays at 8:10 one case and three, on quarters of an hour: two an hour, of whom one waits 10, one 20."""
    of = day([cases_at([10, *[10080 + 10] * 3])], [desk()], [team()], "2 wk", run={"interval": "15 min"})
    assert hour(of, "stream/cases/arrived", EIGHT) == 2
    assert hour(of, "step/desk/arrived", EIGHT) == 2
    assert hour(of, "step/desk/wait", EIGHT) == 7.5
    assert hour(of, "team/clerks/utilisation", EIGHT) == pytest.approx((10 + 30) / 120)


def test_the_warm_up_is_in_no_hour() -> None:
    of = day([cases_at([10, 10080 + 10])], [desk()], [team()], "2 wk", run={"warm_up": "1 wk"})
    assert hour(of, "stream/cases/arrived", EIGHT) == 1
    assert hour(of, "step/desk/arrived", EIGHT) == 1


def test_states_of_members_by_the_hour() -> None:
    """One clerk from 8:00 to 9:30 with a break of 15 minutes at 9:00; two clerks are rostered at most."""
    pause = {"after": "60 min", "length": "15 min"}
    clerks = team(roster=[shift(0, 90, breaks=[pause])], absence=0.0)
    of = day([cases_at([60])], [desk("5 min")], [clerks])
    states = {state: hour(of, f"team/clerks/state:{state}", EIGHT + 1) for state in ("break", "working", "idle", "off")}
    assert states == pytest.approx({"break": 0.25, "working": 5 / 60, "idle": 10 / 60, "off": 0.5})


def test_a_week_in_words_and_of_a_quantity_that_is_not_there() -> None:
    of = day([cases_at([10, 70, 75])], [desk()], [team()])
    weeks = summary_of(of, simulate(of)).weeks
    week = weeks["step/desk/wait"]
    assert (week.title.name, len(week.mean)) == ("Wait at Desk", HOURS_A_WEEK)
    assert (week.mean[EIGHT + 1], week.mean[0]) == (2.5, None)
    assert "step/nobody/wait" not in weeks


def test_how_waits_spread_with_the_bulk_on_the_axis() -> None:
    """Of a hundred cases sixty do not wait, thirty-eight up to 19 minutes, two over a day for the next shift."""
    waits = [0.0] * 60 + [n / 2 for n in range(1, 39)] + [1500.0, 1600.0]
    replication = simulate(day([cases_at([0.0])], [desk()], [team()])).replications[0]
    of = day([cases_at([0.0])], [desk()], [team()], targets=[{"figure": "type/all/wait/p90", "at_most": "10 min"}])
    results = with_waits(replication, waits)
    spread = spread_of(of, results, "type/all/wait", results.figures())
    assert spread is not None
    assert spread.none == 0.6
    assert spread.beyond == pytest.approx(0.02)
    assert sum(spread.bars) == pytest.approx(0.38)
    assert 19 <= spread.width * len(spread.bars) <= 64
    assert spread.limit is not None
    assert spread.limit.at_most == 10
    assert spread.within is not None
    assert spread.within.mean == pytest.approx(0.8)
    assert spread.beyond_words.startswith("2.0 % beyond ")
    assert spread.beyond_words.endswith("up to 26.7 hours")


def with_waits(replication: Replication, waits: list[float]) -> Results:
    """Return results of one replication, of whose figures the waits are these."""
    values = np.array(waits)
    names = (f"type/all/wait/{name}" for name in STATISTICS)
    figures = dict(replication.figures) | dict(zip(names, sample_statistics(values).tolist(), strict=True))
    return Results([replace(replication, figures=figures, histograms={"type/all/wait": Histogram.of(values)})], 0.95)


def test_a_spread_of_nobody_and_of_those_who_never_wait() -> None:
    of = day([cases_at([0.0])], [desk()], [team()])
    results = simulate(of)
    spread = spread_of(of, results, "type/all/wait", results.figures())
    assert spread is not None
    assert (spread.none, spread.beyond, sum(spread.bars), spread.beyond_words) == (1.0, 0.0, 0.0, "")
    assert spread_of(of, results, "step/nobody/wait", {}) is None


ANY = settings(max_examples=40, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck))


@ANY
@given(documents(length="30 h", warm_up="1 h", replications=2))
def test_minutes_by_cause_add_up_in_every_bar_and_everything_is_summed_up(written: dict[str, Any]) -> None:
    study = read_study(written)
    try:
        results = simulate(study)
    except StudyError as error:
        assume("stand" not in str(error))
        raise
    for bar in minutes_of_types(study, results.figures()):
        assert bar.whole == pytest.approx(bar.total.mean, rel=1e-6, abs=1e-9), bar.name
    for bar in minutes_at_steps(study, results.figures()):
        waited = sum(part.minutes for part in bar.parts if part.part != "work")
        assert waited == pytest.approx(bar.total.mean, rel=1e-6, abs=1e-9), bar.name
    summary = summary_of(study, results)
    assert Summary.model_validate_json(summary.model_dump_json()) == summary
    for spread in summary.spreads.values():
        assert sum(spread.bars) + spread.none + spread.beyond == pytest.approx(1, abs=1e-6)
    costs = sum(line.per_open_day for line in summary.findings.costs)
    assert costs == pytest.approx(summary.figures["cost/total/per:open-day"].mean or 0.0)


def test_a_course_has_few_enough_points_and_says_what_is_left_out() -> None:
    of = document([serve("desk", exponential(4), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    run = {"length": "6 wk", "warm_up": "1 d", "replications": 3, "seed": 3, "interval": "15 min"}
    study = read_study(of | {"run": run})
    results = simulate(study)
    course = course_of(study, results)
    assert len(course.mean) == len(course.low) == len(course.high) <= MOST_POINTS
    assert course.every * len(course.mean) == pytest.approx(6 * 10080, rel=0.02)
    assert np.mean(course.mean) == pytest.approx(results.figure("type/all/inside/mean").mean, rel=0.1)
    assert course.warm_up == 1440
    assert all(low <= high for low, high in zip(course.low, course.high, strict=True))
