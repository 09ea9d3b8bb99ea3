"""Statistics over samples and replications."""

import numpy as np
import pytest
from numpy.typing import NDArray

from flowcore.kernel.summary.histograms import PER_OCTAVE
from flowcore.kernel.summary.statistics import statistics
from flowcore.results.comparison import Verdict, compare
from flowcore.results.histogram import Histogram, edges
from flowcore.results.statistics import STATISTICS, cautious_p_value, estimate, sample_statistics
from flowcore.study.differences import differences
from tests.flowcore.builders import exit_step, exponential, serve, study


def test_statistics_of_a_sample_against_numpy() -> None:
    values = np.random.default_rng(5).exponential(3, 501)
    values[:50] = 0
    found = dict(zip(STATISTICS, sample_statistics(values), strict=True))
    assert found["mean"] == pytest.approx(values.mean())
    assert found["sd"] == pytest.approx(values.std(ddof=1))
    assert found["none"] == pytest.approx(50 / 501)
    for percentile in (5, 10, 25, 50, 75, 90, 95, 99):
        assert found[f"p{percentile}"] == pytest.approx(np.percentile(values, percentile))


LONG = np.random.default_rng(3).exponential(1.0, 20_000)
HARD_TO_COUNT = {
    "a few that are immense": np.concatenate([LONG, [1e9, 1e300]]),
    "some next to nothing": np.concatenate([LONG, 1e-13 * LONG[:5000], np.full(900, 5e-324)]),
    "most of them the same": np.concatenate([np.full(9000, 0.8), LONG]),
    "two in turn": np.tile([0.4, 0.8], 3000),
    "up and down": np.abs((np.arange(20_000) % 500) - 250.0),
    "zeros and one": np.concatenate([np.zeros(5000), [3.0]]),
    "in their order": np.sort(LONG),
    "against it": np.sort(LONG)[::-1].copy(),
    "a constant but for rounding": (288_000 * LONG + 0.4) - 288_000 * LONG,
    "some below zero": LONG - 0.1,
}


@pytest.mark.parametrize("values", HARD_TO_COUNT.values(), ids=HARD_TO_COUNT.keys())
def test_percentiles_are_those_of_the_values_in_order(values: NDArray[np.float64]) -> None:
    found = dict(zip(STATISTICS, sample_statistics(values), strict=True))
    ordered = np.sort(values)
    for share in (5, 10, 25, 50, 75, 90, 95, 99):
        position = (len(values) - 1) * share / 100
        low, high = ordered[int(position)], ordered[min(int(position) + 1, len(values) - 1)]
        assert found[f"p{share}"] == low + (position - int(position)) * (high - low), share
    assert (found["min"], found["max"]) == (ordered[0], ordered[-1])
    assert found["none"] == np.mean(values <= 0)


def test_stretches_and_the_whole_of_them_are_told_as_each_would_be_alone() -> None:
    shapes = [
        np.zeros(300),
        LONG[:150],
        HARD_TO_COUNT["two in turn"],
        np.zeros(0),
        HARD_TO_COUNT["some next to nothing"],
    ]
    whole = np.concatenate(shapes)
    edges_ = np.cumsum([0, *(len(shape) for shape in shapes)])
    zeros = np.zeros_like(whole)
    told, counted = np.array([0, 1, -1, 0, -1]), np.array([True, True, True, False, False])
    room, bins = np.empty(len(whole)), np.empty(len(whole), np.int32)
    figures, counts, ends = statistics(np.stack([whole, zeros]), told, counted, edges_, room, bins)
    begins = np.concatenate([[0], ends.ravel()[:-1]]).reshape(ends.shape)
    for quantity, values in enumerate([whole, zeros, zeros, whole, zeros]):
        for stretch, alone in enumerate([*np.split(values, edges_[1:-1]), values]):
            assert figures[quantity, stretch] == pytest.approx(sample_statistics(alone), rel=1e-13, nan_ok=True)
            here = counts[begins[quantity, stretch] : ends[quantity, stretch]]
            assert Histogram(here) == (Histogram.of(alone) if counted[quantity] else Histogram(counts[:0]))


def test_statistics_of_little_or_nothing() -> None:
    assert np.isnan(sample_statistics(np.array([]))).all()
    one = dict(zip(STATISTICS, sample_statistics(np.array([2.0])), strict=True))
    assert (one["mean"], one["p90"], one["none"]) == (2.0, 2.0, 0.0)
    assert np.isnan(one["sd"])


