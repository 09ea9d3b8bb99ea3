"""Scenarios side by side: verdicts and their intervals, targets, the efficient ones, and what is said of them."""

import numpy as np
import pytest

from flowcore.findings.comparison import grounds, verdict_sentences
from flowcore.findings.words import as_text
from flowcore.reports.comparison import Column, measure_rows, measures_of, trade_off
from flowcore.reports.keeping import Keeps, keeps_target
from flowcore.results.comparison import Verdict, compare, efficient
from flowcore.results.statistics import Estimate
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from flowcore.study.runs import Target
from flowcore.study.scenarios import BASELINE, apply_scenario, scenario_name
from tests.flowcore.builders import document, exit_step, exponential, serve

WAIT, COST = "type/all/wait/mean", "cost/total/per:day"


def desk(replications: int = 20, **more: object) -> StudyDocument:
    """A desk at 80 % load with one clerk, and the scenarios of two and three."""
    of = document([serve("desk", exponential(4), "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    of["teams"][0]["rate"] = 20
    of["levers"] = [{"id": "clerks", "name": "Clerks", "sets": ["/teams/clerks/size"], "values": [1, 2, 3]}]
    numbers = {2: "Two", 3: "Three"}
    of["scenarios"] = [{"id": f"s{n}", "name": name, "levers": {"clerks": n}} for n, name in numbers.items()]
    of["scenarios"].append({"id": "same", "name": "The same", "levers": {"clerks": 1}})
    of["run"] = {"length": "2 d", "replications": replications, "seed": 3}
    return read_study(of | more)


def columns_of(study: StudyDocument, *scenarios: str) -> list[Column]:
    changed = [(scenario_name(study, each), apply_scenario(study, each)) for each in (BASELINE, *scenarios)]
    return [Column(name, each, simulate(each)) for name, each in changed]


def said(columns: list[Column], *asked: str) -> list[str]:
    rows = measure_rows(columns, measures_of(columns[0].study, list(columns[0].results.values), asked), {})
    return [as_text(sentence) for sentence in verdict_sentences(columns, rows)]


def test_an_interval_holds_zero_just_where_nothing_is_clear() -> None:
    """Over many draws of five scenarios, some of which differ: verdict and interval never contradict each other."""
    luck = np.random.default_rng(8)
    verdicts = set()
    for _ in range(300):
        first = luck.normal(10, 1, 12)
        pairs = [(first, first + shift + luck.normal(0, 1, 12)) for shift in (0, 0, 0.7, 1, 3)]
        for each in compare(WAIT, pairs, 0.95):
            low, high = each.difference.low, each.difference.high
            assert low is not None
            assert high is not None
            assert (low <= 0 <= high) == (each.verdict is Verdict.UNCLEAR)
            verdicts.add(each.verdict)
    assert {Verdict.UNCLEAR, Verdict.WORSE} <= verdicts


def test_equal_systems_are_told_apart_in_no_more_than_the_wanted_share() -> None:
    """With five scenarios at once, over 2,000 families of six equal systems: 5 % within three standard errors."""
    luck = np.random.default_rng(9)
    false = 0
    for _ in range(2000):
        first = luck.exponential(10, 20)
        pairs = [(first, luck.exponential(10, 20)) for _ in range(5)]
        false += any(each.verdict is not Verdict.UNCLEAR for each in compare(WAIT, pairs, 0.95))
    assert false / 2000 < 0.05 + 3 * (0.05 * 0.95 / 2000) ** 0.5


def test_how_many_more_replications_would_tell_is_about_right() -> None:
    """With a difference of 0.1 and a spread of 1, 400 tell it; of 40, about 350 more are asked for in the median."""
    luck = np.random.default_rng(10)
    asked = []
    for _ in range(400):
        [found] = compare(WAIT, [(np.zeros(40), luck.normal(0.1, 1, 40))], 0.95)
        if found.verdict is Verdict.UNCLEAR:
            asked.append(found.more if found.more is not None else 10_000)
    assert 100 < np.median(asked) < 800
    [hopeless] = compare(WAIT, [(np.zeros(4), np.array([1.0, -1.0, 1.0, -1.0001]))], 0.95)
    assert (hopeless.verdict, hopeless.more) == (Verdict.UNCLEAR, None)


def test_a_cost_that_differs_by_the_same_in_every_replication_is_exact() -> None:
    columns = columns_of(desk(4), "s2", "same")
    [row] = measure_rows(columns, [COST], {})
    two, same = row.cells[1:]
    assert (two.exact, two.verdict, two.words) == (True, "worse", "worse")
    assert two.difference is not None
    assert two.difference.mean == pytest.approx(20 * 24)
    assert (same.exact, same.words) == (True, "same")
    assert row.cells[0].difference is None


def test_sentences_say_what_each_gains_and_costs() -> None:
    columns = columns_of(desk(), "s2", "same")
    [gain] = said(columns, WAIT, COST)
    assert gain.startswith("“Two” takes ")
    assert gain.endswith(" minutes off the wait on the whole way and costs EUR 480 a day.")
    assert said(columns_of(desk(4), "same"), WAIT, COST) == ["Nothing differs in any of the measures."]


def test_targets_come_first_and_say_who_keeps_them() -> None:
    columns = columns_of(desk(targets=[{"figure": "step/desk/wait/within:1min", "at_least": 0.9}]), "s2", "s3")
    assert measures_of(columns[0].study, [COST])[:2] == ["step/desk/wait/within:1min", COST]
    kept, three, two = said(columns)
    assert kept == "“Three” keeps the target."
    assert three.startswith("“Three” raises the share within 1 min at Desk from "), "who keeps it is told first"
    assert two.startswith("“Two” raises the share within 1 min at Desk from ")
    none = columns_of(desk(targets=[{"figure": WAIT, "at_most": "0.01 s"}]), "s2")
    assert said(none)[0] == "None of the 2 keeps the target for certain."


def test_of_many_scenarios_the_best_are_told() -> None:
    study = desk(6)
    columns = columns_of(study, "s2", "s3", "same", "s2", "s3")
    told = said(columns, WAIT, COST)
    assert len(told) == 2
    assert told[0].startswith("“The same”"), "the cheapest"
    assert told[1].startswith("“Three”"), "the quickest"


@pytest.mark.parametrize(
    ("low", "mean", "high", "keeps"),
    [(1, 2, 3, Keeps.KEPT), (4, 5, 6, Keeps.IN_DOUBT), (6, 7, 8, Keeps.MISSED), (None, 4, None, Keeps.KEPT)],
)
def test_a_target_is_kept_missed_or_not_to_be_told(
    low: float | None, mean: float, high: float | None, keeps: Keeps
) -> None:
    figure = Estimate(mean, None if low is None else 1.0, low, high, 1.0, 5)
    assert keeps_target(figure, Target(figure=WAIT, at_most="5 min")) is keeps


def test_efficient_are_those_that_no_other_beats_in_both() -> None:
    points = [(1.0, 9.0), (2.0, 5.0), (3.0, 6.0), (2.0, 5.0), (4.0, 1.0), (4.0, 2.0)]
    assert efficient(points, (-1, -1)) == [0, 1, 3, 4]
    assert efficient(points, (-1, 1)) == [0]
    columns = columns_of(desk(4), "s2", "s3", "same")
    assert trade_off(columns, COST, WAIT).efficient == [0, 3, 1, 2]


def test_what_a_comparison_rests_on() -> None:
    columns = columns_of(desk(5), "s2", "s3")
    rows = measure_rows(columns, [WAIT], {})
    assert grounds(columns, rows) == (
        "5 replications of 2 d side by side, the same cases with the same luck in each. "
        "Intervals at 95 %, adjusted for 2 comparisons."
    )
    [alone, other] = columns_of(desk(1), "s2")
    assert "says nothing about luck" in grounds([alone, other], measure_rows([alone, other], [WAIT], {}))


def test_another_way_may_be_better() -> None:
    columns = columns_of(desk(6), "s2")
    load = "team/clerks/utilisation"
    assert measure_rows(columns, [load], {})[0].cells[1].words == "lower"
    assert measure_rows(columns, [load], {load: 1})[0].cells[1].words == "worse"
