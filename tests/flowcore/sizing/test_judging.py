"""What targets say of trials: by hand, beside the figures of a run, and where there is nothing to tell."""

import numpy as np
import pytest

from flowcore.results.aims import Aims, target_problems
from flowcore.results.week_grid import interval_of
from flowcore.simulate import simulate
from flowcore.sizing.aiming.judging import (
    figure_of_first,
    holds_in,
    least_margin,
    margins_of,
    replications_needed,
)
from flowcore.sizing.aiming.trials import AS_IT_IS, Outcome, Staffing, Trial, run_trial
from flowcore.study import StudyDocument
from flowcore.study.runs import Target
from tests.flowcore.builders import Part
from tests.flowcore.sizing.studies import busy_noon

NUMBERS = tuple(range(10))


def aims_of(study: StudyDocument, *targets: Part) -> Aims:
    return Aims(study, [Target.model_validate(each) for each in targets], interval_of(study))


def tried(targets: list[Part], staffing: Staffing = AS_IT_IS) -> tuple[Aims, Outcome]:
    study = busy_noon()
    aims = aims_of(study, *targets)
    return aims, run_trial(study, aims, Trial(staffing, NUMBERS))


@pytest.mark.parametrize(
    ("target", "figure"),
    [
        ({"at_least": 0.8}, "step/desk/wait/within:5min"),
        ({"at_most": "3 min"}, "step/desk/wait/mean"),
        ({"at_most": 0.9}, "team/clerks/utilisation"),
        ({"at_most": 500}, "cost/total/per:day"),
        ({"at_least": 100}, "type/all/completed"),
    ],
)
def test_a_margin_is_the_figure_of_a_run_less_its_limit(target: Part, figure: str) -> None:
    aims, outcome = tried([target | {"figure": figure}])
    told = simulate(busy_noon()).figure(figure).mean
    assert told is not None
    [margins] = margins_of(aims, outcome)
    [aim] = aims.aims
    assert margins.mean[0] == pytest.approx(aim.sign * (told - aim.limit) / aim.scale)


def test_a_percentile_keeps_its_limit_just_where_the_share_within_does() -> None:
    told = simulate(busy_noon()).figure("step/desk/wait/p90").mean
    assert told is not None
    for limit, holds in ((told - 0.2, False), (told + 0.2, True)):
        aims, outcome = tried([{"figure": "step/desk/wait/p90", "at_most": f"{limit} min"}])
        assert bool(margins_of(aims, outcome)[0].mean[0] >= 0) is holds


def test_intervals_and_days_add_up_to_the_run() -> None:
    target = {"figure": "step/desk/wait/within:5min", "at_least": 0.8}
    aims, outcome = tried([target | {"by": by} for by in ("interval", "day")])
    (_, intervals), (_, days) = aims.split(outcome.cells)
    assert intervals.sum(axis=2) == pytest.approx(days.sum(axis=2))
    assert days[:, 1, 5:].sum() == 0
    assert np.flatnonzero(intervals[:, 1].sum(axis=0)).min() == 16


def test_utilisation_by_interval_is_that_of_the_members_on_duty() -> None:
    aims, outcome = tried([{"figure": "team/clerks/utilisation", "at_most": 0.9, "by": "interval"}])
    _, cells = next(aims.split(outcome.cells))
    at_noon = cells[:, :, 24].sum(axis=0)
    assert at_noon[1] == pytest.approx(4 * 30 * 2 * len(NUMBERS))
    assert 0.7 < at_noon[0] / at_noon[1] < 1


def test_a_count_of_a_week_is_held_against_so_many_weeks() -> None:
    [weekly] = aims_of(busy_noon(), {"figure": "type/all/completed", "at_most": 10, "per": "week"}).aims
    assert weekly.limit == 20


def test_nothing_is_kept_of_which_nothing_is_known() -> None:
    nobody = Staffing({"clerks": []}, {}, {})
    aims, outcome = tried([{"figure": "step/desk/wait/within:5min", "at_least": 0.8}], nobody)
    assert outcome.stands_still
    assert least_margin(aims, outcome) < 0
    aims, outcome = tried([{"figure": "step/desk/blocked/p90", "at_most": "5 min"}])
    assert least_margin(aims, Outcome(outcome.costs, np.zeros_like(outcome.cells))) < 0


def test_a_target_that_is_tightened_allows_less_to_be_missed() -> None:
    aims = aims_of(busy_noon(), {"figure": "step/desk/wait/within:5min", "at_least": 0.8})
    assert aims.with_misses(0.5).aims[0].limit == pytest.approx(0.9)
    assert (
        aims_of(busy_noon(), {"figure": "step/desk/wait/mean", "at_most": "4 min"}).with_misses(0.5).aims[0].limit == 2
    )
    assert aims.aims[0].limit == 0.8


def test_how_often_and_how_surely_a_figure_is_kept() -> None:
    aims = aims_of(busy_noon(), {"figure": "type/all/completed", "at_least": 10})
    values = np.array([9.0, 11.0, 12.0, 12.0])
    outcome = Outcome(np.ones(4), np.stack([values, np.ones(4)], axis=1)[:, :, None])
    assert holds_in(aims, outcome) == 3
    figure, error = figure_of_first(aims, outcome)
    assert figure == 11
    assert error == pytest.approx(values.std(ddof=1) / 2)
    assert replications_needed(aims, outcome) == 20


@pytest.mark.parametrize(
    ("target", "words"),
    [
        ({"figure": "step/moon/wait/p90", "at_most": "5 min"}, "There is no figure"),
        ({"figure": "step/desk/wait/max", "at_most": "5 min", "by": "day"}, "not told by day"),
        ({"figure": "cost/total/per:day", "at_most": 5, "by": "interval"}, "not told by interval"),
        ({"figure": "nothing/at/all", "at_most": 5}, "There is no figure"),
    ],
)
def test_a_target_that_cannot_be_aimed_at_is_named(target: Part, words: str) -> None:
    study = busy_noon()
    [problem] = target_problems(study, [Target.model_validate(target)], "targets")
    assert problem.where == "targets/0"
    assert words in problem.what


def test_the_warm_up_is_left_out_of_the_line_of_an_interval() -> None:
    study = busy_noon()
    warmed = study.model_copy(update={"run": study.run.model_copy(update={"length": "3 wk", "warm_up": "1 wk"})})
    target = {"figure": "step/desk/line/mean", "at_most": 3, "by": "day"}
    aims = aims_of(warmed, target)
    outcome = run_trial(warmed, aims, Trial(AS_IT_IS, NUMBERS))
    assert outcome.cells[:, 1, 0] == pytest.approx(np.full(len(NUMBERS), 2 * 24 * 60))
    mean = simulate(warmed).figure("step/desk/line/mean").mean
    assert outcome.cells[:, 0].sum() / outcome.cells[:, 1].sum() == pytest.approx(mean)