def test_interval_by_hand() -> None:
    """Mean 2, sd 1, n 3: t(2, 0.975) = 4.3027, so the half-width is 4.3027 / √3."""
    found = estimate(np.array([1.0, 2.0, 3.0, np.nan]), 0.95)
    assert (found.mean, found.n) == (2.0, 3)
    assert found.half_width == pytest.approx(4.30265 / 3**0.5, rel=1e-5)


def test_one_value_has_no_interval() -> None:
    values = np.array([1.0])
    found = estimate(values, 0.95)
    assert (found.mean, found.half_width, found.n) == (1.0, None, 1)
    assert cautious_p_value(values) is None


@pytest.mark.parametrize(
    ("address", "shift", "verdict"),
    [
        ("type/all/wait/mean", -1.0, Verdict.BETTER),
        ("type/all/wait/mean", 1.0, Verdict.WORSE),
        ("type/all/wait/none", 1.0, Verdict.BETTER),
        ("type/all/completed", 1.0, Verdict.BETTER),
        ("cost/total/per:day", 1.0, Verdict.WORSE),
        ("team/clerks/utilisation", 1.0, Verdict.HIGHER),
        ("team/clerks/utilisation", -1.0, Verdict.LOWER),
        ("type/all/wait/mean", 0.0, Verdict.SAME),
    ],
)
def test_verdicts(address: str, shift: float, verdict: Verdict) -> None:
    first = np.array([3.0, 5.0, 4.0, 6.0])
    assert compare(address, [(first, first + shift)], 0.95)[0].verdict is verdict


def test_a_difference_within_luck_is_not_claimed() -> None:
    first, other = np.array([3.0, 5.0, 4.0, 6.0]), np.array([4.0, 4.0, 5.0, 5.5])
    assert compare("type/all/wait/mean", [(first, other)], 0.95)[0].verdict is Verdict.UNCLEAR
    assert compare("type/all/wait/mean", [(first[:1], other[:1])], 0.95)[0].verdict is Verdict.UNCLEAR


def test_pairing_sees_what_separate_intervals_hide() -> None:
    first = np.array([10.0, 30.0, 50.0, 70.0])
    [found] = compare("type/all/wait/mean", [(first, first - np.array([1.0, 1.1, 0.9, 1.0]))], 0.95)
    assert found.verdict is Verdict.BETTER
    assert found.p is not None
    assert found.p < 0.001


def test_histograms_add_up_whatever_their_ranges() -> None:
    luck = np.random.default_rng(1)
    near, far = luck.exponential(0.2, 1000), luck.exponential(300, 1000)
    both = Histogram.of(near) + Histogram.of(far)
    assert both == Histogram.of(np.concatenate([near, far]))
    assert both.total == 2000
    assert Histogram.of(np.array([])) + both == both


def test_bins_hold_what_is_above_their_lower_edge_up_to_their_upper() -> None:
    values = np.concatenate(
        [[0.0, 1 / 64, 2.0, 4.0, 4.0 + 1e-9, 60.0], np.random.default_rng(1).exponential(300, 2000)]
    )
    bins = np.array([len(Histogram.of(values[[row]]).counts) - 1 for row in range(len(values))])
    ends = edges(int(bins.max()) + 1)
    assert np.all(values <= ends[bins + 1])
    assert np.all((values > ends[bins]) | (values == 0))
    assert np.all(np.diff(ends) <= np.maximum(ends[1:] / PER_OCTAVE, 1 / 64))


def test_bars_hold_all_that_is_in_their_bins() -> None:
    values = np.random.default_rng(2).exponential(20, 5000)
    bars = Histogram.of(values).in_bars(2.0, 20)
    assert bars.tolist() == np.histogram(values, np.arange(0, 41, 2.0))[0].tolist()


def test_differences_name_the_element() -> None:
    steps = [serve("desk", "2 min", "clerks", {"out": 1}), exit_step()]
    before = study(steps, {"clerks": 3}, exponential(1))
    after = study([serve("desk", "3 min", "clerks", {"out": 1}), exit_step()], {"clerks": 4, "more": 1}, exponential(1))
    found = {change.where: (change.name, change.before, change.after) for change in differences(before, after)}
    assert found == {
        "steps/desk/work": ("Desk", "2 min", "3 min"),
        "teams/clerks/size": ("Clerks", "3", "4"),
        "teams/more": ("More", None, "More"),
    }
    assert differences(before, before) == []
