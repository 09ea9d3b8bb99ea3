"""Percentiles of all cases together, shares within any time, and intervals of skewed figures."""

import numpy as np
import pytest

from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.run import Results
from flowcore.results.statistics import STATISTICS, cautious_estimate, cautious_p_value, estimate, sample_statistics
from flowcore.simulate import simulate
from tests.flowcore.builders import row
from tests.flowcore.days import cases_at, day, desk, figures, team

Waits = list[np.ndarray]


def run_of(waits: Waits, confidence: float = 0.95) -> Results:
    """Return a run with the given waits at a desk, an array a replication."""
    return Results(
        [
            Replication(
                number,
                row(
                    {
                        f"step/desk/wait/{name}": float(value)
                        for name, value in zip(STATISTICS, sample_statistics(of_one), strict=True)
                    }
                ),
                {"step/desk/wait": Histogram.of(of_one)},
            )
            for number, of_one in enumerate(waits)
        ],
        confidence,
    )


def uneven_days(count: int, seed: int = 1) -> Waits:
    """Return days of which the busier have more cases and longer waits, and a third of all waits is none."""
    luck = np.random.default_rng(seed)
    sizes = luck.integers(20, 200, count)
    return [luck.exponential(size / 10, size) * (luck.random(size) > 1 / 3) for size in sizes]


def test_percentiles_are_those_of_all_cases_together() -> None:
    waits = uneven_days(30)
    found = run_of(waits)
    everyone = np.concatenate(waits)
    for percentile in (25, 50, 75, 90, 95, 99):
        width = 2 * everyone.max() / 256
        exact = np.percentile(everyone, percentile)
        assert found.figure(f"step/desk/wait/p{percentile}").mean == pytest.approx(exact, abs=width)
    assert found.figure("step/desk/wait/p25").mean == 0
    of_each = [np.percentile(each, 90) for each in waits]
    assert found.figure("step/desk/wait/p90:each").mean == pytest.approx(np.mean(of_each))
    assert np.mean(of_each) < np.percentile(everyone, 90) - 2


def test_what_happens_on_few_days_has_percentiles_too() -> None:
    """On four of six days nobody waits here at all; the others' bins are as wide as theirs, and wider."""
    waits = [np.array([]), np.array([30.0, 40.0]), np.array([]), np.array([]), np.array([50.0]), np.array([])]
    found = run_of(waits).figure("step/desk/wait/p50")
    assert (found.n, found.mean) == (2, pytest.approx(40.0, abs=1))


def test_days_that_are_all_alike_have_percentiles_without_spread() -> None:
    """Of twenty waits five are 47 minutes, and so is the 90th percentile of all, to a tenth of a bin."""
    found = run_of([np.array([0.0, 12.0, 30.0, 47.0])] * 5).figure("step/desk/wait/p90")
    assert found.mean == pytest.approx(47, abs=0.05)
    assert (found.low, found.high) == (found.mean, found.mean)


def test_one_replication_has_its_own_percentile_and_a_day_without_cases_none() -> None:
    own = np.array([1.0, 2.0, 4.0])
    found = run_of([own, np.array([])]).figure("step/desk/wait/p50")
    assert (found.mean, found.low, found.n) == (2.0, None, 1)


def test_a_wait_of_none_in_all_replications() -> None:
    found = run_of([np.zeros(5), np.zeros(7)]).figure("step/desk/wait/p90")
    assert (found.mean, found.low, found.high) == (0, 0, 0)


def test_intervals_of_pooled_percentiles_hold_as_often_as_they_say() -> None:
    truth = {p: np.percentile(np.concatenate(uneven_days(40_000, 7)), p) for p in (50, 90)}
    runs = [run_of(uneven_days(20, seed)) for seed in range(100, 400)]
    for percentile, value in truth.items():
        found = [run.figure(f"step/desk/wait/p{percentile}") for run in runs]
        held = np.mean([(each.low or 0) <= value <= (each.high or 0) for each in found])
        assert 0.92 <= held <= 0.98


