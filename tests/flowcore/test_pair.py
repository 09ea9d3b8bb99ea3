"""Two scenarios over each other: in the same bins, and by the hours of the week in which they differ."""

import numpy as np
import pytest

from flowcore.reports.comparison import Column
from flowcore.reports.pair import MOST_BINS, Spread, distributions, pair_of, week_of_differences
from flowcore.results.comparison import Verdict
from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.results.samples import STATISTICS
from flowcore.results.steady_state import INSIDE
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, row, serve

WAIT = "type/all/wait/p90"


def study_of(**run: object) -> StudyDocument:
    of = document([serve("desk", "4 min", "clerks", {"out": 1}), exit_step()], {"clerks": 1}, exponential(5))
    return read_study(of | {"start": "2027-03-01T00:00", "run": {"length": "2 wk", "replications": 6, **run}})


def of_waits(*samples: list[float]) -> Results:
    """Results of which only the waits are known."""
    rows = []
    for number, sample in enumerate(samples):
        figures = {f"type/all/wait/{name}": 0.0 for name in STATISTICS} | {"team/clerks/utilisation": number / 10}
        rows.append(Replication(number, row(figures), {"type/all/wait": Histogram.of(np.array(sample))}))
    return Results.of(rows, 0.95)


def test_cases_spread_over_the_same_bins_however_far_each_reaches() -> None:
    """Ten short waits against one long among ten: bins of both are alike, and each adds up with what is beyond."""
    short, long = of_waits([0.5] * 10), of_waits([0.5] * 9 + [900.0])
    found = distributions(short, long, WAIT)
    assert found is not None
    assert (found.of, found.start) == (Spread.CASES, 0.0)
    assert len(found.first.bins) == len(found.other.bins) <= MOST_BINS
    assert found.first.bins[0] == 1.0
    assert found.other.bins[0] == pytest.approx(0.9)
    for shares in (found.first, found.other):
        assert sum(shares.bins) + shares.beyond == pytest.approx(1.0)
    assert found.width * len(found.other.bins) >= 900


def test_a_figure_that_is_none_of_cases_spreads_over_replications() -> None:
    results = of_waits([1.0], [2.0], [3.0], [4.0])
    found = distributions(results, results, "team/clerks/utilisation")
    assert found is not None
    assert found.of is Spread.REPLICATIONS
    assert found.first == found.other
    assert sum(found.first.bins) == pytest.approx(1.0)
    assert found.start == 0.0
    assert found.start + found.width * len(found.first.bins) == pytest.approx(0.3)


def test_what_one_of_the_two_lacks_has_no_distribution() -> None:
    results = of_waits([1.0], [2.0])
    assert distributions(results, results, "team/nobody/utilisation") is None
    assert distributions(results, of_waits([], []), WAIT) is not None, "told by its replications, as no case waited"


def with_inside(study: StudyDocument, courses: np.ndarray) -> Column:
    rows = [Replication(n, row({}), {}, series={INSIDE: course}) for n, course in enumerate(courses)]
    return Column("Any", study, Results.of(rows, 0.95))


def test_hours_differ_where_they_clearly_do_and_the_warm_up_is_left_out() -> None:
    """Two weeks from a Monday by the quarter hour; one more inside on Tuesdays from 10 to 11, and 50 in the warm-up."""
    study = study_of(interval="15 min", warm_up="3 h")
    luck = np.random.default_rng(4)
    first = 5 + luck.normal(0, 1, (20, 2 * 672))
    other = first + luck.normal(0, 0.001, first.shape)
    tuesdays = [4 * (24 + 10) + 672 * week + quarter for week in (0, 1) for quarter in range(4)]
    other[:, tuesdays] += 1
    other[:, :12] += 50
    found = week_of_differences(with_inside(study, first), with_inside(study, other))
    assert [each.hour for each in found] == list(range(168)), "the second week has what the warm-up lacks"
    clear = [each for each in found if each.verdict is not Verdict.UNCLEAR]
    assert [(each.hour, each.verdict) for each in clear] == [(34, Verdict.WORSE)]
    assert clear[0].difference.mean == pytest.approx(1.0, abs=0.01)


def test_hours_that_were_not_reached_and_replications_without_a_pair_are_left_out() -> None:
    study = study_of(length="2 d", interval="60 min")
    first, other = np.ones((4, 48)), np.zeros((6, 48))
    other[5, 40:] = np.nan
    found = week_of_differences(with_inside(study, first), with_inside(study, other))
    assert [each.hour for each in found] == list(range(48)), "the sixth has no partner"
    assert {each.difference.n for each in found} == {4}
    assert {each.difference.mean for each in found} == {-1.0}
    assert week_of_differences(with_inside(study, first), Column("None", study, Results([], 0.95))) == []


def test_a_pair_of_runs_without_a_course_has_no_week() -> None:
    study = study_of()
    replications = of_waits([1.0], [2.0]).replications
    rows = [Replication(each.number, each.figures, each.histograms, {INSIDE: np.empty(0)}) for each in replications]
    column = Column("Any", study, Results.of(rows, 0.95))
    assert pair_of(column, column, WAIT).week == []