def test_any_share_within_a_time_is_read_from_the_bins() -> None:
    waits = uneven_days(10)
    found = run_of(waits)
    everyone = np.concatenate(waits)
    bin_ = found.bin_of("step/desk/wait/within:7.1min")
    assert bin_ is not None
    for limit, address in ((0, "0min"), (7.1, "7.1min"), (7.1, "426s"), (10_000, "10000min")):
        shares = [np.mean(each <= limit) for each in waits]
        most = max(np.mean(abs(each - limit) < bin_) for each in waits) if limit else 0
        got = found.contributions(f"step/desk/wait/within:{address}")
        assert np.abs(got - shares).max() <= most
    assert found.figure("step/desk/wait/within:10000min").mean == 1
    assert not found.has("step/desk/wait/within:soon")
    assert not found.has("step/nowhere/wait/within:7min")
    assert everyone.min() == 0


def test_a_share_within_whole_bins_is_exact() -> None:
    found = run_of([np.array([0.0, 3.0, 8.0, 8.0, 8.5, 47.0]), np.array([8.0, 9.0])])
    assert found.contributions("step/desk/wait/within:8min").tolist() == pytest.approx([4 / 6, 1 / 2])
    assert found.contributions("step/desk/wait/within:0min").tolist() == pytest.approx([1 / 6, 0])
    assert found.bin_of("step/desk/wait/within:8min") is None
    assert found.bin_of("step/desk/wait/within:8.1min") == 0.125


def test_a_share_that_was_asked_for_is_exact() -> None:
    targets = [{"figure": "step/desk/wait/within:3min", "at_least": 0.5}]
    study = day([cases_at([0, 0, 0])], [desk("3 min")], [team()], targets=targets)
    assert figures(study)["step/desk/wait/within:3min"] == pytest.approx(2 / 3)
    assert simulate(study).bin_of("step/desk/wait/within:3min") is None


def test_differences_of_percentiles_are_those_of_all_cases_together() -> None:
    first = run_of(uneven_days(30))
    other = run_of([each * 0.8 for each in uneven_days(30)])
    change = other.contributions("step/desk/wait/p90") - first.contributions("step/desk/wait/p90")
    before, after = first.figure("step/desk/wait/p90").mean, other.figure("step/desk/wait/p90").mean
    assert before is not None
    assert after is not None
    assert estimate(change, 0.95).mean == pytest.approx(after - before)
    assert after == pytest.approx(0.8 * before, rel=0.01)


def test_the_interval_of_skewed_values_leans_to_the_long_tail() -> None:
    """Of 1, 1, 1, 5: mean 2, sd 2, skewness 2; 6 √4 is 12, so a is 1/6, and t(3, 0.975) is 3.1824.

    G(t) = 3 (∛(1 + t − 1/6) − 1) is 1.768 at 3.1824 and −6.988 at −3.1824; the mean's error is 1.
    """
    found = estimate(np.array([1.0, 1.0, 1.0, 5.0]), 0.95)
    assert found.low == pytest.approx(2 - 1.7685, abs=1e-3)
    assert found.high == pytest.approx(2 + 6.9880, abs=1e-3)
    assert found.half_width == pytest.approx((1.7685 + 6.9880) / 2, abs=1e-3)


@pytest.mark.parametrize("seed", range(20))
def test_p_values_and_intervals_agree(seed: int) -> None:
    values = np.random.default_rng(seed).exponential(1, 12) - 0.6
    found, p = cautious_estimate(values, 0.95), cautious_p_value(values)
    assert p is not None
    assert found.low is not None
    assert found.high is not None
    assert (found.low <= 0 <= found.high) == (p >= 0.05)


def test_intervals_of_skewed_means_hold_as_often_as_they_say() -> None:
    """Means of 30 lognormal values with a skewness of about 4; Student's interval holds 91 % of them."""
    luck = np.random.default_rng(11)
    runs = luck.lognormal(0, 0.9, (3_000, 30))
    found = [estimate(each, 0.95) for each in runs]
    truth = np.exp(0.9**2 / 2)
    assert np.mean([(each.low or 0) <= truth <= (each.high or 0) for each in found]) > 0.93


def test_values_that_differ_by_rounding_only_do_not_differ() -> None:
    values = np.array([24.0, 24.000000000000028, 23.99999999999998])
    found = estimate(values, 0.95)
    assert (found.sd, found.half_width) == (0, 0)
    assert cautious_p_value(values) == 0
